import { clientPageAnswerSchema } from '../answers/client-pages.js';
import { clientAnswerSchema, clientPageSchema, clientRoundSchema } from '../client-schema.js';
import { call, listOf } from './call.js';

/** Pages for clients, as their seller has them. */
export const CLIENT_PAGES_CALLS = {
  'get /api/designs/{id}/client-pages': call({
    summary: 'Pages on which clients look at a design',
    answer: listOf(clientPageAnswerSchema),
    problems: [404],
  }),
  'post /api/designs/{id}/client-pages': call({
    keeps: 'rows',
    summary: 'Makes a page for a client, under a link of its own',
    about: 'no pictures meaning all current ones',
    body: clientPageSchema,
    status: 201,
    answer: clientPageAnswerSchema,
    problems: [404, 409, 422],
  }),
  'post /api/client-pages/{id}/rounds': call({
    summary: 'Shows the client what the designs are now',
    body: clientRoundSchema,
    answer: clientPageAnswerSchema,
    problems: [404, 409, 422],
  }),
  'post /api/client-pages/{id}/answers': call({
    summary: 'Says something to the client',
    body: clientAnswerSchema,
    answer: clientPageAnswerSchema,
    problems: [404, 422],
  }),
  'post /api/client-pages/{id}/seen': call({
    summary: 'Notes that what the client said was read',
    answer: clientPageAnswerSchema,
    problems: [404],
  }),
  'post /api/client-pages/{id}/withdraw': call({
    summary: 'Closes the page; its record stays',
    answer: clientPageAnswerSchema,
    problems: [404],
  }),
  'get /api/client-pages/{id}/record': call({
    summary: 'What was shown, said and approved, as a PDF',
    about: 'what was shown, said and approved, PDF',
    answer: 'binary',
    problems: [404],
  }),
};
