import { CLIP_SHAPES } from '@kettle/core/model';
import { CLIP_FILE_KINDS } from '@kettle/core/clip';
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
    about: 'the seller’s own music, then shipped tracks, with beats and loops',
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
    about: 'takes in WAV, FLAC, Ogg or MP3 of at most 15 minutes',
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
  'get /api/clip-makers': call({
    summary: 'Kinds of clips that the server makes by itself',
    about: 'kinds of files that the server makes by itself, and a sentence where videos are not among them',
    answer: clipMakersSchema,
  }),
  'post /api/clip-runs': call({
    keeps: 'files',
    summary: 'Makes clips on the server, each in its own shape or in several',
    about: 'makes clips on the server, each as it is saved; 409 `no-encoder`',
    body: clipRunSchema,
    status: 202,
    answer: queuedSchema,
    problems: [404, 409, 422, 429, 507],
  }),
  'get /api/designs/{id}/clips': call({
    summary: 'Clips of a design that were made, newest first',
    about: 'clips that were made, newest first, each with its certificate and whether it is out of date',
    answer: listOf(clipFileSchema),
    problems: [404],
  }),
  'post /api/designs/{id}/clips': call({
    keeps: 'files',
    summary: 'Keeps a clip that was made of a revision, and reads it back',
    about:
      'reads the file back: 422 when it is not that clip in every frame, or its sound ends elsewhere; sides 720 and 1080, of a WebP 540',
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
