import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { emptyDesign, type FileType, type Repeat, type Requirement, type ShapeLayer } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import { repeatedPlacement } from '@kettle/core/document';
import { printRecipe, repeatedLayers } from '@kettle/core/recipes';
import { makePrintFile } from './print-file.js';

/** A panel of 300 × 200 mm at 4 px a mm. */
const PANEL = {
  id: 'panel',
  revision: 1,
  name: 'Panel',
  width: 300,
  height: 200,
  unit: 'mm',
  dpi: 101.6,
  product: 'T-shirt',
  mode: 'rgb',
  fileTypes: ['png'],
  transparency: 'required',
  maxBytes: null,
  safeInsetMm: 0,
  colourways: [],
  placement: { rule: 'same-size', anchor: 'top', scale: 1, offsetX: 0, offsetY: 0 },
} as unknown as Requirement;

const FIELD = { width: 100, height: 100 };
const box = (id: string, x: number, y: number, width: number, height: number, fill: string): ShapeLayer => ({
  ...shapeLayer(id, 'rectangle', FIELD, fill),
  place: { x, y, width, height, turn: 0, flipX: false, flipY: false },
});
/** 60 × 40: grey, with a red corner at its upper left, so that a copy that is turned over is seen to be. */
const DESIGN = {
  ...emptyDesign('Corner', FIELD),
  layers: [box('ground', 50, 50, 60, 40, '#808080'), box('corner', 27.5, 35, 15, 10, '#e02020')],
};

describe('art that is repeated over a canvas', () => {
  let folder: string;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-repeat-'));
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  /** A file of it, read back: RGBA of a place in mm. */
  async function made(repeat: Repeat | undefined, type: FileType = 'png') {
    const requirement = { ...PANEL, fileTypes: [type] };
    const target = { requirementId: 'panel', ...(repeat ? { repeat } : {}) };
    const placement = repeatedPlacement(DESIGN, target, requirement, 60, repeat?.gapMm ?? 0)!;
    const recipe = printRecipe(DESIGN, { ...target, placement }, requirement, () => '');
    const out = join(folder, `${repeat?.kind ?? 'once'} ${repeat?.gapMm} ${type}`);
    await makePrintFile({ ...recipe, layers: repeatedLayers(recipe.layers) }, {}, out);
    const { data, info } = await sharp(out).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([1200, 800]);
    return (x: number, y: number): 'red' | 'grey' | 'bare' => {
      const at = (Math.round(y * 4) * info.width + Math.round(x * 4)) * 4;
      return data[at + 3] < 128 ? 'bare' : data[at] > 180 && data[at + 1] < 90 ? 'red' : 'grey';
    };
  }

  it('is printed in rows, by half-drops, as bricks and mirrored, where it is to be, and judged by a second drawing', async () => {
    // The art lies in the middle, from (120, 80); its corner's middle is 7.5 and 5 mm further.
    const corner = (x: number, y: number): readonly [number, number] => [x + 7.5, y + 5];
    const rows = await made({ kind: 'straight', gapMm: 0 });
    for (const [x, y] of [
      [120, 80],
      [180, 80],
      [0, 0],
      [240, 160],
    ])
      expect(rows(...corner(x, y)))
        .withContext(`${x}, ${y}`)
        .toBe('red');
    const drop = await made({ kind: 'half-drop', gapMm: 0 });
    expect([
      drop(...corner(120, 80)),
      drop(...corner(180, 100)),
      drop(...corner(180, 80)),
      drop(...corner(240, 80)),
    ]).toEqual(['red', 'red', 'grey', 'red']);
    const brick = await made({ kind: 'brick', gapMm: 0 });
    expect([
      brick(...corner(120, 80)),
      brick(...corner(150, 120)),
      brick(...corner(120, 120)),
      brick(...corner(120, 160)),
    ]).toEqual(['red', 'red', 'grey', 'red']);
    const mirror = await made({ kind: 'mirror', gapMm: 0 });
    expect([mirror(127.5, 85), mirror(232.5, 85), mirror(187.5, 85), mirror(127.5, 155), mirror(232.5, 155)]).toEqual([
      'red',
      'red',
      'grey',
      'red',
      'red',
    ]);
    // No light line runs between copies that lie edge to edge.
    for (const at of [rows, drop, brick, mirror])
      for (let x = 0.5; x < 299; x += 0.25) expect(at(x, 100)).not.toBe('bare');
  });

  it('leaves bare cloth between copies where it is asked for, and is there once without being asked', async () => {
    const apart = await made({ kind: 'straight', gapMm: 20 });
    expect([apart(190, 100), apart(127.5, 85), apart(207.5, 85), apart(47.5, 145)]).toEqual([
      'bare',
      'red',
      'red',
      'red',
    ]);
    const once = await made(undefined);
    expect([once(127.5, 85), once(207.5, 85), once(20, 20)]).toEqual(['red', 'bare', 'bare']);
  });

  it('is made of outlines in a PDF and an SVG as well', async () => {
    for (const type of ['pdf', 'svg'] as const) {
      const requirement = { ...PANEL, fileTypes: [type] };
      const target = { requirementId: 'panel', repeat: { kind: 'brick' as const, gapMm: 10 } };
      const recipe = printRecipe(DESIGN, target, requirement, () => '');
      const out = join(folder, type);
      const { facts } = await makePrintFile({ ...recipe, layers: repeatedLayers(recipe.layers) }, {}, out);
      expect(facts.fileType).toBe(type);
      expect(repeatedLayers(recipe.layers).length).toBeGreaterThan(20);
    }
  });
});
