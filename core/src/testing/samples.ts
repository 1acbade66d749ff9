import type { AssetFacts } from '../model/asset-facts.js';
import { emptyDesign, type DesignDocument, type Layer, type PictureLayer } from '../model/design.js';
import { SAME_SIZE_TOP } from '../model/placement.js';
import type { Requirement } from '../model/requirement.js';

/** Made-up documents for specs. */
export const tee = (change: Partial<Requirement> = {}): Requirement => ({
  id: 'tee',
  revision: 1,
  channel: 'Larkpost Market',
  name: 'Tee, front',
  product: 'T-shirt',
  width: 14,
  height: 16,
  unit: 'in',
  dpi: 300,
  mode: 'rgb',
  transparency: 'required',
  fileTypes: ['png'],
  maxBytes: 50_000_000,
  sizeRule: 'exact',
  safeInsetMm: 10,
  placement: SAME_SIZE_TOP,
  colourways: [
    { name: 'Harbour', hex: '#1F2B4D' },
    { name: 'Chalk', hex: '#F5F3EE' },
    { name: 'Soot', hex: '#1B1B1D' },
  ],
  note: '',
  ...change,
});

export const mug = (): Requirement =>
  tee({
    id: 'mug',
    name: 'Mug wrap',
    product: 'Mug',
    width: 210,
    height: 90,
    unit: 'mm',
    safeInsetMm: 3,
    placement: { ...SAME_SIZE_TOP, rule: 'fit', anchor: 'centre' },
  });

export const layer = (id: string, change: Partial<PictureLayer['place']> = {}): PictureLayer => ({
  kind: 'picture',
  id,
  name: `Layer ${id}`,
  assetId: `asset-${id}`,
  opacity: 1,
  hidden: false,
  place: { x: 177.8, y: 120, width: 200, height: 100, turn: 0, flipX: false, flipY: false, ...change },
});

export const design = (
  layers: readonly Layer[] = [layer('a')],
  change: Partial<DesignDocument> = {},
): DesignDocument => ({ ...emptyDesign('Mostly Drizzle'), layers, targets: [{ requirementId: 'tee' }], ...change });

export const facts = (change: Partial<AssetFacts> = {}): AssetFacts => ({
  width: 4000,
  height: 2000,
  vector: false,
  dpi: 300,
  hasAlpha: true,
  format: 'PNG',
  conversions: [],
  opaque: false,
  flatBorder: null,
  inkBox: { x: 0, y: 0, width: 1, height: 1 },
  inks: [{ hex: '#f2bd4b', share: 1 }],
  ...change,
});
