import type { Colourway, RequirementFields, TargetPlacement } from '@kettle/core';

/** Invented channels with invented but realistic demands. */
const colours = (...names: (keyof typeof PALETTE)[]): Colourway[] => names.map((name) => ({ name, hex: PALETTE[name] }));

const PALETTE = {
  Chalk: '#F5F3EE', Soot: '#1B1B1D', Harbour: '#1F2B4D', Slate: '#59616B', Fog: '#B9BDC0', Straw: '#D9A93B', Brick: '#A5442F', Moss: '#4E5F3A', Teal: '#1F6B6B', Blush: '#E3B5AE', Sky: '#9CC3DB',
  Oat: '#E6DCC6', Flax: '#D8C9A6', Enamel: '#F7F7F4', White: '#FFFFFF',
} as const;

const TOP: TargetPlacement = { rule: 'same-size', anchor: 'top', scale: 1, offsetX: 0, offsetY: 0 };
const FIT: TargetPlacement = { rule: 'fit', anchor: 'centre', scale: 1, offsetX: 0, offsetY: 0 };
const COVER: TargetPlacement = { rule: 'cover', anchor: 'centre', scale: 1, offsetX: 0, offsetY: 0 };

const shirt = colours('Harbour', 'Chalk', 'Soot', 'Straw', 'Brick', 'Moss', 'Teal', 'Blush', 'Sky', 'Slate');

const png = { mode: 'rgb', fileTypes: ['png'], sizeRule: 'exact', note: '' } as const;

export const DEMO_REQUIREMENTS: readonly (RequirementFields & { readonly id: string })[] = [
  { ...png, id: 'larkpost-tee', channel: 'Larkpost Market', name: 'Tee, front', product: 'T-shirt', width: 14, height: 16, unit: 'in', dpi: 300, transparency: 'required', maxBytes: 50_000_000, safeInsetMm: 10, placement: TOP, colourways: shirt, note: 'Chest print. Collar line is the upper edge of the canvas.' },
  { ...png, id: 'larkpost-tote', channel: 'Larkpost Market', name: 'Tote', product: 'Tote bag', width: 10.5, height: 11, unit: 'in', dpi: 300, transparency: 'required', maxBytes: 50_000_000, safeInsetMm: 8, placement: FIT, colourways: colours('Oat', 'Flax', 'Chalk', 'Soot', 'Harbour') },
  { ...png, id: 'larkpost-mug', channel: 'Larkpost Market', name: 'Mug wrap', product: 'Mug', width: 210, height: 90, unit: 'mm', dpi: 300, transparency: 'allowed', maxBytes: 20_000_000, safeInsetMm: 3, placement: FIT, colourways: colours('Enamel', 'Soot', 'Teal', 'Harbour', 'Straw'), note: 'The handle lies behind both ends of the wrap.' },
  { ...png, id: 'quillmere-square', channel: 'Quillmere Shops', name: 'Square print', product: '', width: 3600, height: 3600, unit: 'px', dpi: 300, transparency: 'allowed', maxBytes: 30_000_000, sizeRule: 'at-least', safeInsetMm: 6, placement: FIT, colourways: colours('White', 'Flax', 'Blush', 'Sky') },
  { ...png, id: 'quillmere-sticker', channel: 'Quillmere Shops', name: 'Sticker', product: 'Sticker', width: 80, height: 80, unit: 'mm', dpi: 600, transparency: 'required', maxBytes: 10_000_000, safeInsetMm: 3, placement: FIT, colourways: colours('White') },
  { ...png, id: 'quillmere-poster', channel: 'Quillmere Shops', name: 'Poster 50 × 70', product: 'Print 50 × 70', width: 50, height: 70, unit: 'cm', dpi: 150, transparency: 'forbidden', maxBytes: 60_000_000, safeInsetMm: 8, placement: FIT, colourways: colours('White'), note: 'Flat file. Anything see-through is laid on white.' },
  { ...png, id: 'hobnail-chest', channel: 'Hobnail Direct Print', name: 'DTG chest', product: 'T-shirt', width: 34, height: 44, unit: 'cm', dpi: 300, transparency: 'required', maxBytes: 25_000_000, safeInsetMm: 5, placement: TOP, colourways: shirt, note: 'Direct to garment. White ink is laid under every visible pixel.' },
  { ...png, id: 'hobnail-crest', channel: 'Hobnail Direct Print', name: 'Left chest', product: 'T-shirt', width: 4, height: 4, unit: 'in', dpi: 300, transparency: 'required', maxBytes: 25_000_000, safeInsetMm: 3, placement: FIT, colourways: shirt },
  { ...png, id: 'hobnail-film', channel: 'Hobnail Direct Print', name: 'Screen film', product: 'T-shirt', width: 300, height: 400, unit: 'mm', dpi: 360, mode: 'grey', transparency: 'forbidden', maxBytes: null, safeInsetMm: 5, placement: TOP, colourways: colours('White'), note: 'One film in grey, for a one-colour screen.' },
  { ...png, id: 'hobnail-transfer', channel: 'Hobnail Direct Print', name: 'CMYK transfer', product: 'T-shirt', width: 30, height: 40, unit: 'cm', dpi: 300, mode: 'cmyk', transparency: 'allowed', fileTypes: ['tiff'], maxBytes: 120_000_000, safeInsetMm: 5, placement: TOP, colourways: shirt },
  { ...png, id: 'seamwide-panel', channel: 'Seamwide All-Over', name: 'Panel', product: '', width: 3300, height: 5400, unit: 'px', dpi: 150, transparency: 'allowed', maxBytes: 80_000_000, sizeRule: 'at-least', safeInsetMm: 20, placement: COVER, colourways: colours('White'), note: 'Whole front panel with bleed.' },
  { ...png, id: 'seamwide-cushion', channel: 'Seamwide All-Over', name: 'Cushion face', product: 'Cushion', width: 490, height: 490, unit: 'mm', dpi: 150, transparency: 'allowed', maxBytes: 80_000_000, safeInsetMm: 20, placement: COVER, colourways: colours('White', 'Oat', 'Brick') },
];
