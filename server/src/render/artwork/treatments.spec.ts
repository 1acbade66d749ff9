import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { artworkPath } from '@kettle/demo';
import sharp from 'sharp';
import type { Pixels } from '@kettle/core/geometry';
import {
  atWork,
  cropOf,
  NEW_STROKES,
  NO_EDGE,
  NO_TONE,
  USUAL_CLEAN,
  USUAL_SOFT_EDGE,
  type ColourCut,
  type EdgeWork,
  type Tone,
  type Treatment,
} from '@kettle/core/model';
import {
  compileTreatKernel,
  cutByStrokes,
  dissolve,
  firstGuess,
  pictureKey,
  reduced,
  seenThrough,
  treatedBy,
  Treater,
  treatmentName,
  workingSize,
} from '@kettle/core/treatments';

const kernel = compileTreatKernel(readFileSync(fileURLToPath(import.meta.resolve('@kettle/core/treat.wasm'))));

type Rgba = readonly [number, number, number, number];
const WHITE: Rgba = [255, 255, 255, 255];
const NAVY: Rgba = [31, 43, 77, 255];
const RED: Rgba = [196, 52, 40, 255];

const picture = (side: number, at: (x: number, y: number) => Rgba, height = side): Pixels => {
  const data = new Uint8ClampedArray(side * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < side; x++) data.set(at((x + 0.5) / side, (y + 0.5) / height), (y * side + x) * 4);
  return { width: side, height, data };
};
/** A disc with an edge as soft as asked, laid on a ground. */
const disc =
  (ink: Rgba, ground: Rgba, soft: number, side: number) =>
  (x: number, y: number): Rgba => {
    const cover = coverAt(x, y, soft, side);
    return [0, 1, 2, 3].map((k) => Math.round(ink[k] * cover + ground[k] * (1 - cover))) as unknown as Rgba;
  };
const coverAt = (x: number, y: number, soft: number, side: number): number =>
  Math.max(0, Math.min(1, 0.5 + ((0.3 - Math.hypot(x - 0.5, y - 0.5)) * side) / soft));

const treater = (pixels: Pixels): Treater => {
  const { width, height } = workingSize(pixels.width, pixels.height);
  return new Treater(kernel, reduced(pixels, width, height), pixels.width, pixels.height);
};
const alphaAt = ({ width, data }: Pixels, x: number, y: number): number => data[(y * width + x) * 4 + 3];
const colourAt = ({ width, data }: Pixels, x: number, y: number): number[] => [
  ...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 3),
];
const errorOfAlpha = (pixels: Pixels, soft: number): number => {
  let sum = 0;
  for (let y = 0; y < pixels.height; y++)
    for (let x = 0; x < pixels.width; x++)
      sum += Math.abs(
        alphaAt(pixels, x, y) / 255 - coverAt((x + 0.5) / pixels.width, (y + 0.5) / pixels.height, soft, pixels.width),
      );
  return sum / (pixels.width * pixels.height);
};
const white: Treatment = { id: 'w', kind: 'colour', hex: '#ffffff', tolerance: 4, from: 'border' };

