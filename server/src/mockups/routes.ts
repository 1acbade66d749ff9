import { basename } from 'node:path';
import type { Box } from '@kettle/core/geometry';
import type { Blank } from '@kettle/core/model';
import type { ArtworkRoom } from '../artwork/room.js';
import type { Floor } from '../floor/floor.js';
import { handlers, queued, SENT, sendFile } from '../floor/http/handler.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { MockupRoom } from './room.js';

/** Longest side of a small picture, px. */
const SMALL = 160;

/** Widths a preview of a blank comes in, px. */
const PREVIEW_SIZES = [200, 600, 1000];

/** Blanks, listing pictures, their sets, and the runs that make them. */
export const mockupRoutes = ({
  pictureOutputs,
  pictureSets,
  blanks,
  ownBlanks,
  assets,
  blobs,
}: Pick<Floor, 'blobs'> & Pick<ArtworkRoom, 'assets'> & MockupRoom) =>
  handlers({
    'post /api/picture-runs': async ({ who, body }) => queued(pictureOutputs.runPictures(who, body)),
    'get /api/picture-sets': async ({ who }) => pictureSets.list(who),
    'post /api/picture-sets': async ({ who, body }) => pictureSets.add(who, body),
    'put /api/picture-sets/{id}': async ({ who, id, ifMatch, body }) => pictureSets.change(who, id, ifMatch, body),
    'delete /api/picture-sets/{id}': async ({ who, id }) => pictureSets.remove(who, id),
    'post /api/picture-sets/use': async ({ who, body }) => pictureSets.use(who, body.designIds, body.setId),
    'get /api/pictures/{id}/small': async ({ who, id, response }) => {
      const { sha256 } = await pictureOutputs.picture(who, id);
      return sendFile(response, await assets.rendition(sha256, SMALL), { type: 'image/png', tag: `${sha256}-small` });
    },
    'post /api/designs/{id}/pictures': async ({ who, id, body }) =>
      queued(pictureOutputs.askForPictures(who, id, body)),
    'get /api/designs/{id}/pictures': async ({ who, id }) => pictureOutputs.picturesOf(who, id),
    'get /api/pictures/{id}': async ({ who, id }) => pictureOutputs.judgedPicture(who, id),
    'get /api/pictures/{id}/content': async ({ who, id, query, response }) => {
      const picture = await pictureOutputs.picture(who, id);
      return sendFile(response, await blobs.localPath(picture.sha256), {
        type: picture.mediaType,
        name: picture.filename,
        tag: picture.sha256,
        attachment: !query.view,
      });
    },
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
