import { flatField } from './flat-field.js';
import type { Pixels } from '../geometry/pixels.js';

type Rgba = readonly [number, number, number, number];
type Paint = (x: number, y: number) => Rgba | null;

const SIDE = 240;
const CLEAR: Rgba = [0, 0, 0, 0];

/** An even, repeatable scatter of −1 to 1. */
const scatter = (x: number, y: number): number => {
  const value = Math.sin(x * 127.1 + y * 311.7) * 43758.5453;
  return 2 * (value - Math.floor(value)) - 1;
};

/** Layers of paint, the last one on top, with noise as compression leaves it. */
function picture(paints: readonly Paint[], noise = 0, width = SIDE, height = SIDE): Pixels {
  const data = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const top = paints.reduce<Rgba>((under, paint) => paint((x + 0.5) / width, (y + 0.5) / height) ?? under, CLEAR);
      const shift = top[3] ? noise * scatter(x, y) : 0;
      data.set([top[0] + shift, top[1] + shift * 0.8, top[2] - shift, top[3]], (y * width + x) * 4);
    }
  return { width, height, data };
}

const all =
  (colour: Rgba): Paint =>
  () =>
    colour;
const rect =
  (left: number, top: number, right: number, bottom: number, colour: Rgba): Paint =>
  (x, y) =>
    x >= left && x < right && y >= top && y < bottom ? colour : null;
const disc =
  (cx: number, cy: number, radius: number, colour: Rgba): Paint =>
  (x, y) =>
    Math.hypot(x - cx, y - cy) <= radius ? colour : null;
const star =
  (cx: number, cy: number, radius: number, points: number, colour: Rgba): Paint =>
  (x, y) => {
    const [dx, dy] = [x - cx, y - cy];
    const wave = 0.7 + 0.3 * Math.cos(points * Math.atan2(dy, dx));
    return Math.hypot(dx, dy) <= radius * wave ? colour : null;
  };
/** Vertical strokes like letters in a row. */
const letters =
  (left: number, top: number, width: number, height: number, count: number, colour: Rgba): Paint =>
  (x, y) => {
    const at = ((x - left) / width) * count;
    return at >= 0 && at < count && y >= top && y < top + height && at % 1 < 0.55 ? colour : null;
  };
const rounded =
  (inset: number, radius: number, colour: Rgba): Paint =>
  (x, y) => {
    const [dx, dy] = [
      Math.max(0, inset + radius - x, x - 1 + inset + radius),
      Math.max(0, inset + radius - y, y - 1 + inset + radius),
    ];
    return x >= inset && x <= 1 - inset && y >= inset && y <= 1 - inset && Math.hypot(dx, dy) <= radius ? colour : null;
  };

const WHITE: Rgba = [255, 255, 255, 255];
const CREAM: Rgba = [244, 234, 212, 255];
const NAVY: Rgba = [31, 43, 77, 255];
const SAGE: Rgba = [122, 150, 138, 255];
const RED: Rgba = [196, 52, 40, 255];
const GOLD: Rgba = [226, 170, 60, 255];
const BLACK: Rgba = [12, 12, 14, 255];

const GROUNDS: readonly (readonly [string, Rgba])[] = [
  ['white', WHITE],
  ['cream', CREAM],
  ['navy', NAVY],
  ['sage', SAGE],
];

