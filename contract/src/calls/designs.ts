import {
  designFileSchema,
  findingSchema,
  revisionRowSchema,
  savedDesignSchema,
  targetMeasureSchema,
} from '../answers/designs.js';
import { designSchema } from '../design-schema.js';
import { revisionNameSchema, someDesignsSchema } from '../requests.js';
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
  'post /api/designs/remove': call({
    summary: 'Takes several designs off the sheet, all at once',
    about: 'answers those that it took off; 404 when none was on it',
    body: someDesignsSchema,
    answer: someDesignsSchema,
    problems: [404, 422],
  }),
  'post /api/designs/restore': call({
    summary: 'Puts several deleted designs back on the sheet, all at once',
    about: 'answers those that are back; 404 when there is none of them',
    body: someDesignsSchema,
    answer: someDesignsSchema,
    problems: [404, 422],
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
    about:
      '`as=kettle` the whole design as `.kettle.zip`, the same design always the same bytes; `as=png` or `svg` some `layers` alone (outlines alone as SVG: 422 otherwise), on the target’s canvas at its DPI or on the print field at 300, with `cut=ink` as large as their ink; `as=ora` OpenRaster, on a target’s canvas or the print field at 300 DPI; `as=mockup-ora`, `mockup-pdf` the scene it shows, 2000 px, in layers, or as a page on which the print has its true size (409 `no-scene`)',
    query: { as: asked.text(), requirement: asked.id(), layers: asked.text(), cut: asked.text() },
    answer: 'binary',
    problems: [404, 409, 422],
  }),
  'post /api/design-files': call({
    keeps: 'files',
    summary: 'Takes in a design from .kettle.zip or .ora',
    about:
      'takes in a design from .kettle.zip or .ora; `told` says in sentences what was damaged or left out; 413 for bombs, 415, 422 for climbing names and files nothing can be saved of',
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
    about:
      'findings with sentence, place and fix; of the version for `light` or `dark` cloth, or of the one of the garment it is looked at on. Whatever is measured on the print is among them once it is known; until then one of them is `not-measured`',
    query: { requirement: asked.id(), version: asked.oneOf('light', 'dark') },
    answer: listOf(findingSchema),
    problems: [404, 422],
  }),
  'get /api/designs/{id}/measure': call({
    summary: 'Ink of a target measured on its printed grid: thin lines, specks, fades, coverage, colours out of gamut',
    about:
      'lines, gaps, letters, specks, holes, fades, ink and gamut of the saved design on its printed grid, `onCloth`, how it is seen on each colour it is sold in: `{lost, hex, contrast, where}`, and `onInk`, what of drawn layers is lost in the ink below them, by their number among those that are seen: `{lost, hex, under, where}`',
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
