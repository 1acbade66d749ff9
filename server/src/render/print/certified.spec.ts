import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { compose, rotate, scale, translate } from '@kettle/core/geometry';
import { deltaE2000, labOf } from '@kettle/core/colour';
import type { PrintRecipe, RecipeLayer } from '@kettle/core/recipes';
import sharp from 'sharp';
import { shippedProfile } from '../colour/profiles.js';
import { encodePrintFile, makePrintFile, readBack } from './print-file.js';

/** Mulberry32: the same designs each time. */
function randomOf(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const KINDS: readonly Partial<PrintRecipe>[] = [
  {},
  { type: 'tiff', packing: 'lzw', mode: 'cmyk', conversion: { profile: null, intent: 'relative', blackPoint: true } },
  { type: 'pdf' },
  { mode: 'grey' },
];
/** Designs, and faults, of each kind: a few in every run of the tests, two hundred of each where somebody asks for them. */
const COUNT = process.env['KETTLE_MANY'] ? 50 : 6;
const hex = (rgb: readonly number[]): string =>
  `#${rgb.map((v) => Math.round(v).toString(16).padStart(2, '0')).join('')}`;

describe('the certificate', () => {
  let folder = '';
  const files: Record<string, string> = {};
  const pictures: string[] = [];
  const random = randomOf(20_261_201);
  const between = (least: number, most: number) => least + random() * (most - least);
  const one = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)];
  const colour = (): number[] => [between(0, 255), between(0, 255), between(0, 255)].map(Math.floor);

  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-certified-'));
    const chart = Array.from({ length: 64 }, () => [...colour(), 255]);
    const draw: Record<string, readonly [size: number, at: (x: number, y: number) => number[]]> = {
      chart: [400, (x, y) => chart[Math.floor(x / 50) + 8 * Math.floor(y / 50)]],
      'pixel art': [48, (x, y) => (random() > 0.8 ? [0, 0, 0, 0] : chart[((x * 7 + y * 13) ^ (x * y)) % 16])],
      plaid: [350, (x, y) => [x % 14 < 7 ? 200 : 30, y % 18 < 9 ? 180 : 40, (x + y) % 22 < 11 ? 90 : 220, 255]],
      stripes: [500, (x) => (x % 20 < 10 ? [20, 20, 20, 255] : [240, 200, 40, 255])],
      'clear stripes': [900, (x) => (x % 27 < 13 ? [20, 20, 120, 255] : [0, 0, 0, 0])],
      grain: [
        450,
        (x, y) =>
          [120 + 90 * Math.sin(x / 90), 120 + 90 * Math.sin(y / 70), 100, 765].map((v) =>
            Math.min(255, v + between(-30, 30)),
          ),
      ],
      dots: [500, (x, y) => (Math.hypot((x % 12) - 6, (y % 12) - 6) < 2 + x / 125 ? [10, 10, 10, 255] : [0, 0, 0, 0])],
    };
    for (const [name, [size, at]] of Object.entries(draw)) {
      const data = Buffer.alloc(size * size * 4);
      for (let y = 0; y < size; y++)
        for (let x = 0; x < size; x++) data.set(at(x, y).map(Math.round), (y * size + x) * 4);
      files[name] = join(folder, name);
      await writeFile(
        files[name],
        await sharp(data, { raw: { width: size, height: size, channels: 4 } })
          .png()
          .toBuffer(),
      );
      pictures.push(name);
    }
    files['drawing'] = join(folder, 'drawing');
    await writeFile(
      files['drawing'],
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><defs><linearGradient id="g"><stop offset="0" stop-color="#1f7f7a"/><stop offset="1" stop-color="#d9642f" stop-opacity=".4"/></linearGradient><clipPath id="c"><path d="M10 50a40 40 0 1 1 80 0a40 40 0 1 1 -80 0ZM40 60H95V95H40Z"/></clipPath></defs><g clip-path="url(#c)"><rect width="100" height="100" fill="url(#g)"/><path d="M0 20L100 70M0 40L100 90" stroke="#fff" stroke-width="3"/></g></svg>',
    );
    pictures.push('drawing');
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  /** Letters of no alphabet: bars and bowls, some 5 mm high. */
  const letters = (count: number, fill: string): string[] =>
    Array.from({ length: count }, (_, i) => {
      const x = i * 80;
      return `<path fill="${fill}" d="M${x} 0h18v100h-18Z${i % 2 ? `M${x} 40h60v16h-60Z` : `M${x + 18} 10a25 25 0 1 1 0 50v-14a11 11 0 1 0 0 -22Z`}"/>`;
    });
  const lettering = (glyphs: readonly string[], width: number, at: readonly [number, number]): RecipeLayer => ({
    sha256: null,
    drawing: [{ view: { x: 0, y: 0, width: 480, height: 100 }, body: glyphs.join(''), erase: false }],
    map: [width, 0, 0, (width * 100) / 480, at[0], at[1]],
    opacity: 1,
  });
  const patch = (fill: string, size: number, at: readonly [number, number]): RecipeLayer => ({
    sha256: null,
    drawing: [
      {
        view: { x: 0, y: 0, width: 10, height: 10 },
        body: `<rect width="10" height="10" rx="2" fill="${fill}"/>`,
        erase: false,
      },
    ],
    map: [size, 0, 0, size, at[0], at[1]],
    opacity: 1,
  });

  /** A design of mixed layers, with lettering and a patch of a colour on top. */
  function design(kind: Partial<PrintRecipe>) {
    const [widthPx, heightPx] = [Math.round(between(380, 620)), Math.round(between(420, 700))];
    const layers = Array.from({ length: 1 + Math.floor(random() * 3) }, (): RecipeLayer => {
      const width = between(0.4, 1.3) * widthPx;
      return {
        sha256: one(pictures),
        map: compose(
          translate(between(0.3, 0.7) * widthPx, between(0.3, 0.7) * heightPx),
          rotate(one([0, 0, 90, between(-40, 40)])),
          scale(width * one([1, 1, -1]), width * between(0.8, 1.2)),
          translate(-0.5, -0.5),
        ),
        opacity: one([1, 1, between(0.3, 0.9)]),
        ...(random() < 0.2 ? { blend: one(['multiply', 'screen', 'overlay'] as const) } : {}),
      };
    });
    // Colours that a press can hold, so that a fault in them is one of the print too.
    const [ink, tint] = [colour(), colour().map((v) => Math.round(100 + v * 0.35))];
    const [size, wide] = [between(40, 90), between(180, 300)];
    const recipe = (
      change: { tint?: number[]; glyphs?: string[]; shift?: number; mode?: Partial<PrintRecipe> } = {},
    ): PrintRecipe => ({
      kind: 'print-file',
      engine: 3,
      widthPx,
      heightPx,
      dpi: 100,
      mode: 'rgb',
      alpha: true,
      ...kind,
      layers: [
        ...layers,
        patch(hex(change.tint ?? tint), size, [20 + (change.shift ?? 0), heightPx - 120]),
        patch('#f4f4f0', 340, [20, 10]),
        lettering(change.glyphs ?? letters(6, hex(ink.map((v) => v * 0.6))), wide, [40, 40]),
      ],
      requirement: { id: 'r', revision: 1 },
      ...change.mode,
    });
    return { recipe, ink, tint };
  }
  const out = (): string => join(folder, 'out');

  KINDS.forEach((kind, k) =>
    it(`accepts what is right: designs of mixed layers as ${kind.type ?? 'png'} in ${kind.mode ?? 'rgb'}`, async () => {
      for (let i = 0; i < COUNT; i++) {
        const recipe = design(kind).recipe();
        const { facts } = await makePrintFile(recipe, files, out());
        expect(facts.likeness)
          .withContext(
            `design ${i} of kind ${k}: ${recipe.layers.map(({ sha256, blend, opacity }) => [sha256, blend, opacity].join(' ')).join()} ${JSON.stringify(facts.likeness)}`,
          )
          .toEqual(jasmine.objectContaining({ ok: true }));
      }
    }, 600_000),
  );

  it('accepts grain and dots that are finer than its first second drawing, and refuses a colour among them', async () => {
    const [width, height] = [2300, 2700];
    const data = Buffer.alloc(width * height * 4, 255);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const at = (y * width + x) * 4;
        const isDot = Math.hypot((x % 24) - 12, (y % 24) - 12) < 4 + (7 * x) / width;
        const ink =
          y < height / 2
            ? isDot
              ? [20, 20, 20]
              : [255, 230, 0]
            : [(x * 255) / width, (y * 255) / height, 0].map((v) => Math.min(255, v + random() * 60));
        for (let k = 0; k < 3; k++) data[at + k] = ink[k];
      }
    files['fine'] = join(folder, 'fine');
    await sharp(data, { raw: { width, height, channels: 4 } })
      .png({ compressionLevel: 1 })
      .toFile(files['fine']);
    const recipe = (fill: string): PrintRecipe => ({
      ...design(KINDS.find(({ conversion }) => conversion)!).recipe(),
      widthPx: width,
      heightPx: height,
      dpi: 150,
      layers: [{ sha256: 'fine', map: [width, 0, 0, height, 0, 0], opacity: 1 }, patch(fill, 300, [900, 1200])],
    });
    const right = recipe('#8a6a58');
    const { facts } = await makePrintFile(right, files, out());
    expect(facts.likeness)
      .withContext(JSON.stringify(facts.likeness))
      .toEqual(jasmine.objectContaining({ ok: true }));
    await writeFile(out(), Buffer.concat(await encodePrintFile(recipe('#7a6a68'), files)));
    expect((await readBack(out(), right, files)).likeness?.ok).toBeFalse();
  });

  /** A colour that is so far from another as an eye that compares them sees at once. */
  function another(rgb: readonly number[], apart: number): number[] {
    for (;;) {
      const found = rgb.map((v) => Math.round(Math.max(0, Math.min(255, v + between(-60, 60)))));
      const [a, b] = [rgb, found].map(([r, g, b]) => labOf({ r, g, b }));
      const delta = deltaE2000(a, b);
      if (delta > apart && delta < apart + 1.5) return found;
    }
  }

  /** A colour that is another grey too. */
  const lighter = (rgb: readonly number[]): number[] =>
    rgb.map((v) => Math.max(0, Math.min(255, v + (rgb[1] > 127 ? -30 : 30))));

  KINDS.forEach((kind) =>
    it(`refuses what is wrong: faults in files as ${kind.type ?? 'png'} in ${kind.mode ?? 'rgb'}`, async () => {
      for (let i = 0; i < COUNT; i++) {
        const { recipe, ink, tint } = design(kind);
        const whole = letters(6, hex(ink.map((v) => v * 0.6)));
        // 1 mm is 4 px here.
        const faults: readonly [string, PrintRecipe][] = [
          ['moved by 1 mm', recipe({ shift: 4 })],
          ['another colour', recipe({ tint: kind.mode === 'grey' ? lighter(tint) : another(tint, 6) })],
          ['a missing letter', recipe({ glyphs: whole.toSpliced(Math.floor(random() * 6), 1) })],
        ];
        const [name, wrong] = faults[i % 3];
        await writeFile(out(), Buffer.concat(await encodePrintFile(wrong, files)));
        expect((await readBack(out(), recipe(), files)).likeness?.ok)
          .withContext(`${name}, design ${i}: ${hex(tint)}`)
          .toBeFalse();
      }
    }, 600_000),
  );

  it('refuses a file that carries another profile than the one its inks were made for', async () => {
    // The same press, but for the day its profile was made: the inks are right, and who opens the file sees others.
    const press = Buffer.from(await shippedProfile());
    press.writeUInt16BE(1999, 24);
    files['other press'] = join(folder, 'other press');
    await writeFile(files['other press'], press);
    for (const type of ['tiff', 'pdf'] as const) {
      const { recipe } = design({ type, mode: 'cmyk' });
      const [right, wrong] = [null, 'other press'].map((profile) =>
        recipe({ mode: { conversion: { profile, intent: 'relative', blackPoint: true } } }),
      );
      expect((await makePrintFile(right, files, out())).facts.profileMeant)
        .withContext(type)
        .toBeUndefined();
      await writeFile(out(), Buffer.concat(await encodePrintFile(wrong, files)));
      const facts = await readBack(out(), right, files);
      expect(facts.profileMeant ?? null)
        .withContext(type)
        .toBe(facts.profile);
    }
  });
});
