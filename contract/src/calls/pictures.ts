import { pictureSchema, queuedSchema } from '../answers/making.js';
import { pictureSetAnswerSchema } from '../answers/requirements.js';
import { pictureRunSchema, pictureSetSchema, setOfDesignsSchema } from '../picture-set-schema.js';
import { picturesRequestSchema } from '../requests.js';
import { asked, call, listOf } from './call.js';

/** Listing pictures and sets of them. */
export const PICTURES_CALLS = {
  'post /api/designs/{id}/pictures': call({
    keeps: 'files',
    summary: 'Makes listing pictures, one for each colourway',
    about: 'sizes 600, 1200, 2000; JPEG, PNG or WebP; `fit: {longest?, frame?, maxBytes?, dpi?}`, `filename?`',
    body: picturesRequestSchema,
    status: 202,
    answer: queuedSchema,
    problems: [404, 422],
  }),
  'get /api/designs/{id}/pictures': call({
    summary: 'Pictures of a design, newest first',
    answer: listOf(pictureSchema),
    problems: [404],
  }),
  'post /api/picture-runs': call({
    keeps: 'files',
    summary: 'Makes listing pictures of many designs in one run',
    about: '`of`: what a design’s `set` is missing, its kept `scenes`, or what is `out-of-date`; 409 `nothing-to-make`',
    body: pictureRunSchema,
    status: 202,
    answer: queuedSchema,
    problems: [404, 409, 422, 429, 507],
  }),
  'get /api/picture-sets': call({
    summary: 'Usual rows of listing pictures: those that are shipped, then the seller’s own',
    answer: listOf(pictureSetAnswerSchema),
  }),
  'post /api/picture-sets': call({
    keeps: 'rows',
    summary: 'Keeps a set',
    body: pictureSetSchema,
    status: 201,
    answer: pictureSetAnswerSchema,
    problems: [422],
  }),
  'put /api/picture-sets/{id}': call({
    summary: 'Changes a set of one’s own',
    ifMatch: true,
    body: pictureSetSchema,
    answer: pictureSetAnswerSchema,
    problems: [404, 412, 422, 428],
  }),
  'delete /api/picture-sets/{id}': call({
    summary: 'Takes a set of one’s own away; designs that had it have none',
    problems: [404],
  }),
  'post /api/picture-sets/use': call({
    summary: 'Says which set’s pictures some designs are to have, or none',
    about: 'which set designs are to have, `null` for none',
    body: setOfDesignsSchema,
    problems: [404, 422],
  }),
  'get /api/pictures/{id}': call({ summary: 'A listing picture’s record', answer: pictureSchema, problems: [404] }),
  'get /api/pictures/{id}/small': call({ summary: 'A listing picture, small', answer: 'binary', problems: [404] }),
  'get /api/pictures/{id}/content': call({
    summary: 'A listing picture’s bytes; with `view` to be looked at, not kept',
    query: { view: asked.flag() },
    answer: 'binary',
    problems: [404],
  }),
};