describe('a colour taken out', () => {
  for (const [name, soft, ink] of [
    ['a clean edge', 1.2, NAVY],
    ['a soft edge', 40, NAVY],
    ['a wide glow of a light colour', 90, [240, 170, 60, 255] as Rgba],
  ] as const)
    it(`leaves ${name} as it was, in the art's own colour`, () => {
      const source = picture(320, disc(ink, WHITE, soft, 320));
      const out = treater(source).treated([white]);
      expect(errorOfAlpha(out, soft)).toBeLessThan(0.01);
      // What was half white is the ink itself at half of its strength.
      for (let x = 0; x < 320; x++) {
        const alpha = alphaAt(out, x, 160);
        if (alpha < 60) continue;
        colourAt(out, x, 160).forEach((value, k) => expect(Math.abs(value - ink[k])).toBeLessThan(14));
      }
    });

  // A badge that shades from teal to nearly white, on white: across, from its middle outwards, or in the corners alone.
  const TEAL: Rgba = [17, 122, 101, 255];
  const PALE: Rgba = [246, 250, 249, 255];
  const shaded =
    (share: (x: number, y: number) => number, side: number) =>
    (x: number, y: number): Rgba => {
      const [w, cover] = [share(x, y), coverAt(x, y, 1.2, side)];
      return [0, 1, 2, 3].map((k) =>
        Math.round((TEAL[k] + (PALE[k] - TEAL[k]) * w) * cover + WHITE[k] * (1 - cover)),
      ) as unknown as Rgba;
    };
  const SHADES = {
    'from side to side': (x: number) => Math.max(0, Math.min(1, (x - 0.2) / 0.58)),
    'towards its rim': (x: number, y: number) => Math.min(1, Math.hypot(x - 0.5, y - 0.5) / 0.3),
    'in a lower corner': (x: number, y: number) => Math.max(0, Math.min(1, (x + y - 0.9) / 0.45)),
  };
  for (const [way, share] of Object.entries(SHADES))
    it(`keeps art whole that shades into the ground ${way}, and says where a cut without a bound does not`, () => {
      const source = picture(400, shaded(share, 400));
      const cut = firstGuess(source, 'g') as ColourCut;
      const one = treater(source);
      const kept = one.treated([cut]);
      expect(seenThrough(source, kept).share).toBeLessThan(0.02);
      expect(errorOfAlpha(kept, 1.2)).toBeLessThan(0.007);
      const { soft: _soft, ...old } = cut;
      const eaten = seenThrough(source, one.treated([old]));
      expect(eaten.share).toBeGreaterThan(0.15);
      // What is marked lies in the pale part of the badge.
      const at = [...eaten.where.keys()].filter((n) => eaten.where[n]);
      const pale = at.filter((n) => share(((n % 400) + 0.5) / 400, (Math.floor(n / 400) + 0.5) / 400) > 0.1);
      expect(pale.length / at.length).toBeGreaterThan(0.9);
    });

  it('keeps soft edges up to the depth that was asked for, and clean ones where it is none', () => {
    const source = picture(320, disc(NAVY, WHITE, 40, 320));
    const cut = (soft: number): Pixels => treater(source).treated([{ ...white, soft } as Treatment]);
    expect(errorOfAlpha(cut(0.16), 40)).toBeLessThan(0.01);
    expect(errorOfAlpha(cut(0), 40)).toBeGreaterThan(0.02);
    // A shadow of 3 % of the picture is within what is usual.
    const shadow = picture(320, disc([90, 90, 90, 255], WHITE, 10, 320));
    expect(errorOfAlpha(treater(shadow).treated([{ ...white, soft: USUAL_SOFT_EDGE } as Treatment]), 10)).toBeLessThan(
      0.01,
    );
  });

  it('stays outside of holes unless it is taken everywhere, and follows a clicked point alone', () => {
    const ring = picture(200, (x, y) => {
      const far = Math.hypot(x - 0.5, y - 0.5);
      return far > 0.2 && far < 0.35 ? NAVY : WHITE;
    });
    const cut = (change: Partial<Treatment>): Pixels => treater(ring).treated([{ ...white, ...change } as Treatment]);
    expect(alphaAt(cut({}), 100, 100)).toBe(255);
    expect(alphaAt(cut({}), 2, 2)).toBe(0);
    expect(alphaAt(cut({ from: 'everywhere' }), 100, 100)).toBe(0);
    const inside = cut({ from: 'point', at: { x: 0.5, y: 0.5 } });
    expect([alphaAt(inside, 100, 100), alphaAt(inside, 2, 2)]).toEqual([0, 255]);
  });

  it('eats more the more is tolerated', () => {
    const shades = picture(120, (x) => [
      255 - Math.floor(x * 8) * 12,
      255 - Math.floor(x * 8) * 12,
      255 - Math.floor(x * 8) * 12,
      255,
    ]);
    const left = (tolerance: number): number => {
      const { data } = treater(shades).treated([{ ...white, tolerance } as Treatment]);
      let sum = 0;
      for (let i = 3; i < data.length; i += 4) sum += data[i];
      return sum;
    };
    expect(left(5)).toBeGreaterThan(left(30));
    expect(left(30)).toBeGreaterThan(left(80));
  });

  it('is guessed for a flat ground, and for nothing else', () => {
    expect(firstGuess(picture(200, disc(RED, WHITE, 1, 200)), 'g')).toEqual(
      jasmine.objectContaining({ kind: 'colour', hex: '#ffffff', from: 'border' }),
    );
    expect(firstGuess(picture(200, disc(RED, [0, 0, 0, 0], 1, 200)), 'g')).toBeNull();
    expect(
      firstGuess(
        picture(200, () => WHITE),
        'g',
      ),
    ).toBeNull();
    expect(
      firstGuess(
        picture(200, (x, y) => [255 * x, 255 * y, 90, 255]),
        'g',
      ),
    ).toBeNull();
  });
});