/** What a seller would call a box, by name. */
const BOXES: Record<string, { pixels: Pixels; colour: Rgba }> = {};
const box = (name: string, colour: Rgba, paints: readonly Paint[], noise = 0, width = SIDE, height = SIDE): void => {
  BOXES[name] = { pixels: picture(paints, noise, width, height), colour };
};
for (const [name, ground] of GROUNDS) {
  box(`a disc on ${name}`, ground, [all(ground), disc(0.5, 0.5, 0.3, RED)]);
  box(`a disc on ${name} as a JPEG has it`, ground, [all(ground), disc(0.5, 0.5, 0.3, RED)], 5);
  box(`a drawing that runs over one edge on ${name}`, ground, [all(ground), disc(0.5, 0.95, 0.45, GOLD)], 2);
  box(`a drawing that runs over two edges on ${name}`, ground, [all(ground), rect(0.4, 0, 0.6, 1, RED)], 2);
  box(`a star cut close on all four edges on ${name}`, ground, [all(ground), star(0.5, 0.5, 0.55, 4, GOLD)]);
  box(`letters on ${name}`, ground, [all(ground), letters(0.1, 0.35, 0.8, 0.3, 7, BLACK)], 3);
  box(`a box of ${name} in a clear picture`, ground, [rect(0.2, 0.25, 0.8, 0.7, ground), disc(0.5, 0.5, 0.15, RED)]);
}
box('letters that stand out of their box', WHITE, [
  rect(0.2, 0.3, 0.8, 0.7, WHITE),
  letters(0.3, 0.2, 0.4, 0.3, 3, RED),
]);
box('a plume that stands out of its box', CREAM, [rect(0.1, 0.4, 0.9, 0.9, CREAM), disc(0.5, 0.35, 0.15, RED)]);
box('a hill along the whole lower edge', WHITE, [
  all(WHITE),
  (x, y) => (y > 0.82 + 0.05 * Math.sin(x * 6) ? SAGE : null),
]);
box('a large disc cut close', WHITE, [all(WHITE), disc(0.5, 0.5, 0.5, NAVY)]);
box('grass along the lower edge', WHITE, [all(WHITE), letters(0, 0.8, 1, 0.2, 15, SAGE)]);
box('a wide scan of ink', CREAM, [all(CREAM), letters(0.05, 0.2, 0.9, 0.6, 12, BLACK)], 6, 320, 120);
box('art in a corner', WHITE, [all(WHITE), disc(0, 0, 0.4, RED)]);
box('a thin line drawing', WHITE, [
  all(WHITE),
  (x, y) => (Math.abs(Math.hypot(x - 0.5, y - 0.5) - 0.3) < 0.006 ? BLACK : null),
]);

const grey = (value: number): Rgba => [value, value * 0.97, value * 0.93, 255];
const photo =
  (seed: number): Paint =>
  (x, y) => {
    const wave = Math.sin(x * (5 + seed) + Math.sin(y * (4 + seed)) * 2) + 0.6 * Math.sin(y * (13 + seed) + x * 7);
    return [128 + 60 * wave, 120 + 52 * wave + 20 * y, 100 + 40 * wave + 40 * x, 255];
  };
const dots =
  (count: number, radius: number, colour: Rgba): Paint =>
  (x, y) =>
    Math.hypot(((x * count) % 1) - 0.5, ((((y * count + 0.5) % 1) + 1) % 1) - 0.5) < radius ? colour : null;

