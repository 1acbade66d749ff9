import type { AnySchema } from 'yup';
import {
  channelRulesSchema,
  clipRequirementSchema,
  clipRunSchema,
  designSchema,
  faceRequestSchema,
  importSchema,
  listingSchema,
  publishSchema,
  namingSchema,
  packageRequestSchema,
  pictureRunSchema,
  pictureSetSchema,
  setOfDesignsSchema,
  runRequestSchema,
  letteringRequestSchema,
  musicChangeSchema,
  ownBlankSchema,
  picturesRequestSchema,
  printFilesRequestSchema,
  proofSheetRequestSchema,
  requirementSchema,
  revisionNameSchema,
  traceRequestSchema,
  treatedRequestSchema,
  responseSchemas as is,
} from './schemas.js';

/** A call of the HTTP interface, as documented and as checked against the running routes. */
export interface Endpoint {
  readonly method: 'get' | 'post' | 'put' | 'delete';
  /** OpenAPI path, e.g. `/api/designs/{id}`. */
  readonly path: string;
  readonly summary: string;
  readonly body?: AnySchema | 'binary';
  readonly query?: readonly string[];
  readonly headers?: readonly string[];
  readonly status: number;
  /** Body of the answer; `list` wraps it in an array. */
  readonly answer?: AnySchema | 'binary' | 'events' | 'json';
  readonly list?: boolean;
  /** Statuses of problem answers. */
  readonly problems: readonly number[];
}

const endpoint = (
  method: Endpoint['method'],
  path: string,
  summary: string,
  rest: Omit<Endpoint, 'method' | 'path' | 'summary'>,
): Endpoint => ({ method, path, summary, ...rest });

