import {
  designFileSchema,
  findingSchema,
  revisionRowSchema,
  savedDesignSchema,
  targetMeasureSchema,
} from '../answers/designs.js';
import { designSchema } from '../design-schema.js';
import { revisionNameSchema } from '../requests.js';
import { asked, call, listOf } from './call.js';

/** Designs, their revisions and their files. */
export const DESIGNS_CALLS = {
  'get /api/designs': call({ summary: 'All designs with their newest document', answer: listOf(savedDesignSchema) }),
  'post /api/designs': call({
    keeps: 'rows',
    summary: 'Makes a design',
    body: designSchema,
    status: 201,
    answer: savedDesignSchema,
    problems: [422],
  }),
  'get /api/designs/{id}': call({
    summary: 'The newest document of a design',
    answer: savedDesignSchema,
    problems: [404],
  }),
  'put /api/designs/{id}': call({
    keeps: 'rows',
    summary: 'Saves a design that was opened at the revision in If-Match',
    ifMatch: true,
    body: designSchema,
    answer: savedDesignSchema,
    problems: [404, 412, 422, 428],
  }),
  'delete /api/designs/{id}': call({
    summary: 'Takes a design off the sheet; its revisions are kept',
    problems: [404],
  }),
  'post /api/designs/{id}/restore': call({
    summary: 'Puts a deleted design back on the sheet',
    answer: savedDesignSchema,
    problems: [404],
  }),
  'get /api/designs/{id}/file': call({
    summary:
      'The design as a file: .kettle.zip, or OpenRaster on a target’s canvas or the print field; some layers as PNG or SVG; its scene on a product in layers or as a page',
    query: { as: asked.text(), requirement: asked.id(), layers: asked.text(), cut: asked.text() },
    answer: 'binary',
    problems: [404, 409, 422],
  }),
  'post /api/design-files': call({
    keeps: 'files',
    summary: 'Takes in a design from .kettle.zip or .ora',
    named: true,
    body: 'binary',
    status: 201,
    answer: designFileSchema,
    problems: [413, 415, 422],
  }),
  'get /api/designs/{id}/revisions': call({
    summary: 'Revisions of a design, newest first',
    answer: listOf(revisionRowSchema),
    problems: [404],
  }),
  'get /api/designs/{id}/revisions/{revision}': call({
    summary: 'One revision',
    answer: savedDesignSchema,
    problems: [404],
  }),
  'put /api/designs/{id}/revisions/{revision}/name': call({
    summary: 'Names a revision; an empty name takes it away',
    body: revisionNameSchema,
    problems: [404, 422],
  }),
  'get /api/designs/{id}/revisions/{revision}/miniature': call({
    summary: 'A PNG of the print field as it was',
    query: { size: asked.whole(160) },
    answer: 'binary',
    problems: [404],
  }),
  'get /api/designs/{id}/findings': call({
    summary: 'Findings for one requirement, in one version of the target',
    query: { requirement: asked.id(), version: asked.oneOf('light', 'dark') },
    answer: listOf(findingSchema),
    problems: [404, 422],
  }),
  'get /api/designs/{id}/measure': call({
    summary: 'Ink of a target measured on its printed grid: thin lines, specks, fades, coverage, colours out of gamut',
    query: { requirement: asked.id(), version: asked.oneOf('light', 'dark') },
    answer: targetMeasureSchema,
    problems: [404],
  }),
  'get /api/designs/{id}/miniature': call({
    summary: 'A small PNG of a target, with true transparency',
    query: { requirement: asked.id(), size: asked.whole(160) },
    answer: 'binary',
    problems: [404],
  }),
  'get /api/designs/{id}/strip': call({
    summary: 'Small pictures of all targets side by side, as the job sheet shows them, in one PNG',
    answer: 'binary',
    problems: [404],
  }),
};
