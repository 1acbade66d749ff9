import {
  CLIP_SIDES,
  clipRequirementSchema,
  clipRunSchema,
  musicChangeSchema,
  type ClipRun,
  type MusicChange,
} from '@kettle/contract';
import { CLIP_FILE_KINDS, CLIP_SHAPES, type ClipRequirementFields } from '@kettle/core';
import type { House } from '../house.js';
import { ProblemError } from '../safety/problem-error.js';
import { checkedBody, matchedRevision, uploadName } from './body.js';
import { idOf, ownId, sendFile, wholeNumber, type Handlers } from './handler.js';

/** Clips and the music for them. */
export const clipRoutes = ({ clips, clipRequirements, music, disk }: House): Handlers => ({
  'get /api/music': async (who) => music.list(who),
  'post /api/music': async (who, request) => {
    disk.demandRoom(true);
    return music.takeIn(who, request, uploadName(request));
  },
  'get /api/music/{id}': async (who, request) => music.get(who, idOf(request)),
  'put /api/music/{id}': async (who, request) =>
    music.change(who, idOf(request), checkedBody<MusicChange>(musicChangeSchema, request)),
  'delete /api/music/{id}': async (who, request) => music.remove(who, idOf(request)),
  'get /api/music/{id}/content': async (who, request, response) => {
    const { path, mediaType, tag } = await music.content(who, idOf(request));
    return sendFile(response, path, { type: mediaType, tag });
  },
  'get /api/clip-requirements': async (who) => clipRequirements.list(who),
  'post /api/clip-requirements': async (who, request) =>
    clipRequirements.add(who, checkedBody<ClipRequirementFields>(clipRequirementSchema, request)),
  'put /api/clip-requirements/{id}': async (who, request) =>
    clipRequirements.change(
      who,
      idOf(request),
      matchedRevision(request),
      checkedBody<ClipRequirementFields>(clipRequirementSchema, request),
    ),
  'delete /api/clip-requirements/{id}': async (who, request) => clipRequirements.remove(who, idOf(request)),
  'get /api/clip-makers': async () => clips.makers(),
  'post /api/clip-runs': async (who, request) => {
    disk.demandRoom(true);
    const job = await clips.run(who, checkedBody<ClipRun>(clipRunSchema, request));
    return { jobId: job.id };
  },
  'get /api/designs/{id}/clips': async (who, request) => clips.of(who, idOf(request)),
  'post /api/designs/{id}/clips': async (who, request) => {
    disk.demandRoom(true);
    const { clip, revision, side, shape, file } = request.query;
    const asked = wholeNumber(side, 0);
    if (!CLIP_SIDES.includes(asked))
      throw new ProblemError(422, 'invalid', `A clip’s shorter side is ${CLIP_SIDES.join(' or ')} px.`);
    return clips.keep(
      who,
      idOf(request),
      {
        clipId: ownId(clip),
        revision: wholeNumber(revision, 0),
        side: asked,
        shape: CLIP_SHAPES.find((one) => one === shape) ?? null,
        file: CLIP_FILE_KINDS.find((one) => one === file) ?? 'webm',
      },
      request,
    );
  },
  'get /api/clips/{id}/content': async (who, request, response) => {
    const { clip, path } = await clips.content(who, idOf(request));
    return sendFile(response, path, { type: clip.mediaType, tag: clip.sha256, name: clip.filename });
  },
  'put /api/clips/{id}/cover': async (who, request) => {
    disk.demandRoom(true);
    return clips.keepCover(who, idOf(request), request);
  },
  'get /api/clips/{id}/cover': async (who, request, response) => {
    const { clip, path } = await clips.cover(who, idOf(request));
    return sendFile(response, path, { type: clip.mediaType, tag: clip.sha256, name: clip.filename });
  },
});
