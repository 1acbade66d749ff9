import { INTENTS } from '@kettle/core/model';
import { fontFamilySchema, graphicSchema, letteringAnswerSchema, pressProfileSchema } from '../answers/library.js';
import { letteringRequestSchema } from '../requests.js';
import { asked, call, listOf } from './call.js';

/** What designs are made with: fonts, graphics and colour profiles. */
export const LIBRARY_CALLS = {
  'get /api/fonts': call({
    summary: 'Fonts that lettering can be set in',
    about: 'families with their weights, the seller’s own first',
    answer: listOf(fontFamilySchema),
  }),
  'post /api/fonts': call({
    keeps: 'files',
    summary: 'Takes in a font: TTF, OTF, WOFF or WOFF2',
    about: 'takes in TTF, OTF, WOFF or WOFF2 after reading it whole',
    named: true,
    body: 'binary',
    status: 201,
    answer: fontFamilySchema,
    problems: [413, 415, 422],
  }),
  'delete /api/fonts/{id}': call({
    summary:
      'Takes an own font off the list, or with `of=family` all faces of its family; designs that use them keep them',
    query: { of: asked.oneOf('face', 'family') },
    problems: [404],
  }),
  'get /api/fonts/{id}/files/{file}': call({
    summary: 'A file of a face, by its number',
    about: 'files of a face in the order they are asked for letters',
    answer: 'binary',
    problems: [404],
  }),
  'get /api/profiles': call({
    summary: 'The seller’s own colour profiles of presses',
    answer: listOf(pressProfileSchema),
  }),
  'post /api/profiles': call({
    keeps: 'files',
    summary: 'Takes in an ICC profile of a CMYK press',
    about: 'an ICC profile of a CMYK press, tried before it is taken; the id is its SHA-256',
    named: true,
    body: 'binary',
    status: 201,
    answer: pressProfileSchema,
    problems: [413, 422],
  }),
  'delete /api/profiles/{id}': call({
    summary: 'Takes a profile off the list; what was made with it stays',
    problems: [404, 409],
  }),
  'get /api/proof': call({
    summary: 'Tables that show a print: 33³ points of four 16-bit inks, then of sRGB with its distance from the screen',
    query: { profile: asked.id(), intent: asked.oneOf(...INTENTS), blackPoint: asked.text(), paper: asked.text() },
    answer: 'binary',
    problems: [404],
  }),
  'get /api/graphics': call({
    summary: 'The graphics library: outlines with a colour each',
    answer: listOf(graphicSchema),
  }),
  'post /api/lettering': call({
    summary: 'Sets text in a font and answers its outlines',
    about: 'text set as outlines, with letters no file of the face has and families that have them',
    body: letteringRequestSchema,
    answer: letteringAnswerSchema,
    problems: [404, 422],
  }),
};
