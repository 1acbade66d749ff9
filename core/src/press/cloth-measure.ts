import type { OnInk } from './on-ink.js';
import type { OnCloth } from './seen-ink.js';

/** Grows whenever a print would be found otherwise than before: what was kept is then measured again. */
export const CLOTH_MEASURE_VERSION = 1;

/** How a print is seen on each colour that it was measured on, by lower-case hex. */
export type OnCloths = Readonly<Record<string, OnCloth>>;

/** How a print is seen. */
export interface ClothMeasure {
  readonly onCloth: OnCloths;
  /** What of drawn layers is lost in the ink below them, by their number among those that are seen, back to front. */
  readonly onInk: Readonly<Record<number, OnInk>>;
}
