import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Pixels } from '@kettle/core/geometry';
import { encodedOf, LINEAR_OF_CODE, linearOf, rgbOf } from '@kettle/core/colour';
import type { Blank } from '@kettle/core/model';
import { lookOf, textureGrid, viewOf, type SceneKernel } from '@kettle/core/mockup';
import { artworkPath } from '@kettle/demo';
import { BLANKS, drawLayers, packIn, readyBlank } from '@kettle/server';
import { beside, inTurns, type Row } from './timing.js';

const ENCODE = Uint8Array.from({ length: 16384 }, (_, step) => Math.round(encodedOf(step / 16383) * 255));

/** Light above the shoulder rises ever more slowly towards 1. */
const rolledOff = (lit: number): number => (lit <= 0.8 ? lit : 0.8 + ((lit - 0.8) * 0.2) / (lit - 0.6));

/**
 * The same formula in plain JavaScript with tables, over the print area of the same maps: what a careful port without
 * the kernel would do.
 */
function plainly(kernel: SceneKernel, blank: Blank, texture: Pixels, garment: string, out: Uint8ClampedArray): void {
  const area = kernel.areaMaps(blank.areas[0].id);
  const { photo, mask, shade } = kernel.maps;
  const { r, g, b } = rgbOf(garment);
  const base = [r, g, b].map((v) => linearOf(v / 255));
  const light = Float32Array.from({ length: 256 }, (_, code) => 2 * (code / 255) ** 2);
  for (let n = 0; n < area.count; n++) {
    const pixel = area.index[n];
    const x = (area.u[n] / 65535) * texture.width - 0.5;
    const y = (area.v[n] / 65535) * texture.height - 0.5;
    const x0 = Math.max(0, Math.min(texture.width - 2, Math.floor(x)));
    const y0 = Math.max(0, Math.min(texture.height - 2, Math.floor(y)));
    const [fx, fy] = [x - x0, y - y0];
    const ink = [0, 0, 0, 0];
    for (let k = 0; k < 4; k++) {
      const t = ((y0 + (k >> 1)) * texture.width + x0 + (k & 1)) * 4;
      const weight = (k & 1 ? fx : 1 - fx) * (k >> 1 ? fy : 1 - fy) * (texture.data[t + 3] / 255);
      for (let c = 0; c < 3; c++) ink[c] += LINEAR_OF_CODE[texture.data[t + c]] * weight;
      ink[3] += weight;
    }
    const share = area.coverage[n] / 255;
    const surface = [0, 1, 2].map((c) => base[c] * (1 - ink[3] * share) + ink[c] * share);
    const most = Math.max(surface[0], surface[1], surface[2], 1e-5);
    const s = pixel * 4;
    const alpha = photo[s + 3] / 255;
    for (let c = 0; c < 3; c++) {
      const lit = rolledOff(
        surface[c] * (light[shade[s]] + (light[shade[s + 1]] * surface[c]) / blank.albedo) +
          light[shade[s + 2]] * (1 - blank.glossTint + (blank.glossTint * surface[c]) / most),
      );
      const cover = alpha ? mask[pixel] / 255 / alpha : 0;
      out[s + c] =
        ENCODE[Math.min(16383, Math.round((LINEAR_OF_CODE[photo[s + c]] * (1 - cover) + lit * cover) * 16383))];
    }
  }
}

/** A new design on a shirt at 2000 × 2000, without encoding, maps in memory. */
export async function benchScene(): Promise<Row[]> {
  const folder = join(BLANKS, 'tee-front');
  const blank = JSON.parse(await readFile(join(folder, 'blank.json'), 'utf8')) as Blank;
  const areas = [{ areaId: 'full-front' }, { areaId: 'left-chest' }];
  const kernel = await readyBlank(packIn(folder, blank), blank, areas, viewOf(blank, null, 2000));
  const grid = textureGrid(blank.areas[0], kernel.areaMaps('full-front').pixelsPerMm);
  // A full front print: 292 of 300 mm wide.
  const art = [292 * grid.density, 0, 0, 341 * grid.density, 4 * grid.density, 10 * grid.density] as const;
  const texture = await drawLayers(
    grid,
    [{ sha256: 'art', map: art, opacity: 1 }],
    { art: artworkPath('fog-signal.png') },
    { subpixel: true },
  );
  const look = { garment: '#1F2B4D', backdrop: blank.backdrop, inkOpacity: 1, shadow: 0.6 };
  kernel.setTexture('full-front', texture, grid);
  const out = kernel.render(look, ['full-front']).data.slice() as Uint8ClampedArray;
  const { ours, baseline, ratio } = await inTurns(
    15,
    () => {
      kernel.setTexture('full-front', texture, grid);
      kernel.render(look, ['full-front']);
    },
    () => plainly(kernel, blank, texture, look.garment, out),
  );
  const row = beside(
    'Scene 2000 × 2000, new design, without encoding',
    { ours, baseline, ratio },
    'the same formula in plain JavaScript',
    1,
  );
  const chest = textureGrid(blank.areas[1], kernel.areaMaps('left-chest').pixelsPerMm);
  const onChest = await drawLayers(
    chest,
    [{ sha256: 'art', map: [chest.width, 0, 0, chest.height, 0, 0], opacity: 1 }],
    { art: artworkPath('fog-signal.png') },
    { subpixel: true },
  );
  const both = await inTurns(
    15,
    () => {
      kernel.setTexture('full-front', texture, grid);
      kernel.setTexture('left-chest', onChest, chest);
      kernel.render(look, ['full-front', 'left-chest']);
    },
    () => plainly(kernel, blank, texture, look.garment, out),
  );
  const finished = await inTurns(
    15,
    () => {
      kernel.setTexture('full-front', texture, grid);
      kernel.render({ ...look, look: lookOf(undefined, blank, null, look.garment) }, ['full-front']);
    },
    () => plainly(kernel, blank, texture, look.garment, out),
  );
  return [
    { ...row, budget: '≤ 38 ms', kept: ours.median <= 38 },
    {
      ...beside('The same with two areas, both new', both, 'the same formula in plain JavaScript, one area', 1),
      budget: '≤ 60 ms',
      kept: both.ours.median <= 60,
    },
    beside('The same with one area and the usual look: ink, knit, lens, grain', finished, 'the same formula alone', 1),
  ];
}
