import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { emptyDesign, type Blank, type PictureLayer, type Requirement } from '@kettle/core/model';
import {
  defaultScene,
  exposureOf,
  pictureRecipe,
  PLAIN_LOOK,
  placeScene,
  textureGrid,
  viewOf,
} from '@kettle/core/mockup';
import { artworkPath, DEMO_REQUIREMENTS } from '@kettle/demo';
import { BLANKS } from '../../floor/files/shipped.js';
import { packIn, readyBlank } from './blank-pack.js';
import { drawScene } from './picture.js';

/** Every how many pixels, along both axes, a picture is compared. */
const EVERY = 17;
/**
 * Where more than one level is allowed: the apron's print is small in its picture, and the art's grain lies between what
 * two filters let through.
 */
const ALLOWED: Readonly<Record<string, number>> = { apron: 1.5 };
const LINEAR = Float64Array.from({ length: 256 }, (_, code) => {
  const e = code / 255;
  return e <= 0.04045 ? e / 12.92 : ((e + 0.055) / 1.055) ** 2.4;
});
const linear = (code: number): number => LINEAR[code];
const encoded = (l: number): number => 255 * (l <= 0.0031308 ? l * 12.92 : 1.055 * Math.min(1, l) ** (1 / 2.4) - 0.055);
const hexLinear = (hex: string): number[] => [1, 3, 5].map((at) => linear(parseInt(hex.slice(at, at + 2), 16)));
const raw = async (path: string) => {
  const { data, info } = await sharp(path).raw().toBuffer({ resolveWithObject: true });
  return { data, ...info };
};

/** Print field of a design that is sold on several products. */
const FIELD = { width: 355.6, height: 406.4 };
/** A requirement of the demo. */
const demanded = (wanted: string): Requirement => ({
  ...DEMO_REQUIREMENTS.find(({ id }) => id === wanted)!,
  revision: 1,
});

interface Size {
  readonly width: number;
  readonly height: number;
}

interface Art {
  readonly width: number;
  readonly height: number;
  /** Premultiplied linear light and alpha, 0 to 1. */
  readonly light: Float32Array;
}

/** Art that was turned into light last: most blanks are printed with the same. */
const lights = new Map<string, Promise<Art>>();
const artAsLight = (path: string, factor: number): Promise<Art> => {
  const name = `${path} ${factor}`;
  if (!lights.has(name)) lights.set(name, turnIntoLight(path, factor));
  return lights.get(name)!;
};

/** The art as light, reduced by whole pixels to about `perPixel` of its pixels a picture pixel. */
async function turnIntoLight(path: string, factor: number): Promise<Art> {
  const { data, width: w, height: h } = await raw(path);
  const [width, height] = [Math.floor(w / factor), Math.floor(h / factor)];
  const light = new Float32Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let j = 0; j < factor; j++)
        for (let i = 0; i < factor; i++) {
          const s = ((y * factor + j) * w + x * factor + i) * 4;
          const alpha = data[s + 3] / 255 / factor ** 2;
          for (let k = 0; k < 3; k++) light[(y * width + x) * 4 + k] += linear(data[s + k]) * alpha;
          light[(y * width + x) * 4 + 3] += alpha;
        }
  return { width, height, light };
}

function sampled({ width, height, light }: Art, x: number, y: number): number[] {
  if (x < 0 || y < 0 || x >= width || y >= height) return [0, 0, 0, 0];
  const [cx, cy] = [Math.min(width - 1, Math.max(0, x - 0.5)), Math.min(height - 1, Math.max(0, y - 0.5))];
  const [x0, y0] = [Math.floor(cx), Math.floor(cy)];
  const [x1, y1] = [Math.min(width - 1, x0 + 1), Math.min(height - 1, y0 + 1)];
  const [fx, fy] = [cx - x0, cy - y0];
  const at = (i: number, j: number, k: number) => light[(j * width + i) * 4 + k];
  return [0, 1, 2, 3].map(
    (k) =>
      (at(x0, y0, k) * (1 - fx) + at(x1, y0, k) * fx) * (1 - fy) + (at(x0, y1, k) * (1 - fx) + at(x1, y1, k) * fx) * fy,
  );
}

/**
 * Draws a blank with art, and tells the mean differences of that picture from the formula of the packs' README, in
 * levels; positive is too light. Its `shift` is of the formula's art on the picture, px.
 * @param requirement the print is placed as it says; without one it is as large as it is
 */
