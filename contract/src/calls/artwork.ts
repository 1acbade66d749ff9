import { assetSchema, tracedPictureSchema } from '../answers/artwork.js';
import { faceRequestSchema, traceRequestSchema, treatedRequestSchema } from '../requests.js';
import { asked, call } from './call.js';

/** Artwork files. */
export const ARTWORK_CALLS = {
  'post /api/assets': call({
    keeps: 'files',
    summary: 'Takes in an artwork file',
    named: true,
    body: 'binary',
    status: 201,
    answer: assetSchema,
    problems: [413, 415, 422],
  }),
  'get /api/assets/{id}': call({ summary: 'What is known of an artwork file', answer: assetSchema, problems: [404] }),
  'post /api/assets/{id}/face': call({
    keeps: 'files',
    summary: 'An SVG with its live text in one of the faces, as a file of its own',
    body: faceRequestSchema,
    status: 201,
    answer: assetSchema,
    problems: [404, 422],
  }),
  'post /api/assets/{id}/treated': call({
    keeps: 'rows',
    summary: 'What is found on a picture once it is treated; nothing is changed',
    body: treatedRequestSchema,
    answer: assetSchema,
    problems: [404, 422],
  }),
  'post /api/assets/{id}/trace': call({
    summary: 'A picture redrawn as outlines of a few colours; nothing is changed',
    body: traceRequestSchema,
    answer: tracedPictureSchema,
    problems: [404, 422],
  }),
  'get /api/assets/{id}/working': call({
    summary: 'A picture’s working copy: four 32-bit sizes (its own and the whole picture’s), then straight RGBA',
    answer: 'binary',
    problems: [404, 422],
  }),
  'get /api/assets/{id}/content': call({ summary: 'The original bytes', answer: 'binary', problems: [404] }),
  'get /api/assets/{id}/rendition': call({
    summary: 'A PNG no larger than asked for',
    query: { size: asked.whole(1024), treated: asked.id(), light: asked.flag() },
    answer: 'binary',
    problems: [404, 422],
  }),
};
