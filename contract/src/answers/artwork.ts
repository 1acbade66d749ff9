import type { AssetFacts } from '@kettle/core/model';
import type { InferType } from 'yup';
import { partSchema } from '../layer-schemas.js';
import { schemaOf } from '../proved.js';
import { boxSchema, maybe, orNull, record, told } from '../told.js';

const facts = {
  width: told.number(),
  height: told.number(),
  vector: told.flag(),
  dpi: told.number().nullable(),
  hasAlpha: told.flag(),
  format: told.text(),
  conversions: told.list(told.text()),
  liveText: maybe(told.list(told.text())),
  outlined: told.sha256().optional(),
  ownFamilies: maybe(told.list(told.text())),
  opaque: told.flag(),
  flatBorder: told.text().nullable(),
  softShare: told.number().optional(),
  inkBox: orNull(boxSchema),
  inks: told.list(record({ hex: told.text(), share: told.number() })),
  eye: maybe(told.list(told.number())),
};
schemaOf<AssetFacts>()(record(facts));

/** An artwork file that is in, with what is known of it. */
export const assetSchema = record({
  ...facts,
  id: told.id(),
  sha256: told.sha256(),
  filename: told.text(),
  bytes: told.whole(),
  /** Colour mode of the original, e.g. `CMYK`. */
  mode: told.text(),
});
export type Asset = InferType<typeof assetSchema>;

/** A picture redrawn as outlines. */
export const tracedPictureSchema = record({
  parts: told.list(partSchema),
  box: record({ width: told.number(), height: told.number() }),
  /** Share of the picture whose colour is another than the original's, 0 to 1. */
  differing: told.number(),
});
export type TracedPicture = InferType<typeof tracedPictureSchema>;
