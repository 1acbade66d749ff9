import { ENDPOINTS, designSchema, faceRequestSchema, letteringRequestSchema, openApi, picturesRequestSchema, printFilesRequestSchema, requirementSchema, revisionNameSchema, type LetteringRequest, type PicturesRequest } from '@kettle/contract';
import type { DesignDocument, RequirementFields } from '@kettle/core';
import { Router, type Request, type Response } from 'express';
import type { House } from '../house.js';
import { ProblemError } from '../safety/problem-error.js';
import { StoredDesign } from '../stores/stored-design.js';
import { checkedBody, matchedRevision, uploadName } from './body.js';
import { streamEvents } from './events.js';

/** Answer of a handler that has sent a file or a stream itself. */
const SENT = Symbol('sent');

type Handler = (request: Request<Record<string, string>>, response: Response) => Promise<unknown>;

/** What each call does. Keys are the contract's method and path, so that none can be missing or too many. */
function handlers(house: House, { gated }: { gated: boolean }): Record<string, Handler> {
  const { assets, blanks, designs, outputs, requirements, sheet, worker } = house;
  /** True when the disk has room; a sentence otherwise. */
  const roomFor = (large: boolean): true => { house.disk.demandRoom(large); return true; };
  /** A design's document: as an object, or as checked text when it is large. */
  const checkedDesign = async (request: Request): Promise<DesignDocument | string> => {
    if (!Buffer.isBuffer(request.body)) return checkedBody<DesignDocument>(designSchema, request);
    const text = request.body.toString('utf8');
    await house.deriver.check(text);
    return text;
  };
  const id = (request: Request): string => ownId(request.params['id']);
  return {
    'get /api/health': async () => { await house.database.rows('SELECT 1'); return { ok: true }; },
    'get /api/live': async () => ({ ok: true }),
    'get /api/session': async () => ({ gated, notice: house.disk.notice }),
    'get /api/openapi.json': async () => openApi(),
    'get /api/events': async (request, response) => { streamEvents(house.watch, request, response); return SENT; },
    'get /api/sheet': async (request) => sheet.sheet(wholeNumber(request.query['from'], 0), wholeNumber(request.query['count'], 1_000_000)),

    'post /api/assets': async (request) => roomFor(true) && assets.takeIn(request, uploadName(request)),
    'get /api/assets/{id}': async (request) => assets.get(id(request)),
    'post /api/assets/{id}/face': async (request) => roomFor(true) && assets.inFace(id(request), checkedBody<{ family: string }>(faceRequestSchema, request).family),
    'get /api/assets/{id}/content': async (request, response) => {
      const { asset, path } = await assets.content(id(request));
      return sendFile(response, path, { type: CONTENT_TYPES[asset.format] ?? 'application/octet-stream', name: asset.filename, tag: asset.sha256 });
    },
    'get /api/assets/{id}/rendition': async (request, response) => {
      const asset = await assets.get(id(request));
      const size = wholeNumber(request.query['size'], 1024);
      return sendFile(response, await assets.rendition(asset.sha256, size), { type: 'image/png', tag: `${asset.sha256}-${size}` });
    },

    'get /api/requirements': async () => requirements.list(),
    'post /api/requirements': async (request) => roomFor(false) && requirements.add(checkedBody<RequirementFields>(requirementSchema, request)),
    'get /api/requirements/{id}': async (request) => designs.requirement(id(request)),
    'put /api/requirements/{id}': async (request) => {
      const fields = checkedBody<RequirementFields>(requirementSchema, request);
      await designs.requirement(id(request));
      const changed = await requirements.change(id(request), matchedRevision(request), fields);
      if (!changed) throw new ProblemError(412, 'stale-revision', 'This requirement was changed elsewhere in the meantime. Nothing was overwritten; look at the newer one first.');
      return changed;
    },
    'delete /api/requirements/{id}': async (request) => {
      const requirement = await designs.requirement(id(request));
      const users = await designs.namesWith(requirement.id);
      if (users.length) throw new ProblemError(409, 'in-use', `${users.length === 1 ? `“${users[0]}” still has` : `${users.length} designs still have`} this requirement as a target. Take it off there first.`);
      await requirements.remove(requirement.id);
    },

    'get /api/designs': async () => designs.list(),
    'post /api/designs': async (request) => roomFor(false) && designs.add(await checkedDesign(request)),
    'get /api/designs/{id}': async (request) => designs.get(id(request)),
    'put /api/designs/{id}': async (request) => roomFor(false) && designs.save(id(request), matchedRevision(request), await checkedDesign(request)),
    'delete /api/designs/{id}': async (request) => designs.remove(id(request)),
    'post /api/designs/{id}/restore': async (request) => designs.restore(id(request)),
    'get /api/designs/{id}/file': async (request, response) => {
      const requirement = askedId(request.query['requirement']);
      const file = request.query['as'] === 'ora' ? await house.designFiles.openRaster(id(request), requirement) : await house.designFiles.kettle(id(request));
      response.once('close', () => void file.done());
      return sendFile(response, file.path, { type: file.type, name: file.filename, tag: file.path.slice(-16), attachment: true });
    },
    'post /api/design-files': async (request) => roomFor(true) && house.designFiles.takeIn(request, uploadName(request)),
    'get /api/designs/{id}/revisions': async (request) => designs.revisions(id(request)),
    'get /api/designs/{id}/revisions/{revision}': async (request) => designs.revision(id(request), wholeNumber(request.params['revision'], 0)),
    'put /api/designs/{id}/revisions/{revision}/name': async (request) => designs.nameRevision(id(request), wholeNumber(request.params['revision'], 0), checkedBody<{ name: string }>(revisionNameSchema, request).name),
    'get /api/designs/{id}/revisions/{revision}/miniature': async (request, response) => {
      const path = await designs.revisionMiniature(id(request), wholeNumber(request.params['revision'], 0), wholeNumber(request.query['size'], 160));
      return sendFile(response, path, { type: 'image/png', tag: path.slice(-40) });
    },
    'get /api/designs/{id}/findings': async (request) => {
      const requirement = askedId(request.query['requirement']);
      if (requirement === null) throw new ProblemError(422, 'requirement-missing', 'Say which requirement to check against: ?requirement=….');
      return designs.findings(id(request), requirement);
    },
    'get /api/designs/{id}/miniature': async (request, response) => {
      const requirement = askedId(request.query['requirement']);
      const path = await designs.miniature(id(request), requirement, wholeNumber(request.query['size'], 160));
      return sendFile(response, path, { type: 'image/png', tag: path.slice(-40) });
    },

    'post /api/designs/{id}/print-files': async (request) => {
      roomFor(true);
      const { requirementIds, revision } = checkedBody<{ requirementIds: string[]; revision?: number }>(printFilesRequestSchema, request);
      const job = await outputs.askForPrintFiles(id(request), requirementIds, revision);
      worker.nudge();
      return { jobId: job.id };
    },
    'get /api/designs/{id}/print-files': async (request) => outputs.printFilesOf(id(request)),
    'post /api/designs/{id}/pictures': async (request) => {
      roomFor(true);
      const job = await outputs.askForPictures(id(request), checkedBody<PicturesRequest>(picturesRequestSchema, request));
      worker.nudge();
      return { jobId: job.id };
    },
    'get /api/designs/{id}/pictures': async (request) => outputs.picturesOf(id(request)),
    'get /api/jobs/{id}': async (request) => outputs.job(id(request)),
    'delete /api/jobs/{id}': async (request) => outputs.cancel(id(request)),
    'get /api/print-files/{id}': async (request) => outputs.printFile(id(request)),
    'get /api/print-files/{id}/content': async (request, response) => {
      const file = await outputs.printFile(id(request));
      return sendFile(response, await house.blobs.localPath(file.sha256), { type: 'image/png', name: file.filename, tag: file.sha256, attachment: true });
    },
    'get /api/pictures/{id}': async (request) => outputs.judgedPicture(id(request)),
    'get /api/pictures/{id}/content': async (request, response) => {
      const picture = await outputs.picture(id(request));
      return sendFile(response, await house.blobs.localPath(picture.sha256), { type: `image/${picture.format}`, name: picture.filename, tag: picture.sha256, attachment: request.query['view'] === undefined });
    },

    'get /api/fonts': async () => house.lettering.families(),
    'post /api/fonts': async (request) => roomFor(true) && house.lettering.takeIn(request, uploadName(request)),
    'delete /api/fonts/{id}': async (request) => house.lettering.remove(id(request)),
    'get /api/fonts/{id}/files/{file}': async (request, response) => {
      const index = wholeNumber(request.params['file'], 0);
      return sendFile(response, await house.lettering.path(id(request), index), { type: 'font/woff2', tag: `${id(request)}-${index}` });
    },
    'get /api/graphics': async () => house.graphics.all(),
    'post /api/lettering': async (request) => house.lettering.set(checkedBody<LetteringRequest>(letteringRequestSchema, request)),

    'get /api/blanks': async () => blanks.all,
    'get /api/blanks/{id}/files/{file}': async (request, response) => {
      const file = request.params['file'];
      return sendFile(response, blanks.file(id(request), file), { type: 'image/webp', tag: `${id(request)}-${file}` });
    },
    'get /api/blanks/{id}/thumbnail': async (request, response) => {
      return sendFile(response, await blanks.thumbnail(id(request), house.viewPool, house.cache), { type: 'image/webp', tag: `${id(request)}-thumbnail` });
    },
  };
}

