import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Pixels } from '@kettle/core/geometry';
import { linearOf, rgbOf } from '@kettle/core/colour';
import type { Blank } from '@kettle/core/model';
import { viewOf, type SceneKernel } from '@kettle/core/mockup';
import { layArea, lightOf, ownBlankMaps, type AreaShape, type FoundLight } from '@kettle/core/own-blank';
import { BLANKS } from '../../floor/files/shipped.js';
import { packIn, readyBlank } from './blank-pack.js';

const SIZE = 800;

describe('light found on a photo', () => {
  const kernels = new Map<string, { kernel: SceneKernel; blank: Blank }>();
  beforeAll(async () => {
    for (const id of ['tee-front', 'mug-front', 'tote']) {
      const blank = JSON.parse(await readFile(join(BLANKS, id, 'blank.json'), 'utf8')) as Blank;
      const area = [{ areaId: blank.areas[0].id }];
      kernels.set(id, {
        blank,
        kernel: await readyBlank(packIn(join(BLANKS, id), blank), blank, area, viewOf(blank, null, SIZE)),
      });
    }
  });

  /** A shipped blank in a colour, as if it were a photo. */
  function photographed(id: string, garment: string): Pixels {
    const { kernel, blank } = kernels.get(id)!;
    const { data, width, height } = kernel.render(
      { garment, backdrop: blank.backdrop, inkOpacity: 1, shadow: blank.shadowStrength },
      [],
    );
    return { width, height, data: new Uint8Array(data) };
  }

  /** Its own light, as its maps have it: what falls on it and what it throws on itself. */
  function ownLight(id: string, garment: string): Float32Array {
    const { kernel, blank } = kernels.get(id)!;
    const { shade } = kernel.maps;
    const { r, g, b } = rgbOf(garment);
    const colour = [r, g, b].map((v) => linearOf(v / 255));
    const strongest = Math.max(...colour);
    const code = (value: number): number => 2 * (value / 255) ** 2;
    return Float32Array.from(
      { length: SIZE * SIZE },
      (_, i) => code(shade[i * 4]) + (code(shade[i * 4 + 1]) * strongest) / blank.albedo,
    );
  }

  /**
   * Mean difference of the light that was found from the pack's own, both as shares of what is usual for each, inside
   * the product; and how alike their folds are, as a correlation.
   */
  function compared(id: string, garment: string, { light }: FoundLight): { off: number; alike: number } {
    const { mask } = kernels.get(id)!.kernel.maps;
    const own = ownLight(id, garment);
    const inside = [...mask.keys()].filter((i) => mask[i] === 255);
    const median = (plane: Float32Array): number =>
      inside.map((i) => plane[i]).sort((a, b) => a - b)[inside.length >> 1];
    const [mine, theirs] = [median(light), median(own)];
    let [off, a, b, aa, bb, ab] = [0, 0, 0, 0, 0, 0];
    for (const i of inside) {
      const [x, y] = [light[i] / mine, own[i] / theirs];
      off += Math.abs(x - y);
      a += x;
      b += y;
      aa += x * x;
      bb += y * y;
      ab += x * y;
    }
    const n = inside.length;
    return {
      off: off / n,
      alike: (ab / n - (a * b) / n ** 2) / Math.sqrt((aa / n - (a / n) ** 2) * (bb / n - (b / n) ** 2)),
    };
  }
  const told = (name: string, found: object): void => {
    if (process.env['KETTLE_TRUTH']) console.log(name, JSON.stringify(found));
  };
  const maskOf = (id: string): Uint8Array => kernels.get(id)!.kernel.maps.mask;
  const find = (id: string, { data, width, height }: Pixels): FoundLight =>
    lightOf(data as Uint8Array, maskOf(id), width, height);

  it('is the light of the pack, whatever colour the product was photographed in', () => {
    for (const [id, garment, most] of [
      ['tee-front', '#F5F3EE', 0.06],
      ['tee-front', '#A5442F', 0.06],
      ['tee-front', '#D9A93B', 0.06],
      ['tee-front', '#59616B', 0.09],
      ['tote', '#1F6B6B', 0.06],
      ['mug-front', '#F7F7F4', 0.12],
    ] as const) {
      const found = find(id, photographed(id, garment));
      const { off, alike } = compared(id, garment, found);
      told(`${id} ${garment}`, { off, alike, hex: found.hex, doubts: found.doubts.length });
      expect(off).withContext(`${id} ${garment}`).toBeLessThan(most);
      expect(alike).withContext(`${id} ${garment}`).toBeGreaterThan(0.9);
      expect(found.doubts).withContext(`${id} ${garment}`).toEqual([]);
    }
  });

  it('takes the colour out: a red shirt becomes a white one with the folds of a white one', () => {
    const [red, white] = ['#A5442F', '#F5F3EE'].map((garment) => find('tee-front', photographed('tee-front', garment)));
    const inside = [...maskOf('tee-front').keys()].filter((i) => maskOf('tee-front')[i] === 255);
    const mean = inside.reduce((sum, i) => sum + Math.abs(red.light[i] - white.light[i]), 0) / inside.length;
    expect(mean).toBeLessThan(0.06);
    const { r, g, b } = rgbOf(red.hex);
    expect(r).toBeGreaterThan(g * 1.8);
    expect(r).toBeGreaterThan(b * 2);
  });

  it('is found on six difficult photos, and says what could not be told', async () => {
    const base = photographed('tee-front', '#A5442F');
    const raw = { raw: { width: SIZE, height: SIZE, channels: 4 as const } };
    const decode = async (bytes: Buffer): Promise<Pixels> => ({
      width: SIZE,
      height: SIZE,
      data: new Uint8Array(await sharp(bytes).ensureAlpha().raw().toBuffer()),
    });
    let seed = 7;
    const random = (): number => ((seed = (seed * 16807) % 2147483647) / 2147483647) * 2 - 1;
    const noisy = (pixels: Pixels, levels: number): Pixels => ({
      ...pixels,
      data: pixels.data.map((value, i) =>
        i % 4 === 3 ? value : Math.min(255, Math.max(0, value + levels * (random() + random() + random()))),
      ),
    });
    const dark = photographed('tee-front', '#1B1B1D');
    const striped = ((): Pixels => {
      const [one, other] = [photographed('tee-front', '#F5F3EE'), photographed('tee-front', '#1F2B4D')];
      const data = one.data.slice() as Uint8Array;
      const mask = maskOf('tee-front');
      for (let y = 0; y < SIZE; y++)
        if (Math.floor(y / 22) % 2)
          for (let x = 0; x < SIZE; x++) {
            const i = y * SIZE + x;
            if (mask[i]) data.set(other.data.subarray(i * 4, i * 4 + 4), i * 4);
          }
      return { ...one, data };
    })();
    const photos: readonly (readonly [string, Pixels, string, number, number])[] = [
      // Sheen and light cannot be told apart on black: about half of the folds' strength is off, and it is said.
      ['dark cloth', dark, '#1B1B1D', 0.45, 0.5],
      ['a pattern', striped, '#F5F3EE', 0.2, 0.6],
      ['low light', { ...base, data: base.data.map((v, i) => (i % 4 === 3 ? v : v * 0.32)) }, '#A5442F', 0.12, 0.85],
      [
        'JPEG 60',
        await decode(
          await sharp(base.data as Uint8Array, raw)
            .jpeg({ quality: 60 })
            .toBuffer(),
        ),
        '#A5442F',
        0.07,
        0.9,
      ],
      ['noise', noisy(base, 6), '#A5442F', 0.09, 0.88],
    ];
    const doubts: Record<string, string> = {};
    for (const [name, photo, garment, off, alike] of photos) {
      const found = find('tee-front', photo);
      const result = compared('tee-front', garment, found);
      told(name, { ...result, doubts: found.doubts });
      doubts[name] = found.doubts.join(' ');
      expect(result.off).withContext(name).toBeLessThan(off);
      expect(result.alike).withContext(name).toBeGreaterThan(alike);
    }
    expect(doubts['dark cloth']).toContain('very dark');
    expect(doubts['a pattern']).toContain('has a pattern');
    expect([doubts['JPEG 60'], doubts['noise']]).toEqual(['', '']);
  });

  it('goes with a product that was photographed at a tilt: the area is where its corners are', () => {
    // The corners of a square turned by 12 degrees and seen from the left.
    const shape: AreaShape = {
      kind: 'corners',
      corners: [
        { x: 0.34, y: 0.3 },
        { x: 0.62, y: 0.36 },
        { x: 0.58, y: 0.66 },
        { x: 0.31, y: 0.56 },
      ],
    };
    const { u, v, coverage } = layArea(shape, SIZE, SIZE);
    const at = ({ x, y }: { x: number; y: number }) => Math.floor(y * SIZE) * SIZE + Math.floor(x * SIZE);
    const corners = [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ];
    shape.corners.forEach((corner, i) => {
      expect(u[at(corner)]).toBeCloseTo(corners[i][0], 1);
      expect(v[at(corner)]).toBeCloseTo(corners[i][1], 1);
    });
    // Where the diagonals cross is the middle, however it is seen.
    const [a, b, c, d] = shape.corners;
    const t =
      ((b.x - a.x) * (d.y - b.y) - (b.y - a.y) * (d.x - b.x)) / ((c.x - a.x) * (d.y - b.y) - (c.y - a.y) * (d.x - b.x));
    const middle = at({ x: a.x + (c.x - a.x) * t, y: a.y + (c.y - a.y) * t });
    expect(u[middle]).toBeCloseTo(0.5, 2);
    expect(v[middle]).toBeCloseTo(0.5, 2);
    const area = coverage.reduce((sum, value) => sum + value, 0);
    const shoelace = shape.corners.reduce((sum, one, i) => {
      const next = shape.corners[(i + 1) % 4];
      return sum + (one.x * next.y - next.x * one.y) / 2;
    }, 0);
    expect(area / (shoelace * SIZE * SIZE)).toBeCloseTo(1, 2);
  });

  it('leaves what is in front in front, and moves the print along folds when it is asked to', () => {
    const photo = photographed('tee-front', '#A5442F');
    const cut = { ...photo, data: photo.data.slice() as Uint8Array };
    const mask = maskOf('tee-front');
    for (let i = 0; i < SIZE * SIZE; i++) cut.data[i * 4 + 3] = mask[i];
    // A strap across the chest: rubbed away, so it is no product.
    for (let y = 300; y < 330; y++) for (let x = 0; x < SIZE; x++) cut.data[(y * SIZE + x) * 4 + 3] = 0;
    const shape: AreaShape = {
      kind: 'corners',
      corners: [
        { x: 0.38, y: 0.25 },
        { x: 0.66, y: 0.25 },
        { x: 0.66, y: 0.65 },
        { x: 0.38, y: 0.65 },
      ],
    };
    const [flat, folded] = [0, 1].map((folds) => ownBlankMaps(photo, cut, { shape, inRoom: true, folds }));
    const covered = (maps: typeof flat, x: number, y: number) => maps.uv.data[(y * SIZE + x) * 3 + 2];
    expect(covered(flat, 400, 280)).toBe(255);
    expect(covered(flat, 400, 315)).toBe(0);
    const uAt = ({ uv }: typeof flat, i: number) => uv.data[i * 3] * 256 + uv.data[SIZE * SIZE * 3 + i * 3];
    let [moved, most, count] = [0, 0, 0];
    for (let y = 350; y < 500; y++)
      for (let x = 320; x < 510; x++) {
        const off = (Math.abs(uAt(flat, y * SIZE + x) - uAt(folded, y * SIZE + x)) / 65535) * 0.28 * SIZE;
        moved += off;
        most = Math.max(most, off);
        count++;
      }
    told('folds', { mean: moved / count, most });
    // Pixels: seen, and no tearing.
    expect(moved / count).toBeGreaterThan(0.15);
    expect(most).toBeLessThan(8);
  });
});