export const ENDPOINTS: readonly Endpoint[] = [
  endpoint('get', '/api/health', 'Answers when the database does', { status: 200, answer: 'json', problems: [503] }),
  endpoint('get', '/api/live', 'Answers while the process lives', { status: 200, answer: 'json', problems: [] }),
  endpoint('get', '/api/session', 'Whether this server has a password, and what its keeper should know', {
    status: 200,
    answer: 'json',
    problems: [],
  }),
  endpoint('get', '/api/openapi.json', 'This description', { status: 200, answer: 'json', problems: [] }),
  endpoint('get', '/api/keeper', 'What the keeper ended lately, because nothing named it any more', {
    status: 200,
    answer: 'json',
    problems: [],
  }),
  endpoint('get', '/api/events', 'Progress of jobs as server-sent events', {
    status: 200,
    answer: 'events',
    problems: [],
  }),
  endpoint(
    'get',
    '/api/sheet',
    'Every design against every requirement with its state, a part of the rows, or the rows of some designs',
    { status: 200, query: ['from', 'count', 'designs'], answer: 'json', problems: [503] },
  ),
  endpoint('post', '/api/assets', 'Takes in an artwork file', {
    status: 201,
    body: 'binary',
    headers: ['X-Filename'],
    answer: is.asset,
    problems: [413, 415, 422],
  }),
  endpoint('get', '/api/assets/{id}', 'What is known of an artwork file', {
    status: 200,
    answer: is.asset,
    problems: [404],
  }),
  endpoint('post', '/api/assets/{id}/face', 'An SVG with its live text in one of the faces, as a file of its own', {
    status: 201,
    body: faceRequestSchema,
    answer: is.asset,
    problems: [404, 422],
  }),
  endpoint('post', '/api/assets/{id}/treated', 'What is found on a picture once it is treated; nothing is changed', {
    status: 200,
    body: treatedRequestSchema,
    answer: is.asset,
    problems: [404, 422],
  }),
  endpoint('post', '/api/assets/{id}/trace', 'A picture redrawn as outlines of a few colours; nothing is changed', {
    status: 200,
    body: traceRequestSchema,
    answer: 'json',
    problems: [404, 422],
  }),
  endpoint(
    'get',
    '/api/assets/{id}/working',
    'A picture’s working copy: four 32-bit sizes (its own and the whole picture’s), then straight RGBA',
    { status: 200, answer: 'binary', problems: [404, 422] },
  ),
  endpoint('get', '/api/assets/{id}/content', 'The original bytes', { status: 200, answer: 'binary', problems: [404] }),
  endpoint('get', '/api/assets/{id}/rendition', 'A PNG no larger than asked for', {
    status: 200,
    query: ['size', 'treated', 'light'],
    answer: 'binary',
    problems: [404, 422],
  }),
  endpoint('get', '/api/requirements', 'All requirements', {
    status: 200,
    answer: is.requirement,
    list: true,
    problems: [],
  }),
  endpoint('post', '/api/requirements', 'Makes a requirement', {
    status: 201,
    body: requirementSchema,
    answer: is.requirement,
    problems: [422],
  }),
  endpoint('get', '/api/requirements/export', 'The library, or one channel’s set, as CSV or JSON', {
    status: 200,
    query: ['as', 'channel'],
    answer: 'binary',
    problems: [],
  }),
  endpoint(
    'post',
    '/api/requirements/import',
    'What a CSV or JSON of requirements would change; with `apply` it is taken in, wholly or not at all',
    { status: 200, body: importSchema, answer: 'json', problems: [422] },
  ),
  endpoint('get', '/api/requirements/{id}', 'One requirement', {
    status: 200,
    answer: is.requirement,
    problems: [404],
  }),
  endpoint('put', '/api/requirements/{id}', 'Changes a requirement; files made under it become out of date', {
    status: 200,
    body: requirementSchema,
    headers: ['If-Match'],
    answer: is.requirement,
    problems: [404, 412, 422],
  }),
  endpoint('delete', '/api/requirements/{id}', 'Deletes a requirement that no design uses', {
    status: 204,
    problems: [404, 409],
  }),
  endpoint('get', '/api/designs', 'All designs with their newest document', {
    status: 200,
    answer: is.design,
    list: true,
    problems: [],
  }),
  endpoint('post', '/api/designs', 'Makes a design', {
    status: 201,
    body: designSchema,
    answer: is.design,
    problems: [422],
  }),
  endpoint('get', '/api/designs/{id}', 'The newest document of a design', {
    status: 200,
    answer: is.design,
    problems: [404],
  }),
  endpoint('put', '/api/designs/{id}', 'Saves a design that was opened at the revision in If-Match', {
    status: 200,
    body: designSchema,
    headers: ['If-Match'],
    answer: is.design,
    problems: [404, 412, 422, 428],
  }),
  endpoint('delete', '/api/designs/{id}', 'Takes a design off the sheet; its revisions are kept', {
    status: 204,
    problems: [404],
  }),
  endpoint('post', '/api/designs/{id}/restore', 'Puts a deleted design back on the sheet', {
    status: 200,
    answer: is.design,
    problems: [404],
  }),
  endpoint(
    'get',
    '/api/designs/{id}/file',
    'The whole design as a file: .kettle.zip, or OpenRaster on a target’s canvas or the print field',
    { status: 200, query: ['as', 'requirement'], answer: 'binary', problems: [404, 409] },
  ),
  endpoint('post', '/api/design-files', 'Takes in a design from .kettle.zip or .ora', {
    status: 201,
    body: 'binary',
    headers: ['X-Filename'],
    answer: 'json',
    problems: [413, 415, 422],
  }),
  endpoint('get', '/api/designs/{id}/revisions', 'Revisions of a design, newest first', {
    status: 200,
    answer: 'json',
    problems: [404],
  }),
  endpoint('get', '/api/designs/{id}/revisions/{revision}', 'One revision', {
    status: 200,
    answer: is.design,
    problems: [404],
  }),
  endpoint('put', '/api/designs/{id}/revisions/{revision}/name', 'Names a revision; an empty name takes it away', {
    status: 204,
    body: revisionNameSchema,
    problems: [404, 422],
  }),
  endpoint('get', '/api/designs/{id}/revisions/{revision}/miniature', 'A PNG of the print field as it was', {
    status: 200,
    query: ['size'],
    answer: 'binary',
    problems: [404],
  }),
  endpoint('get', '/api/designs/{id}/findings', 'Findings for one requirement, in one version of the target', {
    status: 200,
    query: ['requirement', 'version'],
    answer: is.finding,
    list: true,
    problems: [404, 422],
  }),
  endpoint(
    'get',
    '/api/designs/{id}/measure',
    'Ink of a target measured on its printed grid: thin lines, specks, fades, coverage, colours out of gamut',
    { status: 200, query: ['requirement', 'version'], answer: 'json', problems: [404] },
  ),
  endpoint('get', '/api/designs/{id}/miniature', 'A small PNG of a target, with true transparency', {
    status: 200,
    query: ['requirement', 'size'],
    answer: 'binary',
    problems: [404],
  }),
  endpoint(
    'get',
    '/api/designs/{id}/strip',
    'Small pictures of all targets side by side, as the job sheet shows them, in one PNG',
    { status: 200, answer: 'binary', problems: [404] },
  ),
  endpoint('post', '/api/designs/{id}/print-files', 'Makes print files', {
    status: 202,
    body: printFilesRequestSchema,
    answer: 'json',
    problems: [404, 409, 422],
  }),
  endpoint('get', '/api/designs/{id}/print-files', 'Print files of a design, newest first', {
    status: 200,
    answer: is.printFile,
    list: true,
    problems: [404],
  }),
  endpoint(
    'post',
    '/api/designs/{id}/proof-sheets',
    'Makes a proof sheet of a target as PDF: at scale, with its measures',
    {
      status: 202,
      body: proofSheetRequestSchema,
      answer: 'json',
      problems: [404, 409, 422],
    },
  ),
  endpoint('get', '/api/outputs/{id}', 'What was made, of any kind', { status: 200, answer: 'json', problems: [404] }),
  endpoint('get', '/api/outputs/{id}/content', 'The bytes of what was made, of any kind', {
    status: 200,
    answer: 'binary',
    problems: [404],
  }),
  endpoint('post', '/api/designs/{id}/pictures', 'Makes listing pictures, one for each colourway', {
    status: 202,
    body: picturesRequestSchema,
    answer: 'json',
    problems: [404, 422],
  }),
  endpoint('get', '/api/designs/{id}/pictures', 'Pictures of a design, newest first', {
    status: 200,
    answer: is.picture,
    list: true,
    problems: [404],
  }),
  endpoint(
    'post',
    '/api/runs',
    'Makes print files of many designs in one run; what cannot be made is told, the rest goes on',
    {
      status: 202,
      body: runRequestSchema,
      answer: 'json',
      problems: [404, 422, 429],
    },
  ),
  endpoint('get', '/api/jobs/{id}/steps', 'Each file of a run: how far it is, and why it failed', {
    status: 200,
    answer: 'json',
    problems: [404],
  }),
  endpoint('post', '/api/jobs/{id}/pause', 'Holds a run: what is in hand is finished, nothing else is begun', {
    status: 200,
    answer: is.job,
    problems: [404],
  }),
  endpoint('post', '/api/jobs/{id}/resume', 'Goes on with a run that was held', {
    status: 200,
    answer: is.job,
    problems: [404],
  }),
  endpoint('get', '/api/naming', 'The pattern that files are named by', { status: 200, answer: 'json', problems: [] }),
  endpoint('put', '/api/naming', 'Sets the pattern that files are named by', {
    status: 200,
    body: namingSchema,
    answer: 'json',
    problems: [422],
  }),
  endpoint('get', '/api/packages', 'What was packed, newest first', { status: 200, answer: 'json', problems: [] }),
  endpoint('post', '/api/packages', 'Packs what is made of some targets, and tells what is missing', {
    status: 201,
    body: packageRequestSchema,
    answer: 'json',
    problems: [404, 409, 422],
  }),
  endpoint('get', '/api/packages/{id}', 'What is in a package', { status: 200, answer: 'json', problems: [404] }),
  endpoint('delete', '/api/packages/{id}', 'Forgets a package; its files stay', { status: 204, problems: [404] }),
  endpoint('get', '/api/packages/{id}/content', 'The package as a ZIP, written while it is read', {
    status: 200,
    answer: 'binary',
    problems: [404],
  }),
  endpoint('get', '/api/jobs/{id}', 'State of a job', { status: 200, answer: is.job, problems: [404] }),
  endpoint('delete', '/api/jobs/{id}', 'Cancels a job; finished steps are kept', {
    status: 200,
    answer: is.job,
    problems: [404],
  }),
  endpoint('get', '/api/print-files/{id}', 'A print file’s certificate', {
    status: 200,
    answer: is.printFile,
    problems: [404],
  }),
  endpoint('get', '/api/print-files/{id}/content', 'A print file’s bytes', {
    status: 200,
    answer: 'binary',
    problems: [404],
  }),
  endpoint('post', '/api/picture-runs', 'Makes listing pictures of many designs in one run', {
    status: 202,
    body: pictureRunSchema,
    answer: 'json',
    problems: [404, 409, 422, 429, 507],
  }),
  endpoint(
    'get',
    '/api/picture-sets',
    'Usual rows of listing pictures: those that are shipped, then the seller’s own',
    {
      status: 200,
      answer: 'json',
      problems: [],
    },
  ),
  endpoint('post', '/api/picture-sets', 'Keeps a set', {
    status: 201,
    body: pictureSetSchema,
    answer: 'json',
    problems: [422],
  }),
  endpoint('put', '/api/picture-sets/{id}', 'Changes a set of one’s own', {
    status: 200,
    body: pictureSetSchema,
    headers: ['If-Match'],
    answer: 'json',
    problems: [404, 412, 422, 428],
  }),
  endpoint('delete', '/api/picture-sets/{id}', 'Takes a set of one’s own away; designs that had it have none', {
    status: 204,
    problems: [404],
  }),
  endpoint('post', '/api/picture-sets/use', 'Says which set’s pictures some designs are to have, or none', {
    status: 204,
    body: setOfDesignsSchema,
    problems: [404, 422],
  }),
  endpoint('get', '/api/pictures/{id}', 'A listing picture’s record', {
    status: 200,
    answer: is.picture,
    problems: [404],
  }),
  endpoint('get', '/api/pictures/{id}/small', 'A listing picture, small', {
    status: 200,
    answer: 'binary',
    problems: [404],
  }),
  endpoint('get', '/api/pictures/{id}/content', 'A listing picture’s bytes', {
    status: 200,
    answer: 'binary',
    problems: [404],
  }),
  endpoint('get', '/api/music', 'Tracks for clips, with their beats and the places where they can be repeated', {
    status: 200,
    answer: 'json',
    problems: [],
  }),
  endpoint('get', '/api/music/{id}', 'A track, also one of one’s own that is off the list', {
    status: 200,
    answer: 'json',
    problems: [404],
  }),
  endpoint('get', '/api/music/{id}/content', 'A track', { status: 200, answer: 'binary', problems: [404] }),
  endpoint('post', '/api/music', 'Takes in a piece of music of one’s own: WAV, FLAC, Ogg or MP3', {
    status: 201,
    body: 'binary',
    headers: ['X-Filename'],
    answer: 'json',
    problems: [413, 422],
  }),
  endpoint('put', '/api/music/{id}', 'Says the title and the beats of a piece of music of one’s own', {
    status: 200,
    body: musicChangeSchema,
    answer: 'json',
    problems: [404, 422],
  }),
  endpoint(
    'delete',
    '/api/music/{id}',
    'Takes a piece of music of one’s own off the list; clips that have it keep it',
    {
      status: 204,
      problems: [404],
    },
  ),
  endpoint('get', '/api/clip-makers', 'Kinds of clips that the server makes by itself', {
    status: 200,
    answer: 'json',
    problems: [],
  }),
  endpoint('post', '/api/clip-runs', 'Makes clips on the server, each in its own shape or in several', {
    status: 202,
    body: clipRunSchema,
    answer: 'json',
    problems: [404, 409, 422, 429, 507],
  }),
  endpoint('get', '/api/designs/{id}/clips', 'Clips of a design that were made, newest first', {
    status: 200,
    answer: is.clip,
    list: true,
    problems: [404],
  }),
  endpoint('post', '/api/designs/{id}/clips', 'Keeps a clip that was made of a revision, and reads it back', {
    status: 201,
    body: 'binary',
    query: ['clip', 'revision', 'side', 'shape', 'file'],
    answer: is.clip,
    problems: [404, 409, 413, 422],
  }),
  endpoint('get', '/api/clips/{id}/content', 'A clip’s bytes', { status: 200, answer: 'binary', problems: [404] }),
  endpoint('put', '/api/clips/{id}/cover', 'Keeps the picture that stands for a clip, a JPEG of its size', {
    status: 204,
    body: 'binary',
    problems: [404, 413, 422],
  }),
  endpoint('get', '/api/clips/{id}/cover', 'The picture that stands for a clip', {
    status: 200,
    answer: 'binary',
    problems: [404],
  }),
  endpoint('get', '/api/clip-requirements', 'What channels demand of clips: shipped and the seller’s own', {
    status: 200,
    answer: 'json',
    problems: [],
  }),
  endpoint('post', '/api/clip-requirements', 'Keeps a requirement for clips', {
    status: 201,
    body: clipRequirementSchema,
    answer: 'json',
    problems: [422],
  }),
  endpoint('put', '/api/clip-requirements/{id}', 'Changes a requirement for clips of one’s own', {
    status: 200,
    body: clipRequirementSchema,
    headers: ['If-Match'],
    answer: 'json',
    problems: [404, 412, 422, 428],
  }),
  endpoint('delete', '/api/clip-requirements/{id}', 'Takes a requirement for clips of one’s own away', {
    status: 204,
    problems: [404],
  }),
  endpoint('get', '/api/channel-rules', 'What channels demand of listings, and what selling there costs', {
    status: 200,
    answer: 'json',
    problems: [],
  }),
  endpoint('post', '/api/channel-rules', 'Keeps rules of a channel', {
    status: 201,
    body: channelRulesSchema,
    answer: 'json',
    problems: [422],
  }),
  endpoint('put', '/api/channel-rules/{id}', 'Changes rules of one’s own', {
    status: 200,
    body: channelRulesSchema,
    headers: ['If-Match'],
    answer: 'json',
    problems: [404, 412, 422, 428],
  }),
  endpoint('delete', '/api/channel-rules/{id}', 'Takes rules of one’s own away', { status: 204, problems: [404] }),
  endpoint('get', '/api/listings', 'Listings of all designs, to begin others from; those saved last come first', {
    status: 200,
    answer: 'json',
    problems: [],
  }),
  endpoint('get', '/api/designs/{id}/listing', 'What a design is sold with, and how it stands on each channel', {
    status: 200,
    answer: 'json',
    problems: [404],
  }),
  endpoint('put', '/api/designs/{id}/listing', 'Saves it; the first time at revision 0', {
    status: 200,
    body: listingSchema,
    headers: ['If-Match'],
    answer: 'json',
    problems: [404, 412, 422, 428],
  }),
  endpoint('post', '/api/designs/{id}/publications', 'Sends its listing to markets', {
    status: 202,
    body: publishSchema,
    answer: 'json',
    problems: [404, 409, 422, 429],
  }),
  endpoint('post', '/api/publications/{id}/take-down', 'Takes a listing down from its market', {
    status: 202,
    answer: 'json',
    problems: [404, 409, 429],
  }),
  endpoint('get', '/api/publications/{id}/calls', 'Every call to the market for it, and every answer, newest first', {
    status: 200,
    answer: 'json',
    problems: [404],
  }),
  endpoint('get', '/api/fonts', 'Fonts that lettering can be set in', { status: 200, answer: 'json', problems: [] }),
  endpoint('post', '/api/fonts', 'Takes in a font: TTF, OTF, WOFF or WOFF2', {
    status: 201,
    body: 'binary',
    headers: ['X-Filename'],
    answer: 'json',
    problems: [413, 415, 422],
  }),
  endpoint('delete', '/api/fonts/{id}', 'Takes an own font off the list; designs that use it keep it', {
    status: 204,
    problems: [404],
  }),
  endpoint('get', '/api/fonts/{id}/files/{file}', 'A file of a face, by its number', {
    status: 200,
    answer: 'binary',
    problems: [404],
  }),
  endpoint('get', '/api/profiles', 'The seller’s own colour profiles of presses', {
    status: 200,
    answer: 'json',
    problems: [],
  }),
  endpoint('post', '/api/profiles', 'Takes in an ICC profile of a CMYK press', {
    status: 201,
    body: 'binary',
    headers: ['X-Filename'],
    answer: 'json',
    problems: [413, 422],
  }),
  endpoint('delete', '/api/profiles/{id}', 'Takes a profile off the list; what was made with it stays', {
    status: 204,
    problems: [404, 409],
  }),
  endpoint(
    'get',
    '/api/proof',
    'Tables that show a print: 33³ points of four 16-bit inks, then of sRGB with its distance from the screen',
    { status: 200, query: ['profile', 'intent', 'blackPoint', 'paper'], answer: 'binary', problems: [404] },
  ),
  endpoint('get', '/api/graphics', 'The graphics library: outlines with a colour each', {
    status: 200,
    answer: is.graphic,
    list: true,
    problems: [],
  }),
  endpoint('post', '/api/lettering', 'Sets text in a font and answers its outlines', {
    status: 200,
    body: letteringRequestSchema,
    answer: 'json',
    problems: [404, 422],
  }),
  endpoint('get', '/api/blanks', 'Blanks with their print areas and colourways', {
    status: 200,
    answer: 'json',
    problems: [],
  }),
  endpoint('post', '/api/blanks', 'Makes a blank of a photo', {
    status: 201,
    body: ownBlankSchema,
    answer: 'json',
    problems: [404, 422],
  }),
  endpoint('post', '/api/blanks/import', 'Takes in a blank pack, a ZIP archive', {
    status: 201,
    body: 'binary',
    answer: 'json',
    problems: [413, 422],
  }),
  endpoint('put', '/api/blanks/{id}', 'Makes a blank of one’s own anew; pictures made with it become out of date', {
    status: 200,
    body: ownBlankSchema,
    answer: 'json',
    problems: [404, 409, 422],
  }),
  endpoint('delete', '/api/blanks/{id}', 'Takes a blank of one’s own off the list', { status: 204, problems: [404] }),
  endpoint('post', '/api/blanks/{id}/restore', 'Puts a blank of one’s own back on the list', {
    status: 200,
    answer: 'json',
    problems: [404],
  }),
  endpoint('get', '/api/blanks/{id}/source', 'What a blank of one’s own was made from', {
    status: 200,
    answer: 'json',
    problems: [404],
  }),
  endpoint('get', '/api/blanks/{id}/pack', 'A blank with its pictures, as a ZIP archive', {
    status: 200,
    answer: 'binary',
    problems: [404],
  }),
  endpoint('get', '/api/blanks/{id}/frames', 'All frames of a moving blank at half its size, as a ZIP archive', {
    status: 200,
    answer: 'binary',
    problems: [404],
  }),
  endpoint('get', '/api/blanks/{id}/files/{file}', 'A picture of a blank pack', {
    status: 200,
    answer: 'binary',
    problems: [404],
  }),
  endpoint(
    'get',
    '/api/blanks/{id}/preview',
    'Maps of a blank or of a part of it at a size, and those of one print area, as one compressed run of bytes',
    { status: 200, query: ['area', 'size', 'crop', 'alone'], answer: 'binary', problems: [404, 422] },
  ),
  endpoint('get', '/api/blanks/{id}/areas/{area}/grid', 'Where a print area is seen on its blank', {
    status: 200,
    answer: 'json',
    problems: [404],
  }),
  endpoint('get', '/api/blanks/{id}/thumbnail', 'The blank in its first colour on its backdrop', {
    status: 200,
    answer: 'binary',
    problems: [404],
  }),
];
