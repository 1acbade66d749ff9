import { pictureRunSchema, pictureSetSchema, setOfDesignsSchema, type PictureRun } from '@kettle/contract';
import type { PictureSetFields } from '@kettle/core';
import type { House } from '../house.js';
import { checkedBody, matchedRevision } from './body.js';
import { idOf, sendFile, type Handlers } from './handler.js';

/** Longest side of a small picture, px. */
const SMALL = 160;

/** Sets of listing pictures, and the runs that make them. */
export const pictureRoutes = ({ outputs, pictureSets, assets, disk }: House): Handlers => ({
  'post /api/picture-runs': async (who, request) => {
    disk.demandRoom(true);
    const job = await outputs.runPictures(who, checkedBody<PictureRun>(pictureRunSchema, request));
    return { jobId: job.id };
  },
  'get /api/picture-sets': async (who) => pictureSets.list(who),
  'post /api/picture-sets': async (who, request) => {
    disk.demandRoom(false);
    return pictureSets.add(who, checkedBody<PictureSetFields>(pictureSetSchema, request));
  },
  'put /api/picture-sets/{id}': async (who, request) =>
    pictureSets.change(
      who,
      idOf(request),
      matchedRevision(request),
      checkedBody<PictureSetFields>(pictureSetSchema, request),
    ),
  'delete /api/picture-sets/{id}': async (who, request) => pictureSets.remove(who, idOf(request)),
  'post /api/picture-sets/use': async (who, request) => {
    const { designIds, setId } = checkedBody<{ designIds: string[]; setId: string | null }>(
      setOfDesignsSchema,
      request,
    );
    await pictureSets.use(who, designIds, setId);
  },
  'get /api/pictures/{id}/small': async (who, request, response) => {
    const { sha256 } = await outputs.picture(who, idOf(request));
    return sendFile(response, await assets.rendition(sha256, SMALL), { type: 'image/png', tag: `${sha256}-small` });
  },
});
