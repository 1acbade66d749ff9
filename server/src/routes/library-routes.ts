import { basename } from 'node:path';
import { USUAL_CONVERSION, type Blank, type Box } from '@kettle/core';
import type { House } from '../house.js';
import { ProblemError } from '../safety/problem-error.js';
import { handlers, SENT, sendFile, wholeNumber } from './handler.js';

/** Widths a preview of a blank comes in, px. */
const PREVIEW_SIZES = [200, 600, 1000];

/** What designs are made with: fonts, graphics and blanks. */
export const libraryRoutes = ({ lettering, graphics, blanks, ownBlanks, profiles }: House) =>
  handlers({
    'get /api/fonts': async ({ who }) => lettering.families(who),
    'post /api/fonts': async ({ who, request, filename }) => lettering.takeIn(who, request, filename),
    'delete /api/fonts/{id}': async ({ who, id }) => lettering.remove(who, id),
    'get /api/fonts/{id}/files/{file}': async ({ who, id, file, response }) => {
      const index = wholeNumber(file, 0);
      return sendFile(response, await lettering.path(who, id, index), { type: 'font/woff2', tag: `${id}-${index}` });
    },
    'get /api/profiles': async ({ who }) => profiles.list(who),
    'post /api/profiles': async ({ who, request, filename }) => profiles.takeIn(who, request, filename),
    'delete /api/profiles/{id}': async ({ who, id }) => profiles.remove(who, id),
    'get /api/proof': async ({ who, query, response }) => {
      const { profile, intent = USUAL_CONVERSION.intent, blackPoint, paper } = query;
      const conversion = { profile, intent, blackPoint: blackPoint !== 'false' };
      const { path, tag } = await profiles.proof(who, conversion, paper === 'true');
      return sendFile(response, path, { type: 'application/octet-stream', encoding: 'gzip', tag });
    },
    'get /api/graphics': async () => graphics.all(),
    'post /api/lettering': async ({ who, body }) => lettering.set(who, body),

    'get /api/blanks': async ({ who }) => blanks.of(who),
    'post /api/blanks': async ({ who, body }) => ownBlanks.make(who, body, null),
    'post /api/blanks/import': async ({ who, request }) => ownBlanks.import(who, request),
    'put /api/blanks/{id}': async ({ who, body, id }) => ownBlanks.make(who, body, id),
    'delete /api/blanks/{id}': async ({ who, id }) => blanks.remove(who, id),
    'post /api/blanks/{id}/restore': async ({ who, id }) => blanks.restore(who, id),
    'get /api/blanks/{id}/source': async ({ who, id }) => blanks.source(who, id),
    'get /api/blanks/{id}/pack': async ({ who, id, response }) => {
      const { filename, content } = await ownBlanks.export(who, id);
      response.attachment(filename).type('application/zip').send(content);
      return SENT;
    },
    'get /api/blanks/{id}/frames': async ({ who, id, response }) => {
      const { path, tag } = await blanks.halfFrames(who, id);
      return sendFile(response, path, { type: 'application/zip', tag });
    },
    'get /api/blanks/{id}/files/{file}': async ({ who, id, file, response }) => {
      const { hash } = await blanks.pack(who, id);
      return sendFile(response, await blanks.file(who, id, file), {
        type: 'image/webp',
        tag: `${hash.slice(0, 16)}-${file}`,
      });
    },
    'get /api/blanks/{id}/thumbnail': async ({ who, id, response }) => {
      const path = await blanks.thumbnail(who, id);
      return sendFile(response, path, { type: 'image/webp', tag: basename(path) });
    },
    'get /api/blanks/{id}/preview': async ({ who, id, query, response }) => {
      const size = PREVIEW_SIZES.find((one) => one >= query.size) ?? PREVIEW_SIZES.at(-1)!;
      const blank = await blanks.get(who, id);
      const { path, tag } = await blanks.preview(who, blank.id, {
        areaId: query.area ?? blank.areas[0].id,
        crop: askedCrop(query.crop, blank),
        size,
        alone: query.alone,
      });
      return sendFile(response, path, { type: 'application/octet-stream', encoding: 'gzip', tag });
    },
    'get /api/blanks/{id}/areas/{area}/grid': async ({ who, id, area }) => blanks.grid(who, id, area),
  });

/** A part of a blank's picture: left, top, width and height in its pixels, all even. */
function askedCrop(value: string | undefined, { width, height }: Blank): Box | null {
  if (value === undefined) return null;
  const numbers = /^\d{1,5}(,\d{1,5}){3}$/.test(value) ? value.split(',').map(Number) : [];
  const [x, y, w, h] = numbers;
  if (!numbers.length || numbers.some((one) => one % 2) || w < 2 || h < 2 || x + w > width || y + h > height)
    throw new ProblemError(
      422,
      'bad-crop',
      'A crop is left, top, width and height in even pixels, inside the picture.',
    );
  return { x, y, width: w, height: h };
}
