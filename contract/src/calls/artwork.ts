import { assetSchema, tracedPictureSchema } from '../answers/artwork.js';
import { faceRequestSchema, traceRequestSchema, treatedRequestSchema } from '../requests.js';
import { asked, call } from './call.js';

/** Artwork files. */
export const ARTWORK_CALLS = {
  'post /api/assets': call({
    keeps: 'files',
    summary: 'Takes in an artwork file',
    about:
      'takes in an artwork file, whatever its name says; answers what is known of it, its ink, and what was converted. `X-Filename` is percent-encoded or as it is',
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
    about: 'an SVG’s live text in one of the faces, as a file of its own',
    body: faceRequestSchema,
    status: 201,
    answer: assetSchema,
    problems: [404, 422],
  }),
  'post /api/assets/{id}/treated': call({
    keeps: 'rows',
    summary: 'What is found on a picture once it is treated; nothing is changed',
    about: 'what is found on the picture once it is treated; nothing is changed',
    body: treatedRequestSchema,
    answer: assetSchema,
    problems: [404, 422],
  }),
  'post /api/assets/{id}/trace': call({
    summary: 'A picture redrawn as outlines of a few colours; nothing is changed',
    about:
      'the picture redrawn as outlines `{parts, box, differing}`; 422 with a sentence for photos, noise, and what takes too long',
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
    about:
      'a PNG of 256, 512, 1024 or 2048 px, of the file or of a treated picture by the name it was asked for with; with `light` reduced in linear light',
    query: { size: asked.whole(1024), treated: asked.id(), light: asked.flag() },
    answer: 'binary',
    problems: [404, 422],
  }),
};
