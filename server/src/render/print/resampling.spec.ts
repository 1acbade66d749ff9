import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Affine, Pixels } from '@kettle/core/geometry';
import { average, compileResampler, stretch } from '@kettle/core/raster';
import sharp from 'sharp';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { drawLayers } from './draw-layers.js';

const kernel = compileResampler(readFileSync(fileURLToPath(import.meta.resolve('@kettle/core/resample.wasm'))));

const picture = (width: number, height: number, colour: (x: number, y: number) => readonly number[]): Pixels => {
  const data = Buffer.alloc(width * height * 4);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) data.set(colour(x, y), (y * width + x) * 4);
  return { width, height, data };
};
const HARD = [200, 30, 90, 255] as const;
const square = picture(180, 180, (x, y) => (x >= 40 && x < 140 && y >= 40 && y < 140 ? HARD : [0, 0, 0, 0]));
const noise = (x: number, y: number, k: number) => Math.abs(Math.sin(x * 12.9898 + y * 78.233 + k) * 43758.5453) % 1;
/** Soft alpha, hard edges, and colours that change from pixel to pixel. */
const rough = picture(150, 130, (x, y) =>
  [
    noise(x, y, 1) * 255,
    noise(x >> 2, y >> 3, 2) * 255,
    (x * 255) / 150,
    noise(x >> 4, y >> 4, 3) > 0.4 ? noise(x >> 1, y >> 2, 4) * 255 : 0,
  ].map(Math.round),
);

/** The same filter written out in doubles, two-dimensional, in premultiplied sRGB values. */
function plainly(source: Pixels, width: number, height: number): { data: Float64Array; width: number; height: number } {
  const cubic = (x: number) => {
    const d = Math.abs(x);
    return d < 1 ? 1.5 * d ** 3 - 2.5 * d ** 2 + 1 : d < 2 ? -0.5 * d ** 3 + 2.5 * d ** 2 - 4 * d + 2 : 0;
  };
  const axis = (from: number, to: number) =>
    Array.from({ length: to }, (_, i) => {
      const step = from / to;
      const reach = Math.max(1, step);
      const taps = Array.from({ length: from }, (_unused, k) => cubic((k + 0.5 - (i + 0.5) * step) / reach));
      const sum = taps.reduce((a, b) => a + b, 0);
      return taps.map((tap) => tap / sum);
    });
  const [across, down] = [axis(source.width, width), axis(source.height, height)];
  const data = new Float64Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const sum = [0, 0, 0, 0];
      down[y].forEach((v, j) => {
        if (v)
          across[x].forEach((h, i) => {
            if (h) {
              const s = (j * source.width + i) * 4;
              const a = source.data[s + 3] / 255;
              for (let c = 0; c < 3; c++) sum[c] += v * h * source.data[s + c] * a;
              sum[3] += v * h * source.data[s + 3];
            }
          });
      });
      data.set(sum, (y * width + x) * 4);
    }
  return { data, width, height };
}

/** Largest difference of the two as seen on a ground, levels. */
function seenOn(ground: readonly number[], made: Pixels, wanted: { data: Float64Array }): number {
  let most = 0;
  for (let i = 0; i < made.data.length; i += 4) {
    const a = made.data[i + 3] / 255;
    const wa = Math.min(1, Math.max(0, wanted.data[i + 3] / 255));
    for (let c = 0; c < 3; c++) {
      const straight =
        wanted.data[i + 3] > 0.5 ? Math.min(255, Math.max(0, (wanted.data[i + c] * 255) / wanted.data[i + 3])) : 0;
      most = Math.max(
        most,
        Math.abs(made.data[i + c] * a + ground[c] * (1 - a) - straight * wa - ground[c] * (1 - wa)),
      );
    }
  }
  return most;
}

