import { CLIP_SIDES } from '@kettle/contract';
import { ProblemError } from '../floor/basics/problem-error.js';
import { handlers, ownId, queued, sendFile } from '../floor/http/handler.js';
import type { ClipRoom } from './room.js';

/** Clips and the music for them. */
export const clipRoutes = ({ clips, clipRequirements, music }: ClipRoom) =>
  handlers({
    'get /api/music': async ({ who }) => music.list(who),
    'post /api/music': async ({ who, request, filename }) => music.takeIn(who, request, filename),
    'get /api/music/{id}': async ({ who, id }) => music.get(who, id),
    'put /api/music/{id}': async ({ who, id, body }) => music.change(who, id, body),
    'delete /api/music/{id}': async ({ who, id }) => music.remove(who, id),
    'get /api/music/{id}/content': async ({ who, id, response }) => {
      const { path, mediaType, tag } = await music.content(who, id);
      return sendFile(response, path, { type: mediaType, tag });
    },
    'get /api/clip-requirements': async ({ who }) => clipRequirements.list(who),
    'post /api/clip-requirements': async ({ who, body }) => clipRequirements.add(who, body),
    'put /api/clip-requirements/{id}': async ({ who, id, ifMatch, body }) =>
      clipRequirements.change(who, id, ifMatch, body),
    'delete /api/clip-requirements/{id}': async ({ who, id }) => clipRequirements.remove(who, id),
    'get /api/clip-makers': async () => clips.makers(),
    'post /api/clip-runs': async ({ who, body }) => queued(clips.run(who, body)),
    'get /api/designs/{id}/clips': async ({ who, id }) => clips.of(who, id),
    'post /api/designs/{id}/clips': async (asked) => {
      const { clip, revision, side, shape = null, file = 'webm' } = asked.query;
      if (!CLIP_SIDES.includes(side))
        throw new ProblemError(422, 'invalid', `A clip’s shorter side is ${CLIP_SIDES.join(' or ')} px.`);
      const { who, id, request } = asked;
      return clips.keep(who, id, { clipId: ownId(clip), revision, side, shape, file }, request);
    },
    'get /api/clips/{id}/content': async ({ who, id, response }) => {
      const { clip, path } = await clips.content(who, id);
      return sendFile(response, path, { type: clip.mediaType, tag: clip.sha256, name: clip.filename });
    },
    'put /api/clips/{id}/cover': async ({ who, id, request }) => clips.keepCover(who, id, request),
    'get /api/clips/{id}/cover': async ({ who, id, response }) => {
      const { clip, path } = await clips.cover(who, id);
      return sendFile(response, path, { type: clip.mediaType, tag: clip.sha256, name: clip.filename });
    },
  });