describe('art on black', () => {
  const BLACK: Rgba = [0, 0, 0, 255];
  /** A light of 60 % of the picture that fades evenly to nothing. */
  const glow =
    (ground: number) =>
    (x: number, y: number): Rgba => {
      const light = Math.max(0, 1 - Math.hypot(x - 0.5, y - 0.5) / 0.3);
      return [240, 180, 60].map((v) => Math.round(ground + (v - ground) * light)).concat(255) as unknown as Rgba;
    };

  it('is dissolved where it glows, so that laid on black again it is what it was, without a rim on white', () => {
    const lit = picture(240, glow(0));
    const guess = firstGuess(lit, 'g')!;
    expect(guess).toEqual(jasmine.objectContaining({ kind: 'dissolve', hex: '#000000' }));
    const { data } = treater(lit).treated([guess]);
    let [onBlack, darkest] = [0, 255];
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3] / 255;
      for (let k = 0; k < 3; k++) onBlack = Math.max(onBlack, Math.abs(data[i + k] * a - lit.data[i + k]));
      // On white nothing is darker than the light's own colour is: no grey rim.
      darkest = Math.min(darkest, data[i] * a + 255 * (1 - a));
    }
    // What counts as noise of the ground, twice over, is gone.
    expect(onBlack).toBeLessThan(2 * 255 * (guess.kind === 'dissolve' ? guess.clean : 0) + 2);
    expect(darkest).toBeGreaterThan(235);
    // A dark ground that is not wholly black is dissolved as well.
    expect(firstGuess(picture(240, glow(14)), 'g')!.kind).toBe('dissolve');
  });

  it('is cut where its edges are clean, and on any other ground', () => {
    expect(firstGuess(picture(200, disc(RED, BLACK, 1, 200)), 'g')!.kind).toBe('colour');
    expect(firstGuess(picture(240, glow(255)), 'g')?.kind).not.toBe('dissolve');
  });
});

describe('strokes that keep and drop', () => {
  const busy = (x: number, y: number): Rgba => {
    const wave = 40 * Math.sin(x * 31 + Math.sin(y * 23)) + 25 * Math.sin(y * 67);
    return [120 + wave, 130 + wave, 100 - wave, 255];
  };
  const subject = picture(300, (x, y) => (Math.hypot(x - 0.5, y - 0.5) < 0.3 ? RED : busy(x, y)));
  const keep = { keep: true, points: [0.4, 0.5, 0.6, 0.5], size: 0.03 };
  const drop = { keep: false, points: [0.04, 0.04, 0.96, 0.04, 0.96, 0.96, 0.04, 0.96], size: 0.03 };
  const strokes = (...list: (typeof keep)[]): Treatment => ({ id: 's', kind: 'strokes', strokes: list, hair: 0.004 });

  it('find the edge of a subject on a busy ground from two strokes', () => {
    const out = treater(subject).treated([strokes(keep, drop)]);
    expect(errorOfAlpha(out, 1)).toBeLessThan(0.02);
  });

  it('need no drop where the rim is ground, and no keep where the rest is art', () => {
    expect(alphaAt(treater(subject).treated([strokes(keep)]), 5, 150)).toBeLessThan(30);
    expect(alphaAt(treater(subject).treated([strokes(drop)]), 150, 150)).toBeGreaterThan(220);
  });

  it('on nothing change nothing, and say so', () => {
    const clear = picture(64, () => [0, 0, 0, 0]);
    expect(cutByStrokes(clear, { id: 's', kind: 'strokes', strokes: [keep], hair: 0 })).toBeNull();
    expect(
      treater(clear)
        .treated([strokes(keep, drop)])
        .data.every((value) => value === 0),
    ).toBeTrue();
  });
});