describe('a resized picture', () => {
  it('is an independent resize of premultiplied values to two levels, seen on black, white and red', () => {
    for (const source of [square, rough]) {
      for (const [width, height] of [
        [77, 77],
        [150, 61],
        [311, 290],
        [180, 33],
      ]) {
        const made = stretch(
          kernel,
          source,
          { from: 0, to: width },
          { from: 0, to: height },
          { x: 0, y: 0, width, height },
        );
        const wanted = plainly(source, width, height);
        for (const ground of [
          [0, 0, 0],
          [255, 255, 255],
          [255, 0, 0],
        ])
          expect(seenOn(ground, made, wanted))
            .withContext(`${width} × ${height} on ${ground}`)
            .toBeLessThan(2);
      }
    }
  });

  it('keeps a hard edge’s own colour, has nothing outside the art’s reach and no dip inside it', () => {
    for (const size of [83, 120, 179, 250, 431]) {
      const { data } = stretch(
        kernel,
        square,
        { from: 0, to: size },
        { from: 0, to: size },
        { x: 0, y: 0, width: size, height: size },
      );
      const factor = size / 180;
      // A cubic reaches two source pixels, or two of its own when they are coarser; its second half is negative and
      // cut off.
      const reach = Math.max(1, factor) + 0.5;
      for (let y = 0; y < size; y++)
        for (let x = 0; x < size; x++) {
          const [r, g, b, a] = data.subarray((y * size + x) * 4, (y * size + x) * 4 + 4);
          const outside = Math.max(
            40 * factor - x - 0.5,
            x + 0.5 - 140 * factor,
            40 * factor - y - 0.5,
            y + 0.5 - 140 * factor,
          );
          if (outside > reach) expect(a).withContext(`${size}: ${x}, ${y}`).toBe(0);
          if (outside < -reach) expect(a).withContext(`${size}: ${x}, ${y}`).toBe(255);
          if (a > 0)
            expect(Math.max(Math.abs(r - 200), Math.abs(g - 30), Math.abs(b - 90)))
              .withContext(`${size}: ${x}, ${y} is ${[r, g, b, a]}`)
              .toBeLessThanOrEqual(1);
        }
    }
  });

  it('is the same whole or seen through a window, and mirrored it is its mirror image', () => {
    const whole = stretch(
      kernel,
      rough,
      { from: 3, to: 214 },
      { from: -20, to: 99 },
      { x: 0, y: 0, width: 230, height: 100 },
    );
    const part = stretch(
      kernel,
      rough,
      { from: 3, to: 214 },
      { from: -20, to: 99 },
      { x: 57, y: 31, width: 40, height: 50 },
    );
    for (let y = 0; y < 50; y++)
      for (let x = 0; x < 160; x++) expect(part.data[y * 160 + x]).toBe(whole.data[((y + 31) * 230 + 57) * 4 + x]);
    const mirrored = stretch(
      kernel,
      rough,
      { from: 214, to: 3 },
      { from: -20, to: 99 },
      { x: 3, y: 0, width: 211, height: 99 },
    );
    for (let y = 0; y < 99; y++)
      for (let x = 0; x < 211; x++)
        for (let c = 0; c < 4; c++)
          expect(
            Math.abs(mirrored.data[(y * 211 + 210 - x) * 4 + c] - whole.data[(y * 230 + 3 + x) * 4 + c]),
          ).toBeLessThanOrEqual(1);
  });
});

describe('pictures that meet the canvas’s edge or each other', () => {
  let folder = '';
  const files: Record<string, string> = {};
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-edges-'));
    const save = async (name: string, { width, height, data }: Pixels) => {
      files[name] = join(folder, name);
      await writeFile(
        files[name],
        await sharp(data as Buffer, { raw: { width, height, channels: 4 } })
          .png()
          .toBuffer(),
      );
    };
    await save(
      'full',
      picture(120, 90, () => HARD),
    );
    await save(
      'ramp',
      picture(64, 64, (x) => [x * 4, 128, 60, 255]),
    );
    files['svg'] = join(folder, 'svg');
    await writeFile(
      files['svg'],
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 120 90"><rect width="100%" height="100%" fill="#c81e5a"/></svg>',
    );
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));
  const clear = ({ data }: Pixels) => {
    let count = 0;
    for (let i = 3; i < data.length; i += 4) if (data[i] < 255) count++;
    return count;
  };
  const draw = (layers: [string, Affine][], width = 300, height = 200, subpixel = false) =>
    drawLayers(
      { width, height },
      layers.map(([sha256, map]) => ({ sha256, map, opacity: 1 })),
      files,
      { subpixel },
    );

  it('cover it whole: upright, mirrored, on their head, on their side, or turned by a hair', async () => {
    const hair = (0.001 * Math.PI) / 180;
    const maps: Affine[] = [
      [300, 0, 0, 200, 0, 0],
      [-300, 0, 0, 200, 300, 0],
      [300, 0, 0, -200, 0, 200],
      [-300, 0, 0, -200, 300, 200],
      [0, 200, -300, 0, 300, 0],
      [0, -200, 300, 0, 0, 200],
      [300 * Math.cos(hair), 300 * Math.sin(hair), -200 * Math.sin(hair), 200 * Math.cos(hair), 0, 0],
    ];
    for (const map of maps)
      for (const file of ['full', 'svg']) {
        const drawn = await draw([[file, map]]);
        expect(clear(drawn)).withContext(`${file} ${map}`).toBe(0);
        expect([...drawn.data.subarray(0, 4)])
          .withContext(`${file} ${map}`)
          .toEqual([...HARD]);
      }
  });

  it('are where they belong when mirrored and enlarged', async () => {
    // A ramp of 64 steps over 640 px: the middle of step k lies at 10 k + 5 from its own left edge.
    const { data, width } = await draw([['ramp', [-640, 0, 0, 200, 640, 0]]], 640, 200);
    for (const k of [4, 20, 33, 58])
      expect(Math.abs(data[(100 * width + (639 - (10 * k + 5))) * 4] - k * 4))
        .withContext(`step ${k}`)
        .toBeLessThanOrEqual(1);
  });

  it('leave no gap between each other, whatever the fractions of their edges', async () => {
    for (const cut of [100.3, 100.49, 100.5, 100.51, 149.999]) {
      expect(
        clear(
          await draw([
            ['full', [cut, 0, 0, 200, 0, 0]],
            ['full', [300 - cut, 0, 0, 200, cut, 0]],
          ]),
        ),
      )
        .withContext(`cut at ${cut}`)
        .toBe(0);
      expect(
        clear(
          await draw([
            ['full', [cut, 0, 0, 200, 0, 0]],
            ['svg', [300 - cut, 0, 0, 200, cut, 0]],
          ]),
        ),
      )
        .withContext(`cut at ${cut}`)
        .toBe(0);
    }
  });

  it('turned, have a smooth edge of their own colour', async () => {
    const turn = (30 * Math.PI) / 180;
    const { data } = await draw([
      ['full', [150 * Math.cos(turn), 150 * Math.sin(turn), -80 * Math.sin(turn), 80 * Math.cos(turn), 100, 30]],
    ]);
    let soft = 0;
    let area = 0;
    for (let i = 0; i < data.length; i += 4) {
      area += data[i + 3] / 255;
      if (data[i + 3] === 0) continue;
      if (data[i + 3] < 255) soft++;
      expect(
        Math.max(Math.abs(data[i] - 200), Math.abs(data[i + 1] - 30), Math.abs(data[i + 2] - 90)),
      ).toBeLessThanOrEqual(2);
    }
    expect(soft).toBeGreaterThan(200);
    expect(Math.abs(area - 150 * 80)).toBeLessThan(12);
  });
});