async function differencesOf(
  id: string,
  artFor: (field: Size) => Promise<{ path: string; width: number }>,
  requirement: Requirement | null = null,
) {
  const folder = join(BLANKS, id);
  const blank = JSON.parse(await readFile(join(folder, 'blank.json'), 'utf8')) as Blank;
  const files = packIn(folder, blank);
  const area = blank.areas[0];
  // The art fills its canvas, which is as large as the print area in one direction and smaller in the other.
  const field = requirement ? FIELD : { width: area.widthMm * 0.93, height: area.heightMm };
  const { path: artPath, width: artWidth } = await artFor(field);
  const layer: PictureLayer = {
    kind: 'picture',
    id: 'a',
    name: 'Art',
    assetId: id,
    opacity: 1,
    hidden: false,
    place: { x: field.width / 2, y: field.height / 2, ...field, turn: 0, flipX: false, flipY: false },
  };
  const targets = requirement ? [{ requirementId: requirement.id }] : [];
  const design = { ...emptyDesign('Art', field), layers: [layer], targets };
  const scene = { ...defaultScene(blank, null), trueSize: requirement === null, look: PLAIN_LOOK };
  const kernel = await readyBlank(files, blank, [{ areaId: area.id }], viewOf(blank, null, blank.width));
  const grid = textureGrid(area, kernel.areaMaps(area.id).pixelsPerMm);
  const recipe = pictureRecipe(
    design,
    scene,
    { blank, pack: 'any' },
    [{ areaId: area.id, requirement, grid, part: { x: 0, y: 0, width: 1, height: 1 } }],
    { size: blank.width, format: 'png' },
    () => artPath,
  );
  const shown = (await drawScene(kernel, recipe, { [artPath]: artPath })).data;
  const { fieldToArea } = placeScene(design, blank, area, requirement, scene);

  const [photo, mask, shade, shadow, uv] = await Promise.all(
    [...Object.values(blank.files), area.uv].map((name) => raw(files[name])),
  );
  const { width, height } = blank;
  const gain = exposureOf(kernel.maps, blank.albedo);
  const art = await artAsLight(artPath, Math.max(1, Math.floor((artWidth / field.width) * (1 / (4 * grid.density)))));
  const [toX, toY] = [art.width / field.width, art.height / field.height];
  const uvAt = (x: number, y: number): [number, number, number] => {
    const [high, low] = [(y * width + x) * 3, ((y + height) * width + x) * 3];
    return [
      (uv.data[high] * 256 + uv.data[low]) / 65535,
      (uv.data[high + 1] * 256 + uv.data[low + 1]) / 65535,
      uv.data[high + 2] / 255,
    ];
  };
  const [garment, backdrop] = [hexLinear(scene.garment), hexLinear(scene.backdrop)];
  const code = (value: number): number => 2 * (value / 255) ** 2 * gain;
  return (shift: readonly [number, number] = [0, 0]) => {
    const sums = { in: [0, 0, 0], out: [0, 0, 0] };
    for (let y = 4; y < height - 4; y += EVERY)
      for (let x = 4; x < width - 4; x += EVERY) {
        const at = y * width + x;
        const [u, v, c] = uvAt(x, y);
        let ink = [0, 0, 0, 0];
        if (c > 0) {
          const across = [uvAt(x - 1, y), uvAt(x + 1, y)];
          const down = [uvAt(x, y - 1), uvAt(x, y + 1)];
          // At the rim of the area its neighbours are not there: those few are left out.
          if ([...across, ...down].some(([, , cover]) => cover < 1)) continue;
          const step = [0, 1].map((k) => [(across[1][k] - across[0][k]) / 2, (down[1][k] - down[0][k]) / 2]);
          for (let j = 0; j < 4; j++)
            for (let i = 0; i < 4; i++) {
              const [su, sv] = [0, 1].map(
                (k) => [u, v][k] + step[k][0] * ((i - 1.5) / 4 + shift[0]) + step[k][1] * ((j - 1.5) / 4 + shift[1]),
              );
              const [fx, fy] = [
                (su * area.widthMm - fieldToArea[4]) / fieldToArea[0],
                (sv * area.heightMm - fieldToArea[5]) / fieldToArea[3],
              ];
              const one = sampled(art, fx * toX, fy * toY);
              ink = ink.map((value, k) => value + one[k] / 16);
            }
        }
        const surface = garment.map((value, k) => value * (1 - ink[3] * c) + ink[k] * c);
        const most = Math.max(1e-5, ...surface);
        const alpha = photo.channels === 4 ? photo.data[at * 4 + 3] / 255 : 1;
        const covered = Math.min(1, alpha ? mask.data[at * mask.channels] / 255 / alpha : 0);
        const shadowCode = (() => {
          const [sx, sy] = [x / 2 - 0.25, y / 2 - 0.25];
          const [x0, y0] = [Math.max(0, Math.floor(sx)), Math.max(0, Math.floor(sy))];
          const [x1, y1] = [Math.min(shadow.width - 1, x0 + 1), Math.min(shadow.height - 1, y0 + 1)];
          const read = (i: number, j: number) => shadow.data[(j * shadow.width + i) * shadow.channels];
          const [fx, fy] = [Math.max(0, sx - x0), Math.max(0, sy - y0)];
          return (
            (read(x0, y0) * (1 - fx) + read(x1, y0) * fx) * (1 - fy) +
            (read(x0, y1) * (1 - fx) + read(x1, y1) * fx) * fy
          );
        })();
        for (let k = 0; k < 3; k++) {
          const [R, G, B] = [0, 1, 2].map((channel) => code(shade.data[at * shade.channels + channel]));
          const tint = 1 - blank.glossTint + (blank.glossTint * surface[k]) / most;
          let lit = surface[k] * (R + (G * surface[k]) / blank.albedo) + B * tint;
          // The camera's shoulder: above 0.8 light rises ever more slowly towards 1.
          if (lit > 0.8) lit = 0.8 + ((lit - 0.8) * 0.2) / (lit - 0.8 + 0.2);
          const own = linear(photo.data[at * photo.channels + k]) * gain;
          const body = own + (lit - own) * covered;
          const behind = backdrop[k] * (1 - (scene.shadow * shadowCode) / 255);
          const off = shown[at * 4 + k] - encoded(behind + (body - behind) * alpha);
          const sum = ink[3] > 0.01 ? sums.in : sums.out;
          sum[0] += Math.abs(off);
          sum[1] += off;
          sum[2]++;
        }
      }
    const { in: inside, out: outside } = sums;
    return {
      inside: inside[0] / inside[2],
      bias: inside[1] / inside[2],
      outside: outside[0] / outside[2],
      count: inside[2],
    };
  };
}

