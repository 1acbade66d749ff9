import type { House } from '../house.js';
import { handlers, queued, sendFile } from './handler.js';

/** Longest side of a small picture, px. */
const SMALL = 160;

/** Sets of listing pictures, and the runs that make them. */
export const pictureRoutes = ({ outputs, pictureSets, assets }: House) =>
  handlers({
    'post /api/picture-runs': async ({ who, body }) => queued(outputs.runPictures(who, body)),
    'get /api/picture-sets': async ({ who }) => pictureSets.list(who),
    'post /api/picture-sets': async ({ who, body }) => pictureSets.add(who, body),
    'put /api/picture-sets/{id}': async ({ who, id, ifMatch, body }) => pictureSets.change(who, id, ifMatch, body),
    'delete /api/picture-sets/{id}': async ({ who, id }) => pictureSets.remove(who, id),
    'post /api/picture-sets/use': async ({ who, body }) => pictureSets.use(who, body.designIds, body.setId),
    'get /api/pictures/{id}/small': async ({ who, id, response }) => {
      const { sha256 } = await outputs.picture(who, id);
      return sendFile(response, await assets.rendition(sha256, SMALL), { type: 'image/png', tag: `${sha256}-small` });
    },
  });
