import { designSchema, revisionNameSchema } from '@kettle/contract';
import type { DesignDocument, Finding } from '@kettle/core';
import type { Response } from 'express';
import type { Digest } from '../documents/digest.js';
import type { House } from '../house.js';
import { ProblemError } from '../safety/problem-error.js';
import { checkedBody, matchedRevision, uploadName } from './body.js';
import { askedId, idOf, SENT, sendFile, wholeNumber, type ApiRequest, type Handlers } from './handler.js';

const revisionOf = (request: ApiRequest): number => wholeNumber(request.params['revision'], 0);
const picture = (response: Response, path: string) =>
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
export function designRoutes({
  designs,
  designFiles,
  mockupFiles,
  measures,
  deriver,
  disk,
  shopOrders,
}: House): Handlers {
  /**
   * A design's document: as an object, or as it is to be stored when it is large and was read in a process of its own.
   */
  const checkedDesign = async (request: ApiRequest): Promise<DesignDocument | Digest> =>
    Buffer.isBuffer(request.body)
      ? deriver.digest(request.body.toString('utf8'))
      : checkedBody<DesignDocument>(designSchema, request);
  return {
    'get /api/designs': async (who, _request, response) => {
      response.type('json').send(`[${(await designs.list(who)).map((design) => design.json).join(',')}]`);
      return SENT;
    },
    'post /api/designs': async (who, request) => {
      disk.demandRoom(false);
      return designs.add(who, await checkedDesign(request));
    },
    'get /api/designs/{id}': async (who, request) => designs.get(who, idOf(request)),
    'put /api/designs/{id}': async (who, request) => {
      disk.demandRoom(false);
      return designs.save(who, idOf(request), matchedRevision(request), await checkedDesign(request));
    },
    'delete /api/designs/{id}': async (who, request) => designs.remove(who, idOf(request)),
    'post /api/designs/{id}/restore': async (who, request) => designs.restore(who, idOf(request)),
    'get /api/designs/{id}/file': async (who, request, response) => {
      const requirement = askedId(request.query['requirement']);
      const as = request.query['as'];
      const file =
        as === 'png' || as === 'svg'
          ? await designFiles.part(who, idOf(request), {
              layerIds: String(request.query['layers'] ?? '').split(','),
              requirementId: requirement,
              type: as,
              cut: request.query['cut'] === 'ink',
            })
          : as === 'mockup-ora' || as === 'mockup-pdf'
            ? await mockupFiles.of(who, idOf(request), as === 'mockup-ora' ? 'ora' : 'pdf')
            : as === 'ora'
              ? await designFiles.openRaster(who, idOf(request), requirement)
              : await designFiles.kettle(who, idOf(request));
      response.once('close', () => void file.done());
      return sendFile(response, file.path, {
        type: file.type,
        name: file.filename,
        tag: file.path.slice(-16),
        attachment: true,
      });
    },
    'post /api/design-files': async (who, request) => {
      disk.demandRoom(true);
      return designFiles.takeIn(who, request, uploadName(request));
    },
    'get /api/designs/{id}/revisions': async (who, request) => designs.revisions(who, idOf(request)),
    'get /api/designs/{id}/revisions/{revision}': async (who, request) =>
      designs.revision(who, idOf(request), revisionOf(request)),
    'put /api/designs/{id}/revisions/{revision}/name': async (who, request) =>
      designs.nameRevision(
        who,
        idOf(request),
        revisionOf(request),
        checkedBody<{ name: string }>(revisionNameSchema, request).name,
      ),
    'get /api/designs/{id}/revisions/{revision}/miniature': async (who, request, response) =>
      picture(
        response,
        await designs.revisionMiniature(
          who,
          idOf(request),
          revisionOf(request),
          wholeNumber(request.query['size'], 160),
        ),
      ),
    'get /api/designs/{id}/measure': async (who, request) => {
      const requirement = askedId(request.query['requirement']);
      if (requirement === null)
        throw new ProblemError(422, 'requirement-missing', 'Say which requirement to measure for: ?requirement=….');
      const version = request.query['version'];
      return measures.of(who, idOf(request), requirement, version === 'light' || version === 'dark' ? version : null);
    },
    'get /api/designs/{id}/findings': async (who, request) => {
      const requirement = askedId(request.query['requirement']);
      if (requirement === null)
        throw new ProblemError(422, 'requirement-missing', 'Say which requirement to check against: ?requirement=….');
      const version = request.query['version'];
      const cloth = version === 'light' || version === 'dark' ? version : undefined;
      const known = await measures.known(who, idOf(request), requirement, cloth ?? null);
      const measured = known === 'nothing' ? null : known;
      return [
        ...(await designs.findings(who, idOf(request), requirement, cloth, measured)),
        ...(known === null ? [NOT_MEASURED] : []),
        // What a print shop has said of it stands beside what is found here.
        ...(await shopOrders.findings(who, idOf(request), requirement)),
      ];
    },
    'get /api/designs/{id}/miniature': async (who, request, response) =>
      picture(
        response,
        await designs.miniature(
          who,
          idOf(request),
          askedId(request.query['requirement']),
          wholeNumber(request.query['size'], 160),
        ),
      ),
    'get /api/designs/{id}/strip': async (who, request, response) =>
      picture(response, await designs.strip(who, idOf(request))),
  };
}
