import { readFile, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import type { Box, Pixels } from '@kettle/core/geometry';
import { emptyDesign, type AreaPrint, type Blank, type Scene } from '@kettle/core/model';
import {
  areaOf,
  areaSeen,
  defaultScene,
  partOfArea,
  pictureRecipe,
  PLAIN_LOOK,
  textureGrid,
  viewOf,
} from '@kettle/core/mockup';
import { BLANKS } from '../../floor/files/shipped.js';
import { packIn, readyBlank } from './blank-pack.js';
import { drawScene, gridOfArea } from './picture.js';

describe('a part of a picture', () => {
  let folder: string;
  let art: string;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-crop-'));
    art = join(folder, 'crop-art.png');
    // Shapes with hard edges and thin lines, so that a print that lies elsewhere is seen to.
    await sharp(
      Buffer.from(
        `<svg xmlns="http://www.w3.org/2000/svg" width="1800" height="2400"><rect width="1800" height="2400" fill="#f2bd4b"/>
         <circle cx="900" cy="800" r="620" fill="#1b4965"/><path d="M200 1500h1400v90H200zM200 1800h1400v40H200z" fill="#b5432a"/>
         <path d="M900 200v2000" stroke="#fff" stroke-width="26"/></svg>`,
      ),
    )
      .png()
      .toFile(art);
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  const blankOf = async (id: string): Promise<Blank> =>
    JSON.parse(await readFile(join(BLANKS, id, 'blank.json'), 'utf8')) as Blank;

  /** The art over the whole of a print area. */
  async function drawn(id: string, crop: Box | null, size: number, more: Partial<Scene> = {}): Promise<Pixels> {
    const blank = await blankOf(id);
    const scene = { ...defaultScene(blank, null), look: PLAIN_LOOK, ...more };
    const areaIds = [scene.areaId, ...((scene.also ?? []) as AreaPrint[]).map((one) => one.areaId)];
    const [files, view] = [packIn(join(BLANKS, id), blank), viewOf(blank, crop, size)];
    const seen = await Promise.all(
      areaIds.map(async (areaId) => ({ areaId, ...areaSeen(await gridOfArea(blank, files, areaId), blank, view) })),
    );
    const kernel = await readyBlank(files, blank, seen, view);
    const first = areaOf(blank, scene.areaId);
    const field = { width: first.widthMm, height: first.heightMm };
    const design = {
      ...emptyDesign('Art', field),
      layers: [
        {
          kind: 'picture' as const,
          id: 'a',
          name: 'Art',
          assetId: art,
          opacity: 1,
          hidden: false,
          place: { x: field.width / 2, y: field.height / 2, ...field, turn: 0, flipX: false, flipY: false },
        },
      ],
    };
    const prints = seen.map(({ areaId, part, pixelsPerMm }) => ({
      areaId,
      requirement: null,
      part,
      grid: textureGrid(partOfArea(areaOf(blank, areaId), part), pixelsPerMm),
    }));
    const recipe = pictureRecipe(design, scene, { blank, pack: 'any' }, prints, { size, format: 'png' }, () => art);
    const picture = await drawScene(kernel, recipe, { [art]: art });
    return { ...picture, data: picture.data.slice() };
  }

  const image = ({ width, height, data }: Pixels) =>
    sharp(Buffer.from(data.buffer, data.byteOffset, data.byteLength), { raw: { width, height, channels: 4 } });

  /** Mean difference in levels. */
  const apart = async (a: Sharp, b: Sharp): Promise<number> => {
    const [one, other] = await Promise.all([a, b].map((each) => each.removeAlpha().raw().toBuffer()));
    expect(one.length).toBe(other.length);
    return one.reduce((sum, value, i) => sum + Math.abs(value - other[i]), 0) / one.length;
  };
  const at = ({ x, y, width, height }: Box) => ({ left: x, top: y, width, height });

  it('is that part of the whole picture, pixel for pixel', async () => {
    for (const [id, crop] of [
      ['tee-front', { x: 700, y: 460, width: 500, height: 640 }],
      ['mug-front', { x: 700, y: 900, width: 400, height: 300 }],
    ] as const) {
      const [whole, part] = await Promise.all([
        drawn(id, null, 2000),
        drawn(id, crop, Math.max(crop.width, crop.height)),
      ]);
      expect([part.width, part.height]).toEqual([crop.width, crop.height]);
      expect(await apart(image(whole).extract(at(crop)), image(part)))
        .withContext(id)
        .toBeLessThan(0.6);
      // A print that lies two pixels beside is seen to.
      expect(await apart(image(whole).extract({ ...at(crop), left: crop.x + 2 }), image(part)))
        .withContext(id)
        .toBeGreaterThan(1);
    }
  });

  it('is the same product when it is looked at closely, with more to be seen', async () => {
    const crop = { x: 760, y: 520, width: 320, height: 320 };
    const [whole, close] = await Promise.all([drawn('tee-front', null, 2000), drawn('tee-front', crop, 1280)]);
    expect([close.width, close.height]).toEqual([1280, 1280]);
    const small = image(close).resize(320, 320, { kernel: 'linear' });
    expect(await apart(image(whole).extract(at(crop)), small)).toBeLessThan(2.5);
    // The edge of the print is as sharp as the grid of the close picture: steeper than the whole picture enlarged.
    const steepest = async (picture: Sharp): Promise<number> => {
      const { data, info } = await picture.removeAlpha().greyscale().raw().toBuffer({ resolveWithObject: true });
      const steps: number[] = [];
      for (let i = 0; i + 1 < info.width * info.height; i++)
        if ((i + 1) % info.width) steps.push(Math.abs(data[i + 1] - data[i]));
      return steps.sort((a, b) => b - a)[Math.floor(steps.length / 1000)];
    };
    const enlarged = image(whole).extract(at(crop)).resize(1280, 1280, { kernel: 'cubic' });
    expect(await steepest(image(close))).toBeGreaterThan(2 * (await steepest(enlarged)));
  });

  it('prints on two areas at once, the second over the first, and leaves the first as it was elsewhere', async () => {
    const also = [{ areaId: 'left-chest', requirementId: null }];
    const one = await drawn('tee-front', null, 600);
    const both = await drawn('tee-front', null, 600, { also });
    const blank = await blankOf('tee-front');
    const kernel = await readyBlank(
      packIn(join(BLANKS, 'tee-front'), blank),
      blank,
      [{ areaId: 'full-front' }, { areaId: 'left-chest' }],
      viewOf(blank, null, 600),
    );
    const chest = new Set(kernel.areaMaps('left-chest').index);
    let [inside, outside] = [0, 0];
    for (let pixel = 0; pixel < 600 * 600; pixel++) {
      const isSame = [0, 1, 2].every((k) => one.data[pixel * 4 + k] === both.data[pixel * 4 + k]);
      if (!isSame && chest.has(pixel)) inside++;
      if (!isSame && !chest.has(pixel)) outside++;
    }
    expect(outside).toBe(0);
    expect(inside).toBeGreaterThan(chest.size * 0.3);
  });

  it('prints panels beside each other: no bare cloth shows where a seam runs through a pixel', async () => {
    const panels = ['panel-front', 'panel-back', 'sleeve-left', 'sleeve-right'];
    const blank = await blankOf('tee-front');
    const kernel = await readyBlank(
      packIn(join(BLANKS, 'tee-front'), blank),
      blank,
      panels.map((areaId) => ({ areaId })),
      viewOf(blank, null, 600),
    );
    const texture = (id: string, rgba: readonly number[]) => {
      const grid = textureGrid(areaOf(blank, id), kernel.areaMaps(id).pixelsPerMm);
      const data = new Uint8Array(grid.width * grid.height * 4);
      for (let i = 0; i < data.length; i += 4) data.set(rgba, i);
      kernel.setTexture(id, { width: grid.width, height: grid.height, data }, grid);
    };
    for (const id of panels) texture(id, [30, 30, 34, 255]);
    const look = { garment: '#F5F3EE', backdrop: '#E4E1D9', inkOpacity: 1, shadow: 0.6 };
    const { data } = kernel.render(look, panels);
    // Pixels that two panels share are as dark as those around them, on a white shirt.
    const times = new Map<number, number>();
    for (const id of panels)
      for (const pixel of kernel.areaMaps(id).index) times.set(pixel, (times.get(pixel) ?? 0) + 1);
    const shared = [...times].filter(([pixel, n]) => n > 1 && kernel.maps.photo[pixel * 4 + 3] === 255);
    const seams = shared.map(([pixel]) => data[pixel * 4 + 1]).sort((a, b) => a - b);
    expect(seams.length).toBeGreaterThan(50);
    expect(seams[Math.floor(seams.length * 0.9)]).toBeLessThan(80);
  });
});
