import { CLIP_SHAPES } from '@kettle/core';
import type { House } from '../house.js';
import { ProblemError } from '../safety/problem-error.js';
import { idOf, ownId, sendFile, wholeNumber, type Handlers } from './handler.js';

/** Shorter sides that clips are made at, px. */
const SIDES = [720, 1080];

/** Clips and the music for them. */
export const clipRoutes = ({ clips, disk }: House): Handlers => ({
  'get /api/music': async () => clips.tracks(),
  'get /api/music/{id}/content': async (_who, request, response) => {
    const id = idOf(request);
    return sendFile(response, clips.trackPath(id), { type: 'audio/ogg', tag: id });
  },
  'get /api/designs/{id}/clips': async (who, request) => clips.of(who, idOf(request)),
  'post /api/designs/{id}/clips': async (who, request) => {
    disk.demandRoom(true);
    const { clip, revision, side, shape } = request.query;
    const asked = wholeNumber(side, 0);
    if (!SIDES.includes(asked))
      throw new ProblemError(422, 'invalid', `A clip’s shorter side is ${SIDES.join(' or ')} px.`);
    return clips.keep(
      who,
      idOf(request),
      {
        clipId: ownId(clip),
        revision: wholeNumber(revision, 0),
        side: asked,
        shape: CLIP_SHAPES.find((one) => one === shape) ?? null,
      },
      request,
    );
  },
  'get /api/clips/{id}/content': async (who, request, response) => {
    const { clip, path } = await clips.content(who, idOf(request));
    return sendFile(response, path, { type: clip.mediaType, tag: clip.sha256, name: clip.filename });
  },
});
