import type { DesignDocument } from '@kettle/core/model';
import type { Response } from 'express';
import type { Digest } from '../render/documents/digest.js';
import type { Caller } from '../floor/basics/caller.js';
import { handlers, Ready, SENT, sendFile, wholeNumber, type Asked } from '../floor/http/handler.js';
import type { MadeFile } from './design-files.js';
import type { DesignRoom } from './room.js';

const picture = (response: Response, path: string): typeof SENT =>
  sendFile(response, path, { type: 'image/png', tag: path.slice(-40) });

/** Who writes the scene that a design shows as a file. */
interface Mockups {
  readonly mockupFiles: { of(who: Caller, designId: string, as: 'ora' | 'pdf'): Promise<MadeFile> };
}

/** Designs, their revisions and their files. */
export function designRoutes({ designs, designFiles, mockupFiles, processor }: DesignRoom & Mockups) {
  /**
   * A design's document: as an object, or as it is to be stored when it is large and was read in a process of its own.
   */
  const checkedDesign = async (
    asked: Pick<Asked<'post /api/designs'>, 'body' | 'request'>,
  ): Promise<DesignDocument | Digest> => {
    const bytes: unknown = asked.request.body;
    return Buffer.isBuffer(bytes) ? processor.digest(bytes.toString('utf8')) : asked.body;
  };
  return handlers({
    'get /api/designs': async ({ who }) =>
      new Ready(`[${(await designs.list(who)).map((design) => design.json).join(',')}]`),
    'post /api/designs': async (asked) => designs.add(asked.who, await checkedDesign(asked)),
    'get /api/designs/{id}': async ({ who, id }) => designs.get(who, id),
    'put /api/designs/{id}': async (asked) =>
      designs.save(asked.who, asked.id, asked.ifMatch, await checkedDesign(asked)),
    'post /api/designs/remove': async ({ who, body }) => designs.removeAll(who, body.designIds),
    'post /api/designs/restore': async ({ who, body }) => designs.restoreAll(who, body.designIds),
    'delete /api/designs/{id}': async ({ who, id }) => designs.remove(who, id),
    'post /api/designs/{id}/restore': async ({ who, id }) => designs.restore(who, id),
    'get /api/designs/{id}/file': async ({ who, id, query, response }) => {
      const { as, requirement, layers = '', cut } = query;
      const file =
        as === 'png' || as === 'svg'
          ? await designFiles.part(who, id, {
              layerIds: layers.split(','),
              requirementId: requirement,
              type: as,
              cut: cut === 'ink',
            })
          : as === 'mockup-ora' || as === 'mockup-pdf'
            ? await mockupFiles.of(who, id, as === 'mockup-ora' ? 'ora' : 'pdf')
            : as === 'ora'
              ? await designFiles.openRaster(who, id, requirement)
              : await designFiles.kettle(who, id);
      response.once('close', () => void file.done());
      return sendFile(response, file.path, {
        type: file.type,
        name: file.filename,
        tag: file.path.slice(-16),
        attachment: true,
      });
    },
    'post /api/design-files': async ({ who, request, filename }) => designFiles.takeIn(who, request, filename),
    'get /api/designs/{id}/revisions': async ({ who, id }) => designs.revisions(who, id),
    'get /api/designs/{id}/revisions/{revision}': async ({ who, id, revision }) =>
      designs.revision(who, id, wholeNumber(revision, 0)),
    'put /api/designs/{id}/revisions/{revision}/name': async ({ who, id, revision, body }) =>
      designs.nameRevision(who, id, wholeNumber(revision, 0), body.name),
    'get /api/designs/{id}/revisions/{revision}/miniature': async ({ who, id, revision, query, response }) =>
      picture(response, await designs.revisionMiniature(who, id, wholeNumber(revision, 0), query.size)),
    'get /api/designs/{id}/miniature': async ({ who, id, query, response }) =>
      picture(response, await designs.miniature(who, id, query.requirement, query.size)),
    'get /api/designs/{id}/strip': async ({ who, id, response }) => picture(response, await designs.strip(who, id)),
  });
}
