import type { Pixels } from '../geometry/pixels.js';
import { NO_LIMITS } from '../model/press.js';
import { components, distances } from '../raster/components.js';
import { measureColour, measurePrint, measuringDpi } from './measure.js';

/** 254 DPI: ten pixels to the millimetre. */
const DPI = 254;
const [W, H] = [600, 400];

/** A print on which ink is drawn by a function of mm, with edges softened over the parts of a pixel. */
function drawn(inside: (x: number, y: number) => boolean | number, parts = 2): Uint8Array {
  const alpha = new Uint8Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const of = (n: number): number => {
        let sum = 0;
        for (let j = 0; j < n; j++)
          for (let i = 0; i < n; i++) sum += Number(inside((x + (i + 0.5) / n) / 10, (y + (j + 0.5) / n) / 10));
        return sum / n ** 2;
      };
      // More parts are looked at only where there is an edge: where the corners of a pixel are not alike.
      const corner = (i: number, j: number): number => Number(inside((x + i) / 10, (y + j) / 10));
      const corners = [corner(0, 0), corner(1, 0), corner(0, 1), corner(1, 1)];
      const isEven = parts > 2 && Math.min(...corners) === Math.max(...corners) && of(2) === corners[0];
      alpha[y * W + x] = Math.round((isEven ? corners[0] : of(parts)) * 255);
    }
  return alpha;
}
const limits = { ...NO_LIMITS, lineMm: 0.5, speckMm: 0.6, fadeMm: 4 };
/** Black ink of an alpha. */
function inked(alpha: Uint8Array, width: number, height: number): Pixels {
  const data = new Uint8ClampedArray(alpha.length * 4);
  for (let i = 0; i < alpha.length; i++) data[i * 4 + 3] = alpha[i];
  return { width, height, data };
}
const measured = (inside: (x: number, y: number) => boolean | number, parts = 2) =>
  measurePrint(inked(drawn(inside, parts), W, H), DPI, limits);