describe('the truth of scenes', () => {
  let folder: string;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-truth-'));
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  it('is the formula of the packs in and out of the print, on every blank, also for photographic art', async () => {
    // A painted sky with the grain of a photograph; with a soft hole, so that cloth is seen through it too.
    const art = join(folder, 'art.png');
    const { data, info } = await sharp(artworkPath('cumulus-appreciation.jpg'))
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const { width, height } = info;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        data[(y * width + x) * 4 + 3] = Math.min(
          255,
          Math.max(0, (Math.hypot(x - width / 2, y - height / 2) - 300) * 2),
        );
    await sharp(data, { raw: { width, height, channels: 4 } })
      .png({ compressionLevel: 1 })
      .toFile(art);
    const ids = (await readdir(BLANKS, { withFileTypes: true })).filter((one) => one.isDirectory());
    for (const { name } of ids) {
      // The formula here reads the maps of stills; those of moving blanks are checked in moving-blanks.spec.ts.
      if (name.endsWith('-turning')) continue;
      const { inside, outside, bias, count } = (await differencesOf(name, async () => ({ path: art, width })))();
      if (process.env['KETTLE_TRUTH']) console.log(name, inside.toFixed(2), bias.toFixed(2), outside.toFixed(2), count);
      expect(count).withContext(name).toBeGreaterThan(1000);
      expect(inside)
        .withContext(`${name}, in the print`)
        .toBeLessThan(ALLOWED[name] ?? 1);
      // Nothing is darker or lighter for being filtered.
      expect(Math.abs(bias)).withContext(`${name}, in the print`).toBeLessThan(0.3);
      expect(outside).withContext(`${name}, outside`).toBeLessThan(1);
    }
  });

  it('lies where it is to lie, to a small part of a pixel', async () => {
    /** Lines of half a millimetre, three apart, both ways, 8 px a mm. */
    const lines = async (field: Size) => {
      const [width, height] = [Math.round(field.width * 8), Math.round(field.height * 8)];
      const data = Buffer.alloc(width * height * 4);
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) if (x % 24 < 4 || y % 24 < 4) data.set([20, 40, 90, 255], (y * width + x) * 4);
      const path = join(folder, `lines ${width}.png`);
      await sharp(data, { raw: { width, height, channels: 4 } })
        .png({ compressionLevel: 1 })
        .toFile(path);
      return { path, width };
    };
    const mug = demanded('larkpost-mug');
    for (const [id, requirement] of [
      ['bottle', null],
      ['greeting-card', null],
      ['mug-right', null],
      ['mug-front', mug],
      ['mug-desk', mug],
      ['tee-front', null],
    ] as const) {
      const differences = await differencesOf(id, lines, requirement);
      const here = differences().inside;
      const moved: number[] = [];
      for (const shift of [
        [0.2, 0],
        [-0.2, 0],
        [0, 0.2],
        [0, -0.2],
      ] as const)
        moved.push(differences(shift).inside);
      if (process.env['KETTLE_TRUTH']) console.log(id, here.toFixed(2), moved.map((one) => one.toFixed(2)).join(' '));
      // The formula's lines moved by a fifth of a pixel any way are farther from the picture's, and about equally far.
      for (const one of moved) expect(one).withContext(id).toBeGreaterThan(here);
      expect(Math.abs(moved[0] - moved[1]))
        .withContext(`${id}, across`)
        .toBeLessThan((moved[0] + moved[1]) / 2 - here);
      expect(Math.abs(moved[2] - moved[3]))
        .withContext(`${id}, down`)
        .toBeLessThan((moved[2] + moved[3]) / 2 - here);
    }
  });
});
