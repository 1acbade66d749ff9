import { basename } from 'node:path';
import { letteringRequestSchema, ownBlankSchema, type LetteringRequest } from '@kettle/contract';
import {
  INTENTS,
  USUAL_CONVERSION,
  type Blank,
  type Box,
  type ColourConversion,
  type OwnBlankSource,
} from '@kettle/core';
import type { House } from '../house.js';
import { checkedBody, uploadName } from './body.js';
import { ProblemError } from '../safety/problem-error.js';
import { askedId, idOf, SENT, sendFile, wholeNumber, type Handlers } from './handler.js';

/** Widths a preview of a blank comes in, px. */
const PREVIEW_SIZES = [200, 600, 1000];

/** What designs are made with: fonts, graphics and blanks. */
export const libraryRoutes = ({ lettering, graphics, blanks, ownBlanks, profiles, disk }: House): Handlers => ({
  'get /api/fonts': async (who) => lettering.families(who),
  'post /api/fonts': async (who, request) => {
    disk.demandRoom(true);
    return lettering.takeIn(who, request, uploadName(request));
  },
  'delete /api/fonts/{id}': async (who, request) => lettering.remove(who, idOf(request)),
  'get /api/fonts/{id}/files/{file}': async (who, request, response) => {
    const index = wholeNumber(request.params['file'], 0);
    return sendFile(response, await lettering.path(who, idOf(request), index), {
      type: 'font/woff2',
      tag: `${idOf(request)}-${index}`,
    });
  },
  'get /api/profiles': async (who) => profiles.list(who),
  'post /api/profiles': async (who, request) => {
    disk.demandRoom(true);
    return profiles.takeIn(who, request, uploadName(request));
  },
  'delete /api/profiles/{id}': async (who, request) => profiles.remove(who, idOf(request)),
  'get /api/proof': async (who, request, response) => {
    const { profile, intent, blackPoint, paper } = request.query;
    const conversion: ColourConversion = {
      profile: askedId(profile),
      intent: INTENTS.find((one) => one === intent) ?? USUAL_CONVERSION.intent,
      blackPoint: blackPoint !== 'false',
    };
    const { path, tag } = await profiles.proof(who, conversion, paper === 'true');
    return sendFile(response, path, { type: 'application/octet-stream', encoding: 'gzip', tag });
  },
  'get /api/graphics': async () => graphics.all(),
  'post /api/lettering': async (who, request) =>
    lettering.set(who, checkedBody<LetteringRequest>(letteringRequestSchema, request)),

  'get /api/blanks': async (who) => blanks.of(who),
  'post /api/blanks': async (who, request) => {
    disk.demandRoom(true);
    return ownBlanks.make(who, checkedBody<OwnBlankSource>(ownBlankSchema, request), null);
  },
  'post /api/blanks/import': async (who, request) => {
    disk.demandRoom(true);
    return ownBlanks.import(who, request);
  },
  'put /api/blanks/{id}': async (who, request) => {
    disk.demandRoom(true);
    return ownBlanks.make(who, checkedBody<OwnBlankSource>(ownBlankSchema, request), idOf(request));
  },
  'delete /api/blanks/{id}': async (who, request) => blanks.remove(who, idOf(request)),
  'post /api/blanks/{id}/restore': async (who, request) => blanks.restore(who, idOf(request)),
  'get /api/blanks/{id}/source': async (who, request) => blanks.source(who, idOf(request)),
  'get /api/blanks/{id}/pack': async (who, request, response) => {
    const { filename, content } = await ownBlanks.export(who, idOf(request));
    response.attachment(filename).type('application/zip').send(content);
    return SENT;
  },
  'get /api/blanks/{id}/frames': async (who, request, response) => {
    const { path, tag } = await blanks.halfFrames(who, idOf(request));
    return sendFile(response, path, { type: 'application/zip', tag });
  },
  'get /api/blanks/{id}/files/{file}': async (who, request, response) => {
    const file = request.params['file'];
    const { hash } = await blanks.pack(who, idOf(request));
    return sendFile(response, await blanks.file(who, idOf(request), file), {
      type: 'image/webp',
      tag: `${hash.slice(0, 16)}-${file}`,
    });
  },
  'get /api/blanks/{id}/thumbnail': async (who, request, response) => {
    const path = await blanks.thumbnail(who, idOf(request));
    return sendFile(response, path, { type: 'image/webp', tag: basename(path) });
  },
  'get /api/blanks/{id}/preview': async (who, request, response) => {
    const wanted = wholeNumber(request.query['size'], 1000);
    const size = PREVIEW_SIZES.find((one) => one >= wanted) ?? PREVIEW_SIZES.at(-1)!;
    const blank = await blanks.get(who, idOf(request));
    const areaId = askedId(request.query['area']) ?? blank.areas[0].id;
    const crop = askedCrop(request.query['crop'], blank);
    const { path, tag } = await blanks.preview(who, blank.id, {
      areaId,
      crop,
      size,
      alone: request.query['alone'] !== undefined,
    });
    return sendFile(response, path, { type: 'application/octet-stream', encoding: 'gzip', tag });
  },
  'get /api/blanks/{id}/areas/{area}/grid': async (who, request) =>
    blanks.grid(who, idOf(request), request.params['area']),
});

/** A part of a blank's picture: left, top, width and height in its pixels, all even. */
function askedCrop(value: unknown, { width, height }: Blank): Box | null {
  if (value === undefined) return null;
  const numbers = typeof value === 'string' && /^\d{1,5}(,\d{1,5}){3}$/.test(value) ? value.split(',').map(Number) : [];
  const [x, y, w, h] = numbers;
  if (!numbers.length || numbers.some((one) => one % 2) || w < 2 || h < 2 || x + w > width || y + h > height)
    throw new ProblemError(
      422,
      'bad-crop',
      'A crop is left, top, width and height in even pixels, inside the picture.',
    );
  return { x, y, width: w, height: h };
}
