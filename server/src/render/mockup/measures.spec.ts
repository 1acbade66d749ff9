import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { emptyDesign, type Blank, type MeasureUnit, type Requirement, type ShapeLayer } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import {
  AreaLookup,
  asStill,
  CoveredPlaces,
  defaultScene,
  pictureRecipe,
  PLAIN_LOOK,
  textureGrid,
  viewOf,
} from '@kettle/core/mockup';
import { BLANKS } from '../../floor/files/shipped.js';
import { packIn, readyBlank } from './blank-pack.js';
import { makePicture } from './picture.js';

const SIZE = 1000;
/** 160 mm wide, 120 mm below the upper edge. */
const DISC: ShapeLayer = {
  ...shapeLayer('disc', 'ellipse', { width: 300, height: 400 }, '#b5432a'),
  place: { x: 150, y: 200, width: 160, height: 160, turn: 0, flipX: false, flipY: false },
};
const blankOf = async (id: string): Promise<Blank> =>
  JSON.parse(await readFile(join(BLANKS, id, 'blank.json'), 'utf8')) as Blank;

describe('what is told of a print on its picture', () => {
  let folder: string;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-measures-'));
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  it('is drawn beside the art where the cloth has it, and nowhere else', async () => {
    const blank = await blankOf('tee-front');
    const files = packIn(join(BLANKS, 'tee-front'), blank);
    const requirement = {
      id: 'tee',
      name: 'Tee',
      width: 300,
      height: 400,
      unit: 'mm',
      dpi: 150,
      product: 'T-shirt',
      mode: 'rgb',
      safeInsetMm: 0,
      colourways: [],
      placement: { rule: 'same-size', anchor: 'top', scale: 1, offsetX: 0, offsetY: 0 },
    } as unknown as Requirement;
    const disc = DISC;
    const design = {
      ...emptyDesign('Disc', { width: 300, height: 400 }),
      layers: [disc],
      targets: [{ requirementId: 'tee' }],
    };
    const area = blank.areas[0];
    const kernel = await readyBlank(files, blank, [{ areaId: area.id }], viewOf(blank, null, SIZE));
    const maps = kernel.areaMaps(area.id);
    const made = async (measured?: MeasureUnit) => {
      const scene = {
        ...defaultScene(blank, 'tee'),
        garment: '#4E5F3A',
        look: PLAIN_LOOK,
        ...(measured ? { measured } : {}),
      };
      const part = { x: 0, y: 0, width: 1, height: 1 };
      const print = { areaId: area.id, requirement, part, grid: textureGrid(area, maps.pixelsPerMm) };
      const recipe = pictureRecipe(
        design,
        scene,
        { blank, pack: 'any' },
        [print],
        { size: SIZE, format: 'png' },
        () => '',
      );
      expect(recipe.measures?.lines.map((line) => line.text)).toEqual(
        measured ? ['16 cm', '16 cm', '12 cm below the collar'] : undefined,
      );
      const out = join(folder, `${measured ?? 'bare'}.png`);
      await makePicture(recipe, blank, files, {}, out);
      return sharp(out).removeAlpha().raw().toBuffer();
    };
    const [bare, told] = [await made(), await made('cm')];
    const lookup = new AreaLookup(maps, area, SIZE);
    const differs = (x: number, y: number): number =>
      Math.max(...[0, 1, 2].map((k) => Math.abs(bare[(y * SIZE + x) * 3 + k] - told[(y * SIZE + x) * 3 + k])));
    // Both ends of the line below the art, and the one to the collar.
    for (const mm of [
      { x: 71, y: 294 },
      { x: 229, y: 294 },
      { x: 150, y: 30 },
      { x: 150, y: 110 },
    ]) {
      const { x, y } = lookup.pixelOf(mm)!;
      const near = [-3, -2, -1, 0, 1, 2, 3].flatMap((dx) =>
        [-3, -2, -1, 0, 1, 2, 3].map((dy) => differs(Math.round(x + dx), Math.round(y + dy))),
      );
      expect(Math.max(...near))
        .withContext(`${mm.x}, ${mm.y}`)
        .toBeGreaterThan(60);
    }
    // The middle of the art, the cloth far from it and the wall are as they were.
    for (const mm of [
      { x: 150, y: 200 },
      { x: 20, y: 20 },
      { x: 20, y: 380 },
    ]) {
      const { x, y } = lookup.pixelOf(mm)!;
      expect(differs(Math.round(x), Math.round(y))).toBe(0);
    }
    expect(differs(10, 10)).toBe(0);
  });

  it('finds what lies over the print areas of shipped blanks, and nothing on those that lie bare', async () => {
    const shareOf = async (name: string): Promise<number> => {
      const blank = asStill(await blankOf(name));
      const [area] = blank.areas;
      const kernel = await readyBlank(
        packIn(join(BLANKS, name), blank),
        blank,
        [{ areaId: area.id }],
        viewOf(blank, null, SIZE),
      );
      const places = new CoveredPlaces(kernel.areaMaps(area.id));
      return places.shareOf({ x: 0, y: 0, width: area.widthMm, height: area.heightMm }, area);
    };
    // The elastic, the camera, the cords of the hood.
    for (const one of ['hoodie-front', 'notebook', 'phone-case'])
      expect(await shareOf(one))
        .withContext(one)
        .toBeGreaterThan(0);
    for (const bare of ['mug-front', 'mug-left', 'poster-portrait', 'sticker', 'tee-flat', 'tee-front', 'tote'])
      expect(await shareOf(bare))
        .withContext(bare)
        .toBe(0);
  });
});