describe('a print that is measured', () => {
  it('tells lines thinner than the limit, how thin and where, at any angle; thick ones and corners are no lines', () => {
    for (const angle of [0, 17, 45, 90]) {
      const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
      const across = (x: number, y: number): number => Math.abs((x - 30) * s + (y - 20) * c);
      const along = (x: number, y: number): number => Math.abs((x - 30) * c - (y - 20) * s);
      const line = (width: number) => measured((x, y) => across(x, y) < width / 2 && along(x, y) < 12);
      const thin = line(0.3).thin;
      expect(thin.count).withContext(`${angle}°`).toBe(1);
      expect(Math.abs(thin.thinnestMm - 0.3))
        .withContext(`${angle}°`)
        .toBeLessThan(0.12);
      const [{ x, y, width, height }] = thin.where;
      expect(x + width / 2)
        .withContext(`${angle}°`)
        .toBeCloseTo(30, 0);
      expect(y + height / 2)
        .withContext(`${angle}°`)
        .toBeCloseTo(20, 0);
      expect(line(0.7).thin.count).withContext(`${angle}°`).toBe(0);
    }
    // A square, a triangle with a sharp tip and a letter-like bar: thick ink with corners.
    expect(measured((x, y) => x > 10 && x < 30 && y > 10 && y < 30).thin.count).toBe(0);
    expect(measured((x, y) => y > 5 && y < 35 && Math.abs(x - 30) < (y - 5) / 2).thin.count).toBe(0);
  });

  it('tells a line from the limit by three hundredths of a mm, wherever it lies between the pixels', () => {
    // Whole numbers that repeat from run to run.
    let seed = 3;
    const random = (): number => (seed = (seed * 16807) % 2147483647) / 2147483647;
    for (let n = 0; n < 5; n++) {
      const [angle, x0, y0] = [random() * Math.PI, 30 + random() / 10, 20 + random() / 10];
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      const line = (width: number) => (x: number, y: number) =>
        Math.abs((x - x0) * s - (y - y0) * c) < width / 2 && Math.abs((x - x0) * c + (y - y0) * s) < 9;
      const gap = (width: number) => (x: number, y: number) =>
        Math.hypot(x - x0, y - y0) < 12 && Math.abs((x - x0) * s - (y - y0) * c) > width / 2;
      for (const width of [0.12, 0.3, 0.47]) {
        const { thin } = measured(line(width), 5);
        expect(thin.count).withContext(`${width} at ${angle}`).toBe(1);
        expect(Math.abs(thin.thinnestMm - width))
          .withContext(`${width} at ${angle}`)
          .toBeLessThan(0.05);
        const { gaps } = measured(gap(width), 5);
        expect(gaps.count).withContext(`gap of ${width} at ${angle}`).toBe(1);
        expect(Math.abs(gaps.thinnestMm - width))
          .withContext(`gap of ${width} at ${angle}`)
          .toBeLessThan(0.05);
      }
      expect(measured(line(0.53), 5).thin.count)
        .withContext(`at ${angle}`)
        .toBe(0);
      expect(measured(gap(0.53), 5).gaps.count)
        .withContext(`at ${angle}`)
        .toBe(0);
    }
  });

  it('finds lines in other ink, pale and dark, and neither thick ones, nor edges, nor tips that run out', () => {
    const inInk = (colourAt: (x: number, y: number) => readonly number[] | null) => {
      const data = new Uint8ClampedArray(W * H * 4);
      for (let y = 0; y < H; y++)
        for (let x = 0; x < W; x++) {
          const sum = [0, 0, 0];
          for (let k = 0; k < 16; k++) {
            const own = colourAt((x + 0.125 + (k % 4) / 4) / 10, (y + 0.125 + (k >> 2) / 4) / 10) ?? [40, 60, 90];
            own.forEach((one, i) => (sum[i] += one / 16));
          }
          data.set([...sum, 255], (y * W + x) * 4);
        }
      return measurePrint({ width: W, height: H, data }, DPI, limits).thin;
    };
    const line = (width: number, colour: number[]) =>
      inInk((x, y) => (Math.abs((x - 30) * 0.6 - (y - 20) * 0.8) < width / 2 && Math.abs(x - 30) < 10 ? colour : null));
    for (const colour of [
      [240, 230, 200],
      [0, 0, 0],
      [150, 60, 90],
    ]) {
      const thin = line(0.3, colour);
      expect(thin.count).withContext(`${colour}`).toBe(1);
      expect(Math.abs(thin.thinnestMm - 0.3))
        .withContext(`${colour}`)
        .toBeLessThan(0.08);
      expect(thin.where[0].x + thin.where[0].width / 2).toBeCloseTo(30, 0);
      expect(line(0.6, colour).count).withContext(`${colour}`).toBe(0);
    }
    // Edges between pixels are neither the one colour nor the other, and no lines.
    for (const edge of [30, 30.03, 30.07])
      expect(inInk((x) => (x < edge ? [240, 230, 200] : null)).count)
        .withContext(`${edge}`)
        .toBe(0);
    expect(inInk((x, y) => (x > 10 && x < 30 && Math.abs(y - 20) < (x - 10) / 8 ? [240, 230, 200] : null)).count).toBe(
      0,
    );
    // Ink that shades from one colour to another has no lines.
    expect(inInk((x, y) => [x * 4, y * 6, 90]).count).toBe(0);
  });

  it('measures letters that are no lettering: their small ones, on cloth and in ink', () => {
    /** Letters of strokes, each as wide as its number of stems says; some with an ascender, one with a dot. */
    const word = (height: number) => (x: number, y: number) => {
      const stroke = height / 6;
      const [left, base] = [10, 25];
      const stems = [2, 3, 2, 1, 2, 3, 2];
      let at = left;
      for (const [k, count] of stems.entries()) {
        const width = count === 1 ? stroke : (count - 1) * height * 0.55 + stroke;
        const up = base - y;
        if (x >= at && x < at + width) {
          const stem = (x - at) % (height * 0.55) < stroke;
          const tall = k === 2 ? height * 1.4 : height;
          if (k === 3 && up > height * 1.25 && up < height * 1.45) return true;
          if (up < 0 || up > tall) return false;
          return (stem && (up < height || x - at < stroke)) || (up < height && up > height - stroke);
        }
        at += width + height * 0.35;
      }
      return false;
    };
    const rows = (inside: (x: number, y: number) => boolean, onInk: boolean) => {
      const cover = drawn(inside);
      const picture = inked(cover, W, H);
      if (onInk)
        for (let i = 0; i < cover.length; i++)
          picture.data.set([240 - cover[i] * 0.8, 190 - cover[i] * 0.6, 60, 255], i * 4);
      return measurePrint(picture, DPI, { ...NO_LIMITS, letterMm: 2 }).letters;
    };
    for (const onInk of [false, true]) {
      for (const height of [1, 1.5, 1.9]) {
        const { count, lowestMm, where } = rows(word(height), onInk);
        expect(count).withContext(`${height}`).toBe(1);
        expect(Math.abs(lowestMm - height))
          .withContext(`${height}`)
          .toBeLessThan(0.06);
        expect(where[0].x).withContext(`${height}`).toBeCloseTo(10, 0);
      }
      expect(rows(word(2.1), onInk).count).toBe(0);
      // Dots in a row are a pattern, and one bar is no word.
      expect(rows((x, y) => Math.hypot((x % 2) - 1, y - 20) < 0.5, onInk).count).toBe(0);
      expect(rows((x, y) => x > 10 && x < 40 && y > 20 && y < 21.2, onInk).count).toBe(0);
    }
  });

  it('finds a thin line that hangs on thick ink, which the layer’s own setting would not tell', () => {
    const { thin } = measured(
      (x, y) => Math.hypot(x - 15, y - 20) < 8 || (x >= 15 && x < 50 && Math.abs(y - 20) < 0.15),
    );
    expect(thin.count).toBe(1);
    expect(thin.where[0].x).toBeGreaterThan(20);
    expect(thin.where[0].x + thin.where[0].width).toBeCloseTo(50, 0);
  });

  it('counts specks and pinholes below the limit, and neither larger ones nor what is open to the edge', () => {
    const dots = (radius: number) => (x: number, y: number) =>
      [10, 20, 30, 40].some((at) => Math.hypot(x - at, y - 20) < radius);
    expect(measured(dots(0.2)).specks.count).toBe(4);
    expect(measured(dots(0.5)).specks.count).toBe(0);
    const holes = (radius: number) => (x: number, y: number) => y > 5 && y < 35 && !dots(radius)(x, y);
    expect(measured(holes(0.2)).holes.count).toBe(4);
    expect(measured(holes(0.5)).holes.count).toBe(0);
    const notches = (x: number, y: number): boolean => !(x < 0.3 && [10, 20, 30].some((at) => Math.abs(y - at) < 0.15));
    expect(measured(notches).holes.count).toBe(0);
  });

  it('tells glow wider than the limit, and no soft edge', () => {
    const glow = measured((x, y) => Math.max(0, 1 - Math.hypot(x - 30, y - 20) / 15));
    expect(glow.fade.count).toBe(1);
    expect(glow.fade.widestMm).toBeGreaterThan(4);
    const soft = measured((x) => Math.min(1, Math.max(0, (x - 20) / 1.5)));
    expect(soft.fade.count).toBe(0);
  });

  it('is drawn fine enough for its limits, and never finer than it is printed', () => {
    expect(measuringDpi(300, { ...NO_LIMITS, lineMm: 0.35 })).toBe(300);
    expect(measuringDpi(300, { ...NO_LIMITS, lineMm: 1 })).toBe(127);
    expect(measuringDpi(150, { ...NO_LIMITS, lineMm: 0.1 })).toBe(150);
  });

  it('is measured alike wherever it lies, however much bare ground is around it', () => {
    const W2 = W + 700;
    const H2 = H + 500;
    // A thin line, a speck, a hole in a block that reaches the corner of the small print, and a fade.
    const small = drawn((x, y) =>
      x < 12 && y < 9 && Math.hypot(x - 6, y - 5) > 0.2
        ? 1
        : (x > 20 && x < 50 && Math.abs(y - 20) < 0.1) || Math.hypot(x - 40, y - 10) < 0.2
          ? 1
          : x > 22 && x < 34 && y > 24 && y < 36
            ? 0.5
            : 0,
    );
    const here = measurePrint(inked(small, W, H), DPI, limits);
    expect([here.thin.count, here.specks.count, here.holes.count, here.fade.count]).toEqual([1, 1, 1, 1]);
    // As far to the right and down as whole cells of a fade, of 7 px.
    const [right, down] = [350, 420];
    const large = new Uint8Array(W2 * H2);
    for (let y = 0; y < H; y++) large.set(small.subarray(y * W, (y + 1) * W), (y + down) * W2 + right);
    const there = measurePrint(inked(large, W2, H2), DPI, limits);
    for (const kind of ['thin', 'specks', 'holes', 'fade'] as const) {
      expect(there[kind].count).withContext(kind).toBe(here[kind].count);
      const [{ x, y, width, height }] = there[kind].where;
      expect(x - right / 10)
        .withContext(kind)
        .toBeCloseTo(here[kind].where[0].x, 6);
      expect(y - down / 10)
        .withContext(kind)
        .toBeCloseTo(here[kind].where[0].y, 6);
      expect([width, height]).withContext(kind).toEqual([here[kind].where[0].width, here[kind].where[0].height]);
    }
    expect(there.thin.thinnestMm).toBe(here.thin.thinnestMm);
  });

  it('has nothing to tell of a print without ink', () => {
    const none = measurePrint(inked(new Uint8Array(W * H), W, H), DPI, limits);
    expect([none.thin.count, none.specks.count, none.holes.count, none.fade.count]).toEqual([0, 0, 0, 0]);
  });
});