const CONTENT_TYPES: Readonly<Record<string, string>> = { PNG: 'image/png', JPEG: 'image/jpeg', WEBP: 'image/webp', TIFF: 'image/tiff', SVG: 'image/svg+xml', GIF: 'image/gif' };

/** An id as all of ours are. @throws ProblemError 404 for anything else, which no table needs to be asked about */
function ownId(value: unknown): string {
  if (typeof value !== 'string' || !/^[A-Za-z0-9_-]{1,64}$/.test(value)) throw new ProblemError(404, 'no-such-id', 'There is nothing with this id.');
  return value;
}

const askedId = (value: unknown): string | null => (typeof value === 'string' ? ownId(value) : null);

const wholeNumber = (value: unknown, otherwise: number): number => (typeof value === 'string' && /^\d{1,9}$/.test(value) ? Number(value) : otherwise);

/** A file that never changes under its tag. Uploaded content is always a download or a picture, never a page. */
function sendFile(response: Response, path: string, { type, name, tag, attachment }: { type: string; name?: string; tag: string; attachment?: boolean }): typeof SENT {
  if (name) response.attachment(name);
  if (name && !attachment) response.setHeader('Content-Disposition', String(response.getHeader('Content-Disposition')).replace('attachment', 'inline'));
  response.setHeader('Content-Type', type);
  response.setHeader('Content-Security-Policy', "default-src 'none'; style-src 'unsafe-inline'; sandbox");
  response.setHeader('Cache-Control', 'private, max-age=0, must-revalidate');
  response.setHeader('ETag', `"${tag}"`);
  response.sendFile(path, { etag: false, cacheControl: false, lastModified: false, dotfiles: 'allow' }, (error) => { if (error && !response.headersSent) response.status(404).end(); });
  return SENT;
}

/** All calls of the contract, in its order. */
export function apiRoutes(house: House, options: { gated: boolean }): Router {
  const router = Router();
  const table = handlers(house, options);
  for (const endpoint of ENDPOINTS) {
    const handler = table[`${endpoint.method} ${endpoint.path}`];
    if (!handler) throw new Error(`The contract's ${endpoint.method} ${endpoint.path} has no handler.`);
    router[endpoint.method](endpoint.path.replace(/\{(\w+)\}/g, ':$1'), async (request, response) => {
      const answer = await handler(request as Request<Record<string, string>>, response);
      // What sends its answer itself says so; anything else must have one.
      if (answer === SENT) return;
      if (answer === undefined && endpoint.status !== 204) throw new ProblemError(404, 'no-such-id', 'There is nothing with this id.');
      if (answer && typeof answer === 'object' && 'revision' in answer) response.setHeader('ETag', `"${(answer as { revision: number }).revision}"`);
      response.status(endpoint.status);
      if (answer instanceof StoredDesign) { response.type('json').send(answer.json); return; }
      if (endpoint.status === 204) response.end(); else response.json(answer);
    });
  }
  return router;
}