describe('a picture on a coarser grid', () => {
  /** The mean of each cell's area in doubles, premultiplied: every pixel shared out to the cells it lies in. */
  const shared = ({ width, height, data }: Pixels, grid: { width: number; height: number }): Float64Array => {
    const sums = new Float64Array(grid.width * grid.height * 4);
    const overlap = (cell: number, step: number, px: number) =>
      Math.max(0, Math.min(px + 1, (cell + 1) * step) - Math.max(px, cell * step)) / step;
    for (let j = 0; j < grid.height; j++)
      for (let i = 0; i < grid.width; i++)
        for (let y = 0; y < height; y++) {
          const down = overlap(j, height / grid.height, y);
          if (down)
            for (let x = 0; x < width; x++) {
              const part = down * overlap(i, width / grid.width, x);
              const [from, to] = [(y * width + x) * 4, (j * grid.width + i) * 4];
              if (part) for (let k = 0; k < 3; k++) sums[to + k] += (part * data[from + k] * data[from + 3]) / 255;
              if (part) sums[to + 3] += part * data[from + 3];
            }
        }
    return sums;
  };

  it('has in each cell the mean of its area, also where cells end between pixels, and counts clear pixels', () => {
    // Opaque, clear and mixed runs of every length around four, which are summed in different ways.
    const runs = picture(97, 61, (x, y) => {
      const kind = (x * 7 + y * 13) % 31;
      return [noise(x, y, 5) * 255, x, y, kind < 12 ? 255 : kind < 22 ? 0 : 5 * kind].map(Math.round);
    });
    for (const source of [runs, rough, square])
      for (const grid of [
        { width: 10, height: 7 },
        { width: 33, height: 61 },
        { width: 1, height: 1 },
        { width: source.width, height: source.height },
        { width: 200, height: 150 },
      ]) {
        const found = average(kernel, source, grid);
        const wanted = shared(source, grid);
        let most = 0;
        for (let i = 0; i < found.data.length; i += 4) {
          most = Math.max(most, Math.abs(found.data[i + 3] - wanted[i + 3]));
          for (let k = 0; k < 3; k++)
            most = Math.max(most, Math.abs((found.data[i + k] * found.data[i + 3]) / 255 - wanted[i + k]));
        }
        // Half a level of alpha and half a level of colour, each by its rounding.
        expect(most).withContext(`${source.width} px to ${grid.width} × ${grid.height}`).toBeLessThan(1.01);
        let clear = 0;
        for (let i = 3; i < source.data.length; i += 4) if (source.data[i] === 0) clear++;
        expect(found.clearShare).toBeCloseTo(clear / (source.width * source.height), 9);
      }
  });
});