describe('colours that are measured', () => {
  it('tell heavy ink and colours out of gamut, with their share and place', () => {
    const [width, height] = [10, 10];
    const data = new Uint8Array(width * height * 4).fill(255);
    const inks = new Uint8Array(width * height * 4);
    const seen = new Uint8Array(width * height * 4);
    for (let i = 0; i < 100; i++) {
      const left = i % 10 < 5;
      inks.set(left ? [255, 255, 255, 50] : [40, 0, 0, 0], i * 4);
      seen.set(left ? [10, 20, 30, 90] : [200, 0, 0, 10], i * 4);
      data.set(left ? [0, 0, 255, 255] : [255, 0, 0, 255], i * 4);
    }
    const found = measureColour({ width, height, data }, inks, seen, 25.4, { ...NO_LIMITS, coverage: 300 });
    expect([found.coverage!.count, found.coverage!.share, Math.round(found.coverage!.most)]).toEqual([1, 0.5, 320]);
    expect(found.coverage!.where[0]).toEqual({ x: 0, y: 0, width: 5, height: 10 });
    expect([found.gamut!.count, found.gamut!.share]).toEqual([1, 0.5]);
    expect(found.gamut!.colours).toEqual([{ hex: '#0000ff', printed: '#0a141e', delta: 9 }]);
  });
});

describe('pixels that hang together', () => {
  it('are one where they touch at corners, and have their area and reach', () => {
    const mask = Uint8Array.from([1, 0, 0, 1, 0, 1, 0, 1, 0, 0, 0, 0, 1, 1, 0, 0]);
    expect(components(mask, 4, 4, 1).map(({ area, left, right }) => [area, left, right])).toEqual([
      [2, 0, 2],
      [2, 3, 4],
      [2, 0, 2],
    ]);
    expect(components(Uint8Array.from([0, 1, 1, 0]), 2, 2, 1).length).toBe(1);
    // A U is one, though its arms begin apart.
    expect(components(Uint8Array.from([1, 0, 1, 1, 0, 1, 1, 1, 1]), 3, 3, 1).length).toBe(1);
  });

  it('have exact distances from what is clear, up to their reach', () => {
    const mask = new Uint8Array(81).fill(1);
    mask[40] = 0;
    const found = distances(mask, 9, 9, 5);
    expect([found[40], found[41], found[50], found[44], found[0]]).toEqual([0, 1, 2, 16, 32]);
    expect(distances(new Uint8Array(9).fill(1), 3, 3, 2)[4]).toBe(9);
  });
});