/** What is no box, though it has something of one. */
const TRAPS: Record<string, Pixels> = {
  'art that is clear around': picture([disc(0.5, 0.5, 0.3, RED)]),
  'white art that is clear around': picture([disc(0.5, 0.5, 0.3, WHITE)]),
  'a star that touches all edges': picture([star(0.5, 0.5, 0.52, 5, WHITE)]),
  'letters alone': picture([letters(0.05, 0.3, 0.9, 0.4, 6, WHITE)]),
  'a badge': picture([disc(0.5, 0.5, 0.5, NAVY), star(0.5, 0.5, 0.3, 5, GOLD)]),
  'a small badge': picture([disc(0.4, 0.4, 0.2, WHITE), disc(0.4, 0.4, 0.1, RED)]),
  'a plate with rounded corners': picture([rounded(0, 0.2, NAVY), letters(0.2, 0.4, 0.6, 0.2, 5, GOLD)]),
  'a plate with rounded corners in a clear picture': picture([rounded(0.15, 0.1, CREAM), disc(0.5, 0.5, 0.2, RED)]),
  'a plate with cut corners': picture([
    (x, y) => (x + y > 0.2 && x + y < 1.8 && x - y < 0.8 && y - x < 0.8 ? SAGE : null),
    disc(0.5, 0.5, 0.2, RED),
  ]),
  'a lozenge': picture([
    (x, y) => (Math.abs(x - 0.5) + Math.abs(y - 0.5) < 0.5 ? WHITE : null),
    disc(0.5, 0.5, 0.2, RED),
  ]),
  'a ribbon': picture([(x, y) => (Math.abs(y - 0.5 - 0.12 * Math.sin(x * 7)) < 0.2 ? RED : null)]),
  'a cloud': picture([disc(0.3, 0.55, 0.2, WHITE), disc(0.5, 0.45, 0.25, WHITE), disc(0.7, 0.55, 0.2, WHITE)]),
  'a sky that grows lighter downwards': picture([
    (_, y) => [90 + 120 * y, 140 + 90 * y, 200 + 40 * y, 255],
    disc(0.5, 0.6, 0.2, RED),
  ]),
  'a sky that grows lighter sideways': picture([(x) => grey(120 + 110 * x), disc(0.5, 0.5, 0.2, RED)]),
  'a vignette': picture([(x, y) => grey(230 - 260 * Math.hypot(x - 0.5, y - 0.5) ** 2), disc(0.5, 0.5, 0.2, RED)]),
  'a landscape with a flat sky': picture([
    all([150, 190, 225, 255]),
    (x, y) => (y > 0.42 + 0.06 * Math.sin(x * 5) ? SAGE : null),
  ]),
  'a landscape in three bands': picture([
    all([150, 190, 225, 255]),
    (_, y) => (y > 0.35 ? GOLD : null),
    (_, y) => (y > 0.7 ? SAGE : null),
  ]),
  'two halves': picture([all(NAVY), (x) => (x > 0.5 ? CREAM : null)]),
  'dots that are cut on all sides': picture([all(CREAM), dots(5, 0.3, RED)]),
  'small dots that are cut on all sides': picture([all(WHITE), dots(9, 0.22, NAVY)]),
  'upright stripes': picture([all(WHITE), (x) => ((x * 8) % 1 > 0.6 ? NAVY : null)]),
  'four upright stripes': picture([all(WHITE), (x) => ((x * 4) % 1 > 0.75 ? NAVY : null)]),
  'a faint sky': picture([(_, y) => [196 + 24 * y, 204 + 24 * y, 214 + 24 * y, 255], disc(0.5, 0.5, 0.2, RED)]),
  'lying stripes': picture([all(CREAM), (_, y) => ((y * 7) % 1 > 0.65 ? RED : null)]),
  'slanted stripes': picture([all(SAGE), (x, y) => (((x + y) * 6) % 1 > 0.65 ? WHITE : null)]),
  'a grid of lines': picture([all(WHITE), (x, y) => ((x * 9) % 1 > 0.8 || (y * 9) % 1 > 0.8 ? NAVY : null)]),
  'a check': picture([all(WHITE), (x, y) => ((Math.floor(x * 8) + Math.floor(y * 8)) % 2 ? BLACK : null)]),
  'a photo with a thin white frame': picture([
    all(WHITE),
    rect(0.018, 0.018, 0.982, 0.982, GOLD),
    (x, y) => (x > 0.018 && x < 0.982 && y > 0.018 && y < 0.982 ? photo(1)(x, y) : null),
  ]),
  'grainy paper, dark and light': picture([all(grey(170))], 60),
  'a glow on nothing': picture([(x, y) => [255, 240, 200, Math.max(0, 255 - 620 * Math.hypot(x - 0.5, y - 0.5))]]),
};
for (let seed = 1; seed <= 6; seed++) TRAPS[`a photograph, ${seed}`] = picture([photo(seed)], 8);

describe('a flat field behind art', () => {
  it('is tried on sixty pictures and more, half of them none', () => {
    expect(Object.keys(BOXES).length).toBeGreaterThanOrEqual(32);
    expect(Object.keys(TRAPS).length).toBeGreaterThanOrEqual(32);
  });

  for (const [name, { pixels, colour }] of Object.entries(BOXES))
    it(`is found: ${name}`, () => {
      const found = flatField(pixels);
      expect(found).not.toBeNull();
      if (!found) return;
      const channels = [1, 3, 5].map((at) => parseInt(found.slice(at, at + 2), 16));
      expect(Math.max(...channels.map((value, k) => Math.abs(value - colour[k])))).toBeLessThanOrEqual(3);
    });

  for (const [name, pixels] of Object.entries(TRAPS))
    it(`is not taken for one: ${name}`, () => expect(flatField(pixels)).toBeNull());
});
