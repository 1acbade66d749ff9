import { faceRequestSchema, traceRequestSchema, treatedRequestSchema } from '@kettle/contract';
import type { Treatment } from '@kettle/core';
import type { House } from '../house.js';
import { drawnFile } from '../services/recipes.js';
import { checkedBody, uploadName } from './body.js';
import { askedId, idOf, sendFile, wholeNumber, type Handlers } from './handler.js';

const CONTENT_TYPES: Readonly<Record<string, string>> = {
  PNG: 'image/png',
  JPEG: 'image/jpeg',
  WEBP: 'image/webp',
  TIFF: 'image/tiff',
  SVG: 'image/svg+xml',
  GIF: 'image/gif',
};

/** Artwork files. */
export const assetRoutes = ({ assets, pictures, disk }: House): Handlers => ({
  'post /api/assets': async (who, request) => {
    disk.demandRoom(true);
    return assets.takeIn(who, request, uploadName(request));
  },
  'get /api/assets/{id}': async (who, request) => assets.get(who, idOf(request)),
  'post /api/assets/{id}/treated': async (who, request) => {
    disk.demandRoom(false);
    const { treatments } = checkedBody<{ treatments: readonly Treatment[] }>(treatedRequestSchema, request);
    return pictures.treat(who, idOf(request), treatments);
  },
  'post /api/assets/{id}/trace': async (who, request) => {
    const { treatments, colours } = checkedBody<{ treatments: readonly Treatment[]; colours: number }>(
      traceRequestSchema,
      request,
    );
    return pictures.trace(who, idOf(request), treatments, colours);
  },
  'get /api/assets/{id}/working': async (who, request, response) => {
    const { path, sha256 } = await pictures.working(who, idOf(request));
    return sendFile(response, path, { type: 'application/octet-stream', tag: sha256.slice(0, 32) });
  },
  'post /api/assets/{id}/face': async (who, request) => {
    disk.demandRoom(true);
    return assets.inFace(who, idOf(request), checkedBody<{ family: string }>(faceRequestSchema, request).family);
  },
  'get /api/assets/{id}/content': async (who, request, response) => {
    const { asset, path } = await assets.content(who, idOf(request));
    return sendFile(response, path, {
      type: CONTENT_TYPES[asset.format] ?? 'application/octet-stream',
      name: asset.filename,
      tag: asset.sha256,
    });
  },
  'get /api/assets/{id}/rendition': async (who, request, response) => {
    const asset = await assets.get(who, idOf(request));
    const size = wholeNumber(request.query['size'], 1024);
    const name = askedId(request.query['treated']);
    const treated = name === null ? undefined : await pictures.treatedNamed(asset.id, name);
    const light = request.query['light'] !== undefined;
    return sendFile(response, await assets.rendition(drawnFile(asset), size, treated, light), {
      type: 'image/png',
      tag: `${drawnFile(asset)}-${name ?? ''}${size}${light ? 'l' : ''}`,
    });
  },
});
