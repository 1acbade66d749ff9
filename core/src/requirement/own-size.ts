import type { LengthUnit } from '../units/length.js';
import type { RequirementFields } from '../model/requirement.js';

/** Channel under which sizes of the seller's own are kept. */
export const OWN_SIZES = 'Sizes of my own';

/** A canvas as it is typed. */
export interface OwnSize {
  readonly width: number;
  readonly height: number;
  readonly unit: LengthUnit;
  readonly dpi: number;
  /** False for a file without transparency, laid on white. */
  readonly clear: boolean;
}

/** The requirement that a typed canvas is kept as, named by what was typed. All of the design is shown on it. */
export function ownSizeRequirement({ width, height, unit, dpi, clear }: OwnSize): RequirementFields {
  return {
    channel: OWN_SIZES,
    name: `${width} × ${height} ${unit}, ${dpi} DPI${clear ? '' : ', no transparency'}`,
    product: '',
    width,
    height,
    unit,
    dpi,
    mode: 'rgb',
    transparency: clear ? 'required' : 'forbidden',
    fileTypes: ['png'],
    maxBytes: null,
    sizeRule: 'exact',
    safeInsetMm: 0,
    placement: { rule: 'fit', anchor: 'centre', scale: 1, offsetX: 0, offsetY: 0 },
    colourways: [{ name: 'White', hex: '#ffffff' }],
    note: '',
  };
}
