import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Pixels } from '@kettle/core/geometry';
import { encodedOf, linearOf, rgbOf } from '@kettle/core/colour';
import type { Blank } from '@kettle/core/model';
import { asStill, defaultScene, exposureOf, textureGrid, type SceneKernel, viewOf } from '@kettle/core/mockup';
import { BLANKS } from '../../floor/files/shipped.js';
import { packIn, readyBlank } from './blank-pack.js';

const SIZE = 500;

/** Mean and spread of lightness codes over the middle of the chest. */
function chest({ width, data }: Pixels): { mean: number; spread: number; colour: number[] } {
  const values: number[] = [];
  const colour = [0, 0, 0];
  for (let y = 150; y < 300; y++)
    for (let x = 200; x < 300; x++) {
      const i = (y * width + x) * 4;
      values.push(data[i + 1]);
      for (let c = 0; c < 3; c++) colour[c] += data[i + c];
    }
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  return {
    mean,
    spread: Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length),
    colour: colour.map((sum) => sum / values.length),
  };
}

describe('a scene', () => {
  const blanks: Record<string, Blank> = {};
  const look = { backdrop: '#E4E1D9', inkOpacity: 1, shadow: 0.6 };
  let kernel: SceneKernel;
  let grid: ReturnType<typeof textureGrid>;
  const design = (fill: (x: number, y: number) => number[]): Pixels => {
    const data = new Uint8Array(grid.width * grid.height * 4);
    for (let y = 0; y < grid.height; y++)
      for (let x = 0; x < grid.width; x++) data.set(fill(x / grid.width, y / grid.height), (y * grid.width + x) * 4);
    return { ...grid, data };
  };
  const copy = (pixels: Pixels): Pixels => ({ ...pixels, data: pixels.data.slice() });
  const clear = () => [0, 0, 0, 0];

  beforeAll(async () => {
    for (const id of ['tee-front', 'mug-front', 'poster-portrait'])
      blanks[id] = JSON.parse(await readFile(join(BLANKS, id, 'blank.json'), 'utf8')) as Blank;
    kernel = await readyBlank(
      packIn(join(BLANKS, 'tee-front'), blanks['tee-front']),
      blanks['tee-front'],
      [{ areaId: 'full-front' }],
      viewOf(blanks['tee-front'], null, SIZE),
    );
    grid = textureGrid(blanks['tee-front'].areas[0], kernel.areaMaps('full-front').pixelsPerMm);
  });

  it('keeps the folds of a black shirt and the white of a white one', () => {
    kernel.setTexture('full-front', design(clear), grid);
    const black = chest(kernel.render({ ...look, garment: '#1B1B1D' }, ['full-front']));
    const white = chest(kernel.render({ ...look, garment: '#F5F3EE' }, ['full-front']));
    expect(black.mean).toBeLessThan(60);
    expect(black.spread).toBeGreaterThan(3);
    // Of 255: what a seller calls white, with folds still to be seen.
    expect(white.mean).toBeGreaterThan(205);
    expect(white.spread).toBeGreaterThan(4);
  });

  it('leaves the shirt as it is where there is no ink', () => {
    kernel.setTexture('full-front', design(clear), grid);
    const bare = copy(kernel.render({ ...look, garment: '#A5442F' }, []));
    const printed = kernel.render({ ...look, garment: '#A5442F' }, ['full-front']);
    expect(Buffer.compare(Buffer.from(bare.data), Buffer.from(printed.data))).toBe(0);
  });

  it('never lets the garment colour into the design, beyond shade and light', () => {
    kernel.setTexture(
      'full-front',
      design(() => [242, 189, 75, 255]),
      grid,
    );
    const shown = ['#F5F3EE', '#1B1B1D', '#1F2B4D'].map(
      (garment) => chest(kernel.render({ ...look, garment }, ['full-front'])).colour,
    );
    const [onWhite, onBlack, onNavy] = shown;
    // Sheen takes the cloth's hue a little; a change beyond 3 levels would be the shirt shining through.
    for (let c = 0; c < 3; c++) {
      expect(Math.abs(onWhite[c] - onBlack[c])).toBeLessThan(3);
      expect(Math.abs(onBlack[c] - onNavy[c])).toBeLessThan(3);
    }
    const ratio = (colour: number[]) => colour[0] / colour[2];
    expect(ratio(onBlack)).toBeGreaterThan(2);
  });

  it('never burns white ink or white cloth out, on any blank, and keeps them apart', async () => {
    for (const id of (await readdir(BLANKS, { withFileTypes: true }))
      .filter((entry) => entry.isDirectory())
      .map((entry) => entry.name)) {
      const blank = asStill(JSON.parse(await readFile(join(BLANKS, id, 'blank.json'), 'utf8')) as Blank);
      const area = blank.areas[0];
      const own = await readyBlank(
        packIn(join(BLANKS, id), blank),
        blank,
        [{ areaId: area.id }],
        viewOf(blank, null, 300),
      );
      const maps = own.areaMaps(area.id);
      const size = textureGrid(area, maps.pixelsPerMm);
      const white = new Uint8Array(size.width * size.height * 4).fill(255);
      const shown = (alpha: number) => {
        for (let i = 3; i < white.length; i += 4) white[i] = alpha;
        own.setTexture(area.id, { ...size, data: white }, size);
        const { data } = own.render({ ...look, garment: '#F5F3EE' }, [area.id]);
        const levels = maps.index
          .filter((_, i) => maps.coverage[i] === 255)
          .map((pixel) => data[pixel * 4 + 1])
          .sort();
        return {
          flat: levels.filter((level) => level === 255).length / levels.length,
          middle: levels[levels.length >> 1],
        };
      };
      const [ink, cloth] = [shown(255), shown(0)];
      expect(ink.flat).withContext(`${id}: share of white ink at 255`).toBeLessThan(0.005);
      expect(cloth.flat).withContext(`${id}: share of white cloth at 255`).toBeLessThan(0.005);
      expect(ink.middle)
        .withContext(id)
        .toBeGreaterThan(cloth.middle + 2);
    }
  });

  it('shows an ink alike on every garment unless fabric is to show through', () => {
    expect(defaultScene(blanks['tee-front'], null).inkOpacity).toBe(1);
  });

  it('puts left, right, top and bottom of the design where they belong', () => {
    kernel.setTexture(
      'full-front',
      design((x, y) => (x < 0.5 ? [255, 0, 0, 255] : y < 0.5 ? [0, 0, 255, 255] : [0, 255, 0, 255])),
      grid,
    );
    const { data, width } = kernel.render({ ...look, garment: '#F5F3EE' }, ['full-front']);
    const strongest = (x: number, y: number) => {
      const i = (y * width + x) * 4;
      const [r, g, b] = data.subarray(i, i + 3);
      return r > g && r > b ? 'red' : b > g ? 'blue' : 'green';
    };
    expect([strongest(215, 200), strongest(295, 130), strongest(290, 300)]).toEqual(['red', 'blue', 'green']);
  });

  it('leaves a room as it was photographed, but for its exposure, where nothing takes colour', async () => {
    for (const id of ['mug-desk', 'poster-room', 'tote-hall']) {
      const blank = JSON.parse(await readFile(join(BLANKS, id, 'blank.json'), 'utf8')) as Blank;
      const files = packIn(join(BLANKS, id), blank);
      const room = await readyBlank(files, blank, [{ areaId: blank.areas[0].id }], viewOf(blank, null, SIZE));
      const { data } = room.render({ ...look, garment: '#1F6B6B' }, []);
      const raw = async (name: string) =>
        sharp(files[name]).resize(SIZE, SIZE, { kernel: 'linear' }).removeAlpha().raw().toBuffer();
      const [photo, mask] = [await raw(blank.files.photo), await raw(blank.files.mask)];
      const gain = exposureOf(room.maps, blank.albedo);
      let [sum, count] = [0, 0];
      for (let i = 0; i < SIZE * SIZE; i++) {
        if (mask[i * 3] > 0) continue;
        for (let k = 0; k < 3; k++) {
          sum += Math.abs(encodedOf(Math.min(1, linearOf(photo[i * 3 + k] / 255) * gain)) * 255 - data[i * 4 + k]);
          count++;
        }
      }
      expect(count).toBeGreaterThan(SIZE * SIZE);
      // Reduced in code values there and in light here.
      expect(sum / count)
        .withContext(id)
        .toBeLessThan(1.5);
    }
  });

  it('takes the backdrop colour where nothing is', () => {
    const { data } = kernel.render({ ...look, garment: '#F5F3EE', backdrop: '#3366CC', shadow: 0 }, []);
    const { r, g, b } = rgbOf('#3366CC');
    expect([...data.subarray(0, 4)]).toEqual([r, g, b, 255]);
  });

  it('stands before a picture with its shadow on it, and before one colour again', () => {
    const wall = { width: SIZE, height: SIZE, data: new Uint8Array(SIZE * SIZE * 4) };
    for (let i = 0; i < SIZE * SIZE; i++)
      wall.data.set(i % SIZE < SIZE / 2 ? [200, 40, 40, 255] : [40, 40, 200, 255], i * 4);
    const bare = { ...look, garment: '#F5F3EE', backdrop: '#3366CC', shadow: 0 };
    const plain = copy(kernel.render(bare, []));
    kernel.setBehind(wall);
    const before = copy(kernel.render(bare, []));
    const at = ({ data }: Pixels, x: number, y: number) => [
      ...data.subarray((y * SIZE + x) * 4, (y * SIZE + x) * 4 + 3),
    ];
    expect(at(before, 4, 4)).toEqual([200, 40, 40]);
    expect(at(before, SIZE - 5, 4)).toEqual([40, 40, 200]);
    // The shirt itself is the same, and its shadow darkens what is behind.
    expect(at(before, 215, 200)).toEqual(at(plain, 215, 200));
    const shaded = copy(kernel.render({ ...bare, shadow: 1 }, []));
    const sum = ({ data }: Pixels) => Array.from(data).reduce((all, value) => all + value, 0);
    expect(sum(shaded)).toBeLessThan(sum(before) * 0.995);
    kernel.setBehind(null);
    expect(Buffer.compare(Buffer.from(kernel.render(bare, []).data), Buffer.from(plain.data))).toBe(0);
    expect(() => kernel.setBehind({ width: 2, height: 2, data: new Uint8Array(16) })).toThrowError(RangeError);
  });

  it('lets fabric show through thinner ink', () => {
    kernel.setTexture(
      'full-front',
      design(() => [255, 255, 255, 255]),
      grid,
    );
    const at = (inkOpacity: number) =>
      chest(kernel.render({ ...look, garment: '#1B1B1D', inkOpacity }, ['full-front'])).mean;
    expect(at(1)).toBeGreaterThan(at(0.6) + 20);
  });

  it('works for hard products with their own light, and refuses a foreign design or area', async () => {
    for (const id of ['mug-front', 'poster-portrait']) {
      const blank = blanks[id];
      const hard = await readyBlank(
        packIn(join(BLANKS, id), blank),
        blank,
        [{ areaId: blank.areas[0].id }],
        viewOf(blank, null, SIZE),
      );
      const own = textureGrid(blank.areas[0], hard.areaMaps(blank.areas[0].id).pixelsPerMm);
      hard.setTexture(blank.areas[0].id, { ...own, data: new Uint8Array(own.width * own.height * 4).fill(255) }, own);
      expect(hard.render({ ...look, garment: blank.colourways[0].hex }, [blank.areas[0].id]).width).toBe(SIZE);
      expect(hard.areaMaps(blank.areas[0].id).count).toBeGreaterThan(5000);
    }
    expect(() => kernel.setTexture('full-front', { width: 3, height: 3, data: new Uint8Array(36) }, grid)).toThrowError(
      RangeError,
    );
    expect(() => kernel.render({ ...look, garment: '#ffffff' }, ['sleeve'])).toThrowError(RangeError);
  });
});
