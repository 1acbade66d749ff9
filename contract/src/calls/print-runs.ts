import { printRunAnswerSchema, readInterestSchema } from '../answers/print-runs.js';
import { interestChangeSchema, interestsSchema, printRunSchema, runStateSchema } from '../orders-schema.js';
import { call, listOf } from './call.js';

/** Orders in hand. */
export const PRINT_RUNS_CALLS = {
  'get /api/designs/{id}/print-runs': call({
    summary: 'Orders in hand of a design',
    answer: listOf(printRunAnswerSchema),
    problems: [404],
  }),
  'post /api/designs/{id}/print-runs': call({
    summary: 'Begins to gather orders',
    body: printRunSchema,
    status: 201,
    answer: printRunAnswerSchema,
    problems: [404, 422],
  }),
  'put /api/print-runs/{id}': call({
    summary: 'Changes what can be ordered',
    ifMatch: true,
    body: printRunSchema,
    answer: printRunAnswerSchema,
    problems: [404, 409, 412, 422, 428],
  }),
  'delete /api/print-runs/{id}': call({ summary: 'Takes it away with everybody in it', problems: [404] }),
  'post /api/print-runs/{id}/interests': call({
    summary: 'Adds people who want one',
    about: 'adds people, once for each `form`',
    body: interestsSchema,
    answer: printRunAnswerSchema,
    problems: [404, 409, 422],
  }),
  'post /api/print-runs/{id}/interests/table': call({
    summary: 'Reads a table (CSV or tab-separated) of people who want one; nothing is added',
    about: 'reads a table (CSV, semicolons or tabs; 2 MB): `{interests, wrong}`; nothing is added',
    body: 'binary',
    answer: readInterestSchema,
    problems: [404, 413, 422],
  }),
  'put /api/print-runs/{id}/interests/{interest}': call({
    summary: 'Notes a deposit, or that it was handed over',
    body: interestChangeSchema,
    answer: printRunAnswerSchema,
    problems: [404, 422],
  }),
  'delete /api/print-runs/{id}/interests/{interest}': call({
    summary: 'Takes an entry out while the run is open; afterwards erases its person',
    about: 'takes an entry out, or erases its person once the run is closed',
    answer: printRunAnswerSchema,
    problems: [404],
  }),
  'post /api/print-runs/{id}/erase': call({
    summary: 'Erases names and contacts of everybody in it; the numbers stay',
    answer: printRunAnswerSchema,
    problems: [404],
  }),
  'post /api/print-runs/{id}/link': call({
    summary: 'Gives it a public page under a new link',
    answer: printRunAnswerSchema,
    problems: [404],
  }),
  'delete /api/print-runs/{id}/link': call({
    summary: 'Takes the public page away',
    answer: printRunAnswerSchema,
    problems: [404],
  }),
  'post /api/print-runs/{id}/state': call({
    summary: 'Closes, opens, orders or delivers it',
    body: runStateSchema,
    answer: printRunAnswerSchema,
    problems: [404, 409, 422],
  }),
  'get /api/print-runs/{id}/order-sheet': call({
    summary: 'Order sheet with the print files it needs, as a ZIP archive',
    about: 'ZIP: `order-sheet.csv`, `order-sheet.pdf` and the print files it names',
    answer: 'binary',
    problems: [404, 409],
  }),
};
