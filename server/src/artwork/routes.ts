import { drawnFile } from '../documents/design-processor.js';
import { handlers, sendFile } from '../floor/http/handler.js';
import type { ArtworkRoom } from './room.js';

const CONTENT_TYPES: Readonly<Record<string, string>> = {
  PNG: 'image/png',
  JPEG: 'image/jpeg',
  WEBP: 'image/webp',
  TIFF: 'image/tiff',
  SVG: 'image/svg+xml',
  GIF: 'image/gif',
};

/** Artwork files, and shipped graphics. */
export const artworkRoutes = ({ assets, pictures, graphics }: ArtworkRoom) =>
  handlers({
    'post /api/assets': async ({ who, request, filename }) => assets.takeIn(who, request, filename),
    'get /api/assets/{id}': async ({ who, id }) => assets.get(who, id),
    'post /api/assets/{id}/treated': async ({ who, body, id }) => pictures.treat(who, id, body.treatments),
    'post /api/assets/{id}/trace': async ({ who, body, id }) => pictures.trace(who, id, body.treatments, body.colours),
    'get /api/assets/{id}/working': async ({ who, id, response }) => {
      const { path, sha256 } = await pictures.working(who, id);
      return sendFile(response, path, { type: 'application/octet-stream', tag: sha256.slice(0, 32) });
    },
    'post /api/assets/{id}/face': async ({ who, id, body }) => assets.inFace(who, id, body.family),
    'get /api/assets/{id}/content': async ({ who, id, response }) => {
      const { asset, path } = await assets.content(who, id);
      return sendFile(response, path, {
        type: CONTENT_TYPES[asset.format] ?? 'application/octet-stream',
        name: asset.filename,
        tag: asset.sha256,
      });
    },
    'get /api/assets/{id}/rendition': async ({ who, id, query, response }) => {
      const asset = await assets.get(who, id);
      const { size, treated: name, light } = query;
      const treated = name === null ? undefined : await pictures.treatedNamed(asset.id, name);
      return sendFile(response, await assets.rendition(drawnFile(asset), size, treated, light), {
        type: 'image/png',
        tag: `${drawnFile(asset)}-${name ?? ''}${size}${light ? 'l' : ''}`,
      });
    },
    'get /api/graphics': async () => graphics.all(),
  });
