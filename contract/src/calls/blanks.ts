import { areaGridSchema, blankAnswerSchema, listedBlankSchema, madeBlankSchema } from '../answers/library.js';
import { ownBlankSchema } from '../own-blank-schema.js';
import { asked, call, listOf } from './call.js';
import { orNull } from '../told.js';

/** Blanks, shipped and the seller’s own. */
export const BLANKS_CALLS = {
  'get /api/blanks': call({
    summary: 'Blanks with their print areas and colourways',
    answer: listOf(listedBlankSchema),
  }),
  'post /api/blanks': call({
    keeps: 'files',
    summary: 'Makes a blank of a photo',
    body: ownBlankSchema,
    status: 201,
    answer: madeBlankSchema,
    problems: [404, 422],
  }),
  'post /api/blanks/import': call({
    keeps: 'files',
    summary: 'Takes in a blank pack, a ZIP archive',
    body: 'binary',
    status: 201,
    answer: blankAnswerSchema,
    problems: [413, 422],
  }),
  'put /api/blanks/{id}': call({
    keeps: 'files',
    summary: 'Makes a blank of one’s own anew; pictures made with it become out of date',
    body: ownBlankSchema,
    answer: madeBlankSchema,
    problems: [404, 409, 422],
  }),
  'delete /api/blanks/{id}': call({ summary: 'Takes a blank of one’s own off the list', problems: [404] }),
  'post /api/blanks/{id}/restore': call({
    summary: 'Puts a blank of one’s own back on the list',
    answer: blankAnswerSchema,
    problems: [404],
  }),
  'get /api/blanks/{id}/source': call({
    summary: 'What a blank of one’s own was made from',
    answer: orNull(ownBlankSchema),
    problems: [404],
  }),
  'get /api/blanks/{id}/pack': call({
    summary: 'A blank with its pictures, as a ZIP archive',
    answer: 'binary',
    problems: [404],
  }),
  'get /api/blanks/{id}/frames': call({
    summary: 'All frames of a moving blank at half its size, as a ZIP archive',
    about: 'all frames of a moving blank at half its size, as a ZIP; 404 for one that stands still',
    answer: 'binary',
    problems: [404],
  }),
  'get /api/blanks/{id}/files/{file}': call({
    summary: 'A picture of a blank pack',
    answer: 'binary',
    problems: [404],
  }),
  'get /api/blanks/{id}/preview': call({
    summary:
      'Maps of a blank or of a part of it at a size, and those of one print area, as one compressed run of bytes',
    query: { area: asked.id(), size: asked.whole(1000), crop: asked.text(), alone: asked.flag() },
    answer: 'binary',
    problems: [404, 422],
  }),
  'get /api/blanks/{id}/areas/{area}/grid': call({
    summary: 'Where a print area is seen on its blank',
    about: 'where a print area is seen: 25 × 25 places in shares of the picture, `null` where it is hidden',
    answer: areaGridSchema,
    problems: [404],
  }),
  'get /api/blanks/{id}/thumbnail': call({
    summary: 'The blank in its first colour on its backdrop',
    answer: 'binary',
    problems: [404],
  }),
};
