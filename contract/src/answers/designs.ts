import type { ClothMeasure, PressMeasure } from '@kettle/core/press';
import type { Finding, FindingCode, Fix, Severity } from '@kettle/core/checks';
import type { InferType } from 'yup';
import * as yup from 'yup';
import { designSchema } from '../design-schema.js';
import { schemaOf, schemaOfMerged } from '../proved.js';
import { boxSchema, maybe, orNull, record, told } from '../told.js';

export const savedDesignSchema = record({
  id: told.id(),
  revision: told.whole(),
  savedAt: told.time(),
  document: designSchema,
});
export type SavedDesign = InferType<typeof savedDesignSchema>;

/** A row of a design's list of revisions. */
export const revisionRowSchema = record({
  revision: told.whole(),
  savedAt: told.time(),
  /** Given by the seller; null for most. */
  name: told.text().nullable(),
});
export type RevisionRow = InferType<typeof revisionRowSchema>;

/** A design taken from a file, with what could not be taken over, in sentences. */
export const designFileSchema = record({ design: savedDesignSchema, told: told.list(told.text()) });
export type DesignFileAnswer = InferType<typeof designFileSchema>;

const fixSchema = schemaOfMerged<Fix>()(
  record({
    kind: told.word<Fix['kind']>(),
    label: told.text(),
    layerId: told.id().optional(),
    hex: told.text().optional(),
    width: told.number().optional(),
    height: told.number().optional(),
    mm: told.number().optional(),
    px: told.number().optional(),
  }),
);

export const findingSchema = schemaOf<Finding>()(
  record({
    code: told.word<FindingCode>(),
    severity: told.word<Severity>(),
    title: told.text(),
    sentence: told.text(),
    layerId: told.id().nullable(),
    where: orNull(boxSchema),
    places: maybe(told.list(boxSchema)),
    swatches: maybe(
      told.list(yup.tuple([told.text(), told.text()]).required() as unknown as yup.Schema<readonly [string, string]>),
    ),
    accepted: told.text().optional(),
    fix: orNull(fixSchema),
    also: maybe(fixSchema),
  }),
);

const places = { count: told.whole(), where: told.list(boxSchema) };
const measures = {
  thin: record({ ...places, thinnestMm: told.number() }),
  gaps: record({ ...places, thinnestMm: told.number() }),
  letters: record({ ...places, lowestMm: told.number() }),
  specks: record(places),
  holes: record(places),
  fade: record({ ...places, widestMm: told.number() }),
  coverage: orNull(record({ ...places, most: told.number(), share: told.number() })),
  gamut: orNull(
    record({
      ...places,
      share: told.number(),
      colours: told.list(record({ hex: told.text(), printed: told.text(), delta: told.number() })),
    }),
  ),
};
schemaOf<PressMeasure>()(record(measures));
const seen = {
  onCloth: told.byKey(
    record({
      lost: told.number(),
      hex: told.text().nullable(),
      contrast: told.number().nullable(),
      where: told.list(boxSchema),
    }),
  ),
  onInk: told.byKey(record({ lost: told.number(), hex: told.text(), under: told.text(), where: boxSchema })),
};
schemaOf<ClothMeasure>()(record(seen));

/** What is measured on a target as it was saved last; null where it has no ink. */
export const targetMeasureSchema = record({
  revision: told.whole(),
  measured: orNull(record({ ...measures, onCloth: maybe(seen.onCloth), onInk: maybe(seen.onInk) })),
});