describe('strokes over letters and thin lines', () => {
  const SIDE = 800;
  /** A row of rings, bars with a bay, and a line of 4 px: what letters are made of. */
  const cover = (x: number, y: number): number => {
    const ring = (cx: number, cy: number, r: number, wide: number): number =>
      0.5 + (wide / 2 - Math.abs(Math.hypot(x - cx, y - cy) - r)) * SIDE;
    const bar = (l: number, t: number, r: number, b: number): number =>
      0.5 + Math.min(x - l, r - x, y - t, b - y) * SIDE;
    return Math.max(
      0,
      Math.min(
        1,
        Math.max(
          ring(0.25, 0.3, 0.08, 0.04),
          ring(0.5, 0.3, 0.05, 0.03),
          bar(0.62, 0.2, 0.67, 0.4),
          bar(0.62, 0.2, 0.75, 0.24),
          bar(0.62, 0.36, 0.75, 0.4),
          ring(0.3, 0.7, 0.022, 0.009),
          ring(0.4, 0.7, 0.022, 0.009),
          bar(0.5, 0.697, 0.8, 0.702),
        ),
      ),
    );
  };
  const GROUNDS: Readonly<Record<string, (x: number, y: number) => readonly number[]>> = {
    flat: () => [31, 43, 77],
    uneven: (x, y) => [
      40 + 22 * Math.sin(x * 21 + Math.sin(y * 15)),
      52 + 22 * Math.sin(y * 19),
      90 + 18 * Math.sin((x + y) * 11),
    ],
    restless: (x, y) => {
      const wave = 34 * Math.sin(x * 32 + 2 * Math.sin(y * 17)) + 22 * Math.sin(y * 77 + x * 11);
      return [128 + wave, 150 + wave, 138 - wave / 2];
    },
  };
  const INK = [242, 189, 75];
  // Three hurried lines: across the large ones, across the small ones, and around.
  const strokes = [
    { keep: true, points: [0.14, 0.3, 0.78, 0.31], size: 0.02 },
    { keep: true, points: [0.26, 0.7, 0.82, 0.7], size: 0.02 },
    { keep: false, points: [0.04, 0.05, 0.95, 0.05, 0.95, 0.95, 0.05, 0.95], size: 0.02 },
  ];
  for (const [name, ground] of Object.entries(GROUNDS))
    it(`leave counters, bays and thin strokes as clean as they were, on a ${name} ground`, () => {
      const source = picture(SIDE, (x, y) => {
        const share = cover(x, y);
        const under = ground(x, y);
        return [0, 1, 2].map((k) => INK[k] * share + under[k] * (1 - share)).concat(255) as unknown as Rgba;
      });
      const step: Treatment = { id: 's', ...NEW_STROKES, strokes };
      const out = treater(source).apply({ ...source, data: source.data.slice() }, [step]);
      let [sum, wrong] = [0, 0];
      for (let y = 0; y < SIDE; y++)
        for (let x = 0; x < SIDE; x++) {
          const off = Math.abs(alphaAt(out, x, y) / 255 - cover((x + 0.5) / SIDE, (y + 0.5) / SIDE));
          sum += off;
          if (off > 0.5) wrong++;
        }
      // One pixel in two thousand, at edges; the counters alone are ten times as many.
      expect(sum / SIDE ** 2).toBeLessThan(0.002);
      expect(wrong / SIDE ** 2).toBeLessThan(0.0005);
      // Inside the smallest ring nothing is left, and the line is whole from end to end.
      expect(alphaAt(out, 0.3 * SIDE, 0.7 * SIDE)).toBe(0);
      for (let x = 0.51; x < 0.79; x += 0.02)
        expect(alphaAt(out, Math.round(x * SIDE), Math.round(0.6995 * SIDE))).toBeGreaterThan(200);
    });

  it('find letters that nobody rubbed over, to the ends of their bays, beside a drawing of many colours', async () => {
    const size = { width: 1000, height: 1000 };
    const drawing = await sharp(artworkPath('fog-signal.png')).resize(820, 820, { fit: 'inside' }).toBuffer();
    const ground = Buffer.alloc(1000 * 1000 * 3);
    for (let y = 0, i = 0; y < 1000; y++)
      for (let x = 0; x < 1000; x++, i += 3) ground.set(GROUNDS['restless'](x / 1000, y / 1000), i);
    const layer = [{ input: drawing, gravity: 'centre' }];
    const seen = sharp(ground, { raw: { ...size, channels: 3 } }).composite(layer);
    const jpeg = await seen.jpeg({ quality: 88 }).toBuffer();
    const source = { ...size, data: new Uint8ClampedArray(await sharp(jpeg).ensureAlpha().raw().toBuffer()) };
    const nothing = { create: { ...size, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } } as const;
    const truth = await sharp(await sharp(nothing).composite(layer).png().toBuffer())
      .extractChannel(3)
      .raw()
      .toBuffer();
    const rubbed = [
      { keep: true, points: [0.3, 0.42, 0.5, 0.3, 0.7, 0.45, 0.55, 0.6, 0.4, 0.62], size: 0.02 },
      { keep: false, points: [0.05, 0.06, 0.94, 0.06, 0.94, 0.94, 0.06, 0.94], size: 0.02 },
    ];
    const wrongOf = (step: object): number => {
      const cut = { ...NEW_STROKES, id: 's', strokes: rubbed, ...step };
      const out = treater(source).apply({ ...source, data: source.data.slice() }, [cut]);
      let wrong = 0;
      // The words alone, below the drawing.
      for (let y = 740; y < 830; y++)
        for (let x = 160; x < 840; x++) if (Math.abs(alphaAt(out, x, y) - truth[y * 1000 + x]) > 128) wrong++;
      return wrong / (90 * 680);
    };
    const now = wrongOf({});
    expect(now).toBeLessThan(0.035);
    expect(now).toBeLessThan(0.85 * wrongOf({ anew: undefined }));
  });

  it('leave nothing of an uneven ground between hairs, and the hairs whole', () => {
    // A disc with some two hundred hairs, 1.5 px wide; the noise of a photo lies over all of it.
    const [body, ends, side, hairs] = [0.28, 0.36, 800, 180];
    const hair = (x: number, y: number): number => {
      const far = Math.hypot(x - 0.5, y - 0.5);
      const across = (Math.atan2(y - 0.5, x - 0.5) / (2 * Math.PI)) * hairs + far * 9;
      const px = (Math.abs(across - Math.round(across)) / hairs) * 2 * Math.PI * far * side;
      const cut = (by: number): number => Math.max(0, Math.min(1, 0.5 + by));
      return Math.max(cut((body - far) * side), Math.min(cut(0.75 - px), cut((ends - far) * side)));
    };
    let seed = 7;
    const noise = (): number => ((seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648 - 0.5) * 16;
    const source = picture(side, (x, y) => {
      const share = hair(x, y);
      const under = GROUNDS['uneven'](x, y);
      return [80, 50, 30]
        .map((ink, k) => ink * share + (under[k] + 90) * (1 - share) + noise())
        .concat(255) as unknown as Rgba;
    });
    const around = [strokes[2], { keep: true, points: [0.4, 0.5, 0.6, 0.5, 0.5, 0.4, 0.5, 0.6], size: 0.05 }];
    const mean = (values: readonly number[]): number => values.reduce((sum, one) => sum + one, 0) / values.length;
    const between = (clean?: number) => {
      const step: Treatment = { id: 's', kind: 'strokes', strokes: around, hair: 0.05, fine: true, clean };
      const out = treater(source).apply({ ...source, data: source.data.slice() }, [step]);
      const [ground, hairs]: number[][] = [[], []];
      for (let y = 0; y < side; y++)
        for (let x = 0; x < side; x++) {
          const [u, v] = [(x + 0.5) / side, (y + 0.5) / side];
          const far = Math.hypot(u - 0.5, v - 0.5);
          if (far < body + 0.01 || far > ends - 0.01) continue;
          const share = hair(u, v);
          if (share === 0) ground.push(alphaAt(out, x, y) / 255);
          if (share === 1) hairs.push(alphaAt(out, x, y) / 255);
        }
      return { ground: mean(ground), hair: mean(hairs) };
    };
    const [before, now] = [between(), between(USUAL_CLEAN)];
    expect(now.ground).toBeLessThan(0.003);
    expect(now.hair).toBeGreaterThan(0.9);
    expect(now.ground).toBeLessThan(before.ground * 0.8);
  });

  it('keep art of the ground’s colour where a stroke says so and touches little else', () => {
    // A disc with a core of the ground's own colour.
    const source = picture(400, (x, y) => {
      const far = Math.hypot(x - 0.5, y - 0.5);
      return far < 0.1 || far > 0.3 ? NAVY : RED;
    });
    const around = { keep: false, points: [0.04, 0.05, 0.95, 0.05, 0.95, 0.95, 0.05, 0.95], size: 0.03 };
    const across = { keep: true, points: [0.3, 0.5, 0.36, 0.5], size: 0.03 };
    const core = { keep: true, points: [0.45, 0.5, 0.55, 0.5], size: 0.03 };
    const cut = (strokes: readonly (typeof core)[]): Pixels =>
      treater(source).treated([{ id: 's', ...NEW_STROKES, strokes }]);
    expect(alphaAt(cut([across, core, around]), 200, 200)).toBe(255);
    expect(alphaAt(cut([across, core, around]), 20, 200)).toBe(0);
  });
});

describe('a colour dissolved', () => {
  it('comes back within one level on the ground it was taken from', () => {
    for (const [hex, ground] of [
      ['#000000', [0, 0, 0]],
      ['#ffffff', [255, 255, 255]],
      ['#7a968a', [122, 150, 138]],
    ] as const) {
      const source = picture(96, (x, y) => [255 * x, 255 * y, 255 * Math.abs(x - y), 255]);
      const out = { ...source, data: source.data.slice() };
      dissolve(out, { id: 'd', kind: 'dissolve', hex, clean: 0 });
      let farthest = 0;
      for (let i = 0; i < out.data.length; i += 4)
        for (let k = 0; k < 3; k++) {
          const laid = (out.data[i + k] * out.data[i + 3] + ground[k] * (255 - out.data[i + 3])) / 255;
          farthest = Math.max(farthest, Math.abs(laid - source.data[i + k]));
        }
      expect(farthest).toBeLessThanOrEqual(1);
    }
  });

  it('leaves no more of the art than is needed, and nothing of the colour itself', () => {
    const out = treater(picture(64, (x) => [0, 0, x < 0.5 ? 0 : 128, 255])).treated([
      { id: 'd', kind: 'dissolve', hex: '#000000', clean: 0 },
    ]);
    expect([alphaAt(out, 5, 5), alphaAt(out, 60, 5)]).toEqual([0, 128]);
    expect(colourAt(out, 60, 5)).toEqual([0, 0, 255]);
  });

  it('takes faint noise of the ground along when it is to be clean', () => {
    const noisy = picture(64, (x) => (x < 0.5 ? [9, 9, 9, 255] : [200, 90, 20, 255]));
    const cleaned = treater(noisy).treated([{ id: 'd', kind: 'dissolve', hex: '#000000', clean: 0.06 }]);
    expect(alphaAt(cleaned, 5, 5)).toBe(0);
    expect(alphaAt(cleaned, 60, 5)).toBe(200);
  });
});

describe('an edge', () => {
  const edge = (change: Partial<EdgeWork>): Treatment => ({ ...NO_EDGE, ...change, id: 'e' });
  const widthOf = (pixels: Pixels): number => {
    let sum = 0;
    for (let x = 0; x < pixels.width; x++) sum += alphaAt(pixels, x, pixels.height / 2) / 255;
    return sum;
  };
  const bar = picture(200, (x) => (x > 0.3 && x < 0.7 ? RED : [0, 0, 0, 0]));

  it('is shrunk and grown by exactly as many px, also between pixels', () => {
    for (const shift of [-6, -1.5, 0.5, 3, 8])
      expect(widthOf(treater(bar).treated([edge({ shift })]))).toBeCloseTo(80 + 2 * shift, 0);
    // What grows has the colour of the art beside it.
    expect(colourAt(treater(bar).treated([edge({ shift: 5 })]), 56, 100)).toEqual(RED.slice(0, 3));
  });

  it('is as far in print as on the working copy', () => {
    const large = picture(2048, (x) => (x > 0.3 && x < 0.7 ? RED : [0, 0, 0, 0]), 256);
    const work = treater(large);
    const list = [edge({ shift: -8 })];
    expect(widthOf(work.treated(list)) * 2).toBeCloseTo(819 - 16, -1);
    expect(widthOf(work.apply({ ...large, data: large.data.slice() }, list))).toBeCloseTo(820 - 16, 0);
  });

  it('is softened without growing, and smoothed without getting soft', () => {
    const soft = treater(bar).treated([edge({ soften: 6 })]);
    expect(widthOf(soft)).toBeCloseTo(80, 0);
    expect(alphaAt(soft, 60, 100)).toBeGreaterThan(90);
    expect(alphaAt(soft, 60, 100)).toBeLessThan(170);
    const toothed = picture(200, (x, y) =>
      x > 0.3 + (Math.floor(y * 100) % 2) * 0.02 && x < 0.7 ? RED : [0, 0, 0, 0],
    );
    const smooth = treater(toothed).treated([edge({ smooth: 4 })]);
    const rows = Array.from({ length: 40 }, (_, y) => alphaAt(smooth, 62, 80 + y));
    expect(Math.max(...rows) - Math.min(...rows)).toBeLessThan(90);
  });

  it('loses the colour of an old ground', () => {
    const halo = picture(200, (x, y) => {
      const far = Math.hypot(x - 0.5, y - 0.5);
      return far < 0.3 ? RED : far < 0.31 ? [230, 215, 212, 150] : [0, 0, 0, 0];
    });
    const out = treater(halo).treated([edge({ decontaminate: 1 })]);
    const rim = Array.from({ length: 200 }, (_, x) => x).filter((x) => alphaAt(out, x, 100) === 150);
    expect(rim.length).toBeGreaterThan(0);
    for (const x of rim) expect(colourAt(out, x, 100)).toEqual(RED.slice(0, 3));
  });

  it('loses specks and holes below a size, and keeps larger ones', () => {
    const dotted = picture(200, (x, y) => {
      if (Math.hypot(x - 0.1, y - 0.1) < 0.012 || Math.hypot(x - 0.85, y - 0.1) < 0.06) return RED;
      const far = Math.hypot(x - 0.5, y - 0.55);
      return far < 0.3 && Math.hypot(x - 0.4, y - 0.55) > 0.012 && Math.hypot(x - 0.6, y - 0.55) > 0.06
        ? RED
        : [0, 0, 0, 0];
    });
    const out = treater(dotted).treated([edge({ specks: 60, pinholes: 60 })]);
    expect([alphaAt(out, 20, 20), alphaAt(out, 170, 20)]).toEqual([0, 255]);
    expect([alphaAt(out, 80, 110), alphaAt(out, 120, 110)]).toEqual([255, 0]);
    expect(colourAt(out, 80, 110)).toEqual(RED.slice(0, 3));
  });
});

describe('a bay at the rim', () => {
  it('is no hole, however small', () => {
    const notched = picture(120, (x, y) => (x < 0.04 && Math.abs(y - 0.5) < 0.02 ? [0, 0, 0, 0] : RED));
    const out = treater(notched).treated([{ ...NO_EDGE, pinholes: 400, id: 'e' }]);
    expect(alphaAt(out, 1, 60)).toBe(0);
  });
});

describe('work by hand', () => {
  const touch = (back: boolean, hardness = 1): Treatment => ({
    id: 't',
    kind: 'touch',
    strokes: [{ back, points: [0.5, 0.5], size: 0.2, hardness }],
  });

  it('takes away and brings back the picture as it came', () => {
    const source = picture(200, () => NAVY);
    const away = treater(source).treated([touch(false)]);
    expect([alphaAt(away, 100, 100), alphaAt(away, 100, 130)]).toEqual([0, 255]);
    const back = treater(source).treated([{ ...white, hex: '#1f2b4d', from: 'everywhere' } as Treatment, touch(true)]);
    expect([alphaAt(back, 100, 100), alphaAt(back, 20, 20)]).toEqual([255, 0]);
    expect(colourAt(back, 100, 100)).toEqual(NAVY.slice(0, 3));
    const soft = treater(source).treated([touch(false, 0)]);
    expect(alphaAt(soft, 100, 110)).toBeGreaterThan(80);
    expect(alphaAt(soft, 100, 110)).toBeLessThan(180);
  });
});

describe('tone', () => {
  const toned = (change: Partial<Tone>, rgb: Rgba = RED): number[] =>
    colourAt(treater(picture(8, () => rgb)).treated([{ ...NO_TONE, ...change, id: 't' }]), 4, 4);

  it('turns lightness over while hues stay', () => {
    expect(Math.min(...toned({ turnedOver: true }, [10, 10, 10, 255]))).toBeGreaterThan(215);
    const [r, g, b] = toned({ turnedOver: true }, NAVY);
    expect(b).toBeGreaterThan(r);
    expect(b).toBeGreaterThan(g);
    expect(r + g + b).toBeGreaterThan(480);
  });

  it('moves each of its values the way its name says', () => {
    const sum = (rgb: number[]): number => rgb.reduce((a, b) => a + b, 0);
    expect(sum(toned({ lightness: 0.4 }))).toBeGreaterThan(sum([...RED.slice(0, 3)]));
    const [r, g, b] = toned({ saturation: -1 });
    expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(8);
    const warm = toned({ warmth: 1 }, [128, 128, 128, 255]);
    expect(warm[0]).toBeGreaterThan(warm[2] + 20);
    const turned = toned({ hue: 120 });
    expect(turned[1]).toBeGreaterThan(turned[0]);
    expect(toned({ contrast: 0.5 }, [60, 60, 60, 255])[0]).toBeLessThan(60);
  });

  it('prints one ink, and black and white from a lightness on', () => {
    const dark = toned({ ink: '#11564f' }, [8, 8, 8, 255]);
    [17, 86, 79].forEach((value, k) => expect(Math.abs(dark[k] - value)).toBeLessThan(6));
    expect(Math.min(...toned({ ink: '#11564f' }, WHITE))).toBeGreaterThan(245);
    expect(toned({ threshold: 0.5 }, [60, 60, 60, 255])).toEqual([0, 0, 0]);
    expect(toned({ threshold: 0.5 }, [200, 200, 200, 255])).toEqual([255, 255, 255]);
  });

  it('leaves alpha alone', () => {
    const out = treater(picture(8, () => [90, 40, 20, 77])).treated([{ ...NO_TONE, lightness: 0.5, id: 't' }]);
    expect(alphaAt(out, 3, 3)).toBe(77);
  });
});

describe('a list of treatments', () => {
  const list: Treatment[] = [
    white,
    { ...NO_EDGE, shift: -2, id: 'e' },
    { id: 'c', kind: 'crop', box: { x: 0.25, y: 0.1, width: 0.5, height: 0.8 } },
    { ...NO_TONE, lightness: 0.2, id: 't' },
  ];

  it('gives the whole picture what the working copy shows, less than a level apart on average', () => {
    for (const steps of [
      [white],
      [white, { ...NO_TONE, saturation: 0.4, id: 't' } as Treatment],
      [{ id: 'd', kind: 'dissolve', hex: '#ffffff', clean: 0 } as Treatment],
      [
        {
          id: 's',
          kind: 'strokes',
          hair: 0.006,
          strokes: [
            { keep: true, points: [0.4, 0.5, 0.6, 0.5], size: 0.03 },
            { keep: false, points: [0.04, 0.04, 0.96, 0.04, 0.96, 0.96, 0.04, 0.96], size: 0.02 },
          ],
        } as Treatment,
      ],
    ]) {
      const large = picture(1600, disc(NAVY, WHITE, 3, 1600));
      const work = treater(large);
      const shown = work.treated(steps);
      const whole = work.apply({ ...large, data: large.data.slice() }, steps);
      const small = reduced(whole, shown.width, shown.height);
      let sum = 0;
      for (let i = 0; i < small.data.length; i += 4) {
        const [a, b] = [small.data[i + 3] / 255, shown.data[i + 3] / 255];
        for (let k = 0; k < 3; k++) sum += Math.abs(small.data[i + k] * a - shown.data[i + k] * b);
        sum += Math.abs(small.data[i + 3] - shown.data[i + 3]);
      }
      expect(sum / small.data.length).toBeLessThan(1);
    }
  });

  it('crops what is shown, and leaves out what is off or does nothing', () => {
    const source = picture(200, disc(NAVY, WHITE, 1, 200));
    const shown = treater(source).shown(list);
    expect([shown.width, shown.height]).toEqual([100, 160]);
    expect(cropOf(list)).toEqual({ x: 0.25, y: 0.1, width: 0.5, height: 0.8 });
    expect(
      atWork([
        { ...white, off: true },
        { ...NO_TONE, id: 't' },
        { ...NO_EDGE, id: 'e' },
      ]),
    ).toEqual([]);
    expect(treater(source).treated([{ ...white, off: true } as Treatment])).toEqual(source);
  });

  it('works out only what was changed', () => {
    const work = treater(picture(200, disc(NAVY, WHITE, 1, 200)));
    const first = work.treated([white, list[3]]);
    expect(work.treated([white, list[3]])).toBe(first);
    const other = work.treated([white, { ...NO_TONE, lightness: 0.3, id: 't' }]);
    expect(other).not.toBe(first);
    expect(alphaAt(other, 2, 2)).toBe(0);
  });

  it('is named by what it does, not by the ids and the steps that do nothing', () => {
    const other = list.map((one) => ({ ...one, id: `${one.id}2` })) as Treatment[];
    expect(treatmentName(other)).toBe(treatmentName(list));
    expect(treatmentName([...list, { ...NO_EDGE, id: 'x' }])).toBe(treatmentName(list));
    expect(treatmentName([list[0]])).not.toBe(treatmentName(list));
    expect([treatmentName([]), treatmentName(undefined), treatedBy([])]).toEqual(['', '', null]);
    expect(pictureKey('a', undefined)).toBe('a');
    expect(pictureKey('a', list)).toMatch(/^a\.[0-9a-f]{32}$/);
  });

  it('stands pictures that are all one colour, all clear, or one px wide', () => {
    for (const source of [
      picture(40, () => WHITE),
      picture(40, () => [0, 0, 0, 0]),
      picture(1, () => RED, 40),
      picture(40, () => RED, 1),
      picture(1, () => WHITE),
    ]) {
      const out = treater(source).apply({ ...source, data: source.data.slice() }, [
        white,
        { id: 's', kind: 'strokes', hair: 0.02, strokes: [{ keep: true, points: [0.5, 0.5], size: 0.1 }] },
        { ...NO_EDGE, shift: -3, smooth: 2, soften: 2, decontaminate: 1, specks: 9, pinholes: 9, id: 'e' },
        { id: 'd', kind: 'dissolve', hex: '#000000', clean: 0.1 },
        { ...NO_TONE, turnedOver: true, id: 't' },
      ]);
      expect(out.data.length).toBe(source.data.length);
    }
  });
});
