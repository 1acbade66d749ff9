import type { DesignDocument, Finding } from '@kettle/core';
import type { Response } from 'express';
import type { Digest } from '../documents/digest.js';
import type { House } from '../house.js';
import { ProblemError } from '../safety/problem-error.js';
import { handlers, Ready, SENT, sendFile, wholeNumber, type Asked } from './handler.js';

const picture = (response: Response, path: string): typeof SENT =>
  sendFile(response, path, { type: 'image/png', tag: path.slice(-40) });

/** What an answer says of a print that is being measured: no other finding is no good news yet. */
const NOT_MEASURED: Finding = {
  code: 'not-measured',
  severity: 'tells',
  title: 'Not measured yet',
  sentence:
    'What this print can hold is being measured: lines, gaps, letters, specks, fades, ink and colours are not among these findings yet. Ask again in a moment.',
  layerId: null,
  where: null,
  fix: null,
};

/** Designs, their revisions and their files. */
export function designRoutes({ designs, designFiles, mockupFiles, measures, deriver, shopOrders }: House) {
  /**
   * A design's document: as an object, or as it is to be stored when it is large and was read in a process of its own.
   */
  const checkedDesign = async (
    asked: Pick<Asked<'post /api/designs'>, 'body' | 'request'>,
  ): Promise<DesignDocument | Digest> => {
    const bytes: unknown = asked.request.body;
    return Buffer.isBuffer(bytes) ? deriver.digest(bytes.toString('utf8')) : asked.body;
  };
  return handlers({
    'get /api/designs': async ({ who }) =>
      new Ready(`[${(await designs.list(who)).map((design) => design.json).join(',')}]`),
    'post /api/designs': async (asked) => designs.add(asked.who, await checkedDesign(asked)),
    'get /api/designs/{id}': async ({ who, id }) => designs.get(who, id),
    'put /api/designs/{id}': async (asked) =>
      designs.save(asked.who, asked.id, asked.ifMatch, await checkedDesign(asked)),
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
    'get /api/designs/{id}/measure': async (asked) => {
      const { requirement, version = null } = asked.query;
      if (requirement === null)
        throw new ProblemError(422, 'requirement-missing', 'Say which requirement to measure for: ?requirement=….');
      return measures.of(asked.who, asked.id, requirement, version);
    },
    'get /api/designs/{id}/findings': async (asked) => {
      const { requirement, version } = asked.query;
      if (requirement === null)
        throw new ProblemError(422, 'requirement-missing', 'Say which requirement to check against: ?requirement=….');
      const { who, id } = asked;
      const known = await measures.known(who, id, requirement, version ?? null);
      const measured = known === 'nothing' ? null : known;
      return [
        ...(await designs.findings(who, id, requirement, version, measured)),
        ...(known === null ? [NOT_MEASURED] : []),
        // What a print shop has said of it stands beside what is found here.
        ...(await shopOrders.findings(who, id, requirement)),
      ];
    },
    'get /api/designs/{id}/miniature': async ({ who, id, query, response }) =>
      picture(response, await designs.miniature(who, id, query.requirement, query.size)),
    'get /api/designs/{id}/strip': async ({ who, id, response }) => picture(response, await designs.strip(who, id)),
  });
}
