import { CLIP_FILE_KINDS, CLIP_SHAPES } from '@kettle/core';
import { trackSchema } from '../answers/library.js';
import { clipFileSchema, clipMakersSchema, queuedSchema } from '../answers/making.js';
import { clipRequirementAnswerSchema } from '../answers/requirements.js';
import { clipRequirementSchema } from '../clip-schema.js';
import { clipRunSchema, musicChangeSchema } from '../requests.js';
import { asked, call, listOf } from './call.js';

/** Clips, the music for them, and what channels demand of clips. */
export const CLIPS_CALLS = {
  'get /api/music': call({
    summary: 'Tracks for clips, with their beats and the places where they can be repeated',
    answer: listOf(trackSchema),
  }),
  'get /api/music/{id}': call({
    summary: 'A track, also one of one’s own that is off the list',
    answer: trackSchema,
    problems: [404],
  }),
  'get /api/music/{id}/content': call({ summary: 'A track', answer: 'binary', problems: [404] }),
  'post /api/music': call({
    keeps: 'files',
    summary: 'Takes in a piece of music of one’s own: WAV, FLAC, Ogg or MP3',
    named: true,
    body: 'binary',
    status: 201,
    answer: trackSchema,
    problems: [413, 422],
  }),
  'put /api/music/{id}': call({
    summary: 'Says the title and the beats of a piece of music of one’s own',
    body: musicChangeSchema,
    answer: trackSchema,
    problems: [404, 422],
  }),
  'delete /api/music/{id}': call({
    summary: 'Takes a piece of music of one’s own off the list; clips that have it keep it',
    problems: [404],
  }),
  'get /api/clip-makers': call({ summary: 'Kinds of clips that the server makes by itself', answer: clipMakersSchema }),
  'post /api/clip-runs': call({
    keeps: 'files',
    summary: 'Makes clips on the server, each in its own shape or in several',
    body: clipRunSchema,
    status: 202,
    answer: queuedSchema,
    problems: [404, 409, 422, 429, 507],
  }),
  'get /api/designs/{id}/clips': call({
    summary: 'Clips of a design that were made, newest first',
    answer: listOf(clipFileSchema),
    problems: [404],
  }),
  'post /api/designs/{id}/clips': call({
    keeps: 'files',
    summary: 'Keeps a clip that was made of a revision, and reads it back',
    query: {
      clip: asked.text(),
      revision: asked.whole(0),
      side: asked.whole(0),
      shape: asked.oneOf(...CLIP_SHAPES),
      file: asked.oneOf(...CLIP_FILE_KINDS),
    },
    body: 'binary',
    status: 201,
    answer: clipFileSchema,
    problems: [404, 409, 413, 422],
  }),
  'get /api/clips/{id}/content': call({ summary: 'A clip’s bytes', answer: 'binary', problems: [404] }),
  'put /api/clips/{id}/cover': call({
    keeps: 'files',
    summary: 'Keeps the picture that stands for a clip, a JPEG of its size',
    body: 'binary',
    problems: [404, 413, 422],
  }),
  'get /api/clips/{id}/cover': call({
    summary: 'The picture that stands for a clip',
    answer: 'binary',
    problems: [404],
  }),
  'get /api/clip-requirements': call({
    summary: 'What channels demand of clips: shipped and the seller’s own',
    answer: listOf(clipRequirementAnswerSchema),
  }),
  'post /api/clip-requirements': call({
    summary: 'Keeps a requirement for clips',
    body: clipRequirementSchema,
    status: 201,
    answer: clipRequirementAnswerSchema,
    problems: [422],
  }),
  'put /api/clip-requirements/{id}': call({
    summary: 'Changes a requirement for clips of one’s own',
    ifMatch: true,
    body: clipRequirementSchema,
    answer: clipRequirementAnswerSchema,
    problems: [404, 412, 422, 428],
  }),
  'delete /api/clip-requirements/{id}': call({
    summary: 'Takes a requirement for clips of one’s own away',
    problems: [404],
  }),
};
