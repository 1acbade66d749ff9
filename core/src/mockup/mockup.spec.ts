import { addTarget } from '../document/edits.js';
import { apply, compose, mapBox } from '../geometry/affine.js';
import { design, facts, layer, mug, tee } from '../testing/samples.js';
import { canvasOnTexture, largestIn, MOST_TEXTURE, placeOnArea, textureGrid } from './area.js';
import { AreaLookup, areaPointAt } from './area-lookup.js';
import type { Blank, PrintArea } from '../model/blank.js';
import { areaMaps, sceneMaps, type Plane } from './maps.js';
import { viewOf } from './crop.js';
import { areaOf, defaultScene, pictureRecipe, placeScene, requirementForBlank } from './scene.js';

const area: PrintArea = { id: 'front', name: 'Front', widthMm: 300, heightMm: 400, safeInsetMm: 6, uv: 'uv.webp' };
const shirt: Blank = {
  id: 'shirt',
  name: 'Shirt',
  category: 'Tops',
  product: 'T-shirt',
  view: 'front',
  wearer: 'nobody',
  setting: 'wall',
  kind: 'still',
  tags: [],
  width: 40,
  height: 40,
  albedo: 0.8,
  glossTint: 0.5,
  shadowStrength: 0.6,
  backdrop: '#e4e1d9',
  colourways: [{ name: 'Chalk', hex: '#F5F3EE' }],
  areas: [area],
  files: { photo: 'p', mask: 'm', shade: 's', shadow: 'w' },
};
const cup: Blank = {
  ...shirt,
  id: 'cup',
  category: 'Drinkware',
  product: 'Mug',
  areas: [{ ...area, widthMm: 210, heightMm: 90 }],
};

/** A flat position map: a square of the picture is the whole area. */
function flatUv(size: number, from: number, to: number): Plane {
  const data = new Uint8Array(size * size * 2 * 3);
  for (let y = from; y < to; y++) {
    for (let x = from; x < to; x++) {
      const [u, v] = [x, y].map((at) => Math.round(((at + 0.5 - from) / (to - from)) * 65535));
      const high = (y * size + x) * 3;
      const low = ((y + size) * size + x) * 3;
      data.set([u >> 8, v >> 8, 255], high);
      data.set([u & 255, v & 255, 0], low);
    }
  }
  return { width: size, height: size * 2, channels: 3, data };
}

const WHOLE = { x: 0, y: 0, width: 1, height: 1 };

describe('a canvas on a print area', () => {
  it('keeps its real size on clothing, hung from the top and centred', () => {
    const { toArea, factor } = placeOnArea(
      shirt,
      area,
      { widthMm: 355.6, heightMm: 406.4 },
      { art: { x: 40, y: 10, width: 200, height: 300 } },
    );
    expect(factor).toBe(1);
    expect(apply(toArea, { x: 177.8, y: 0 })).toEqual({ x: 150, y: 0 });
  });

  it('is shown smaller where the area would cut the art off, as little as it needs, and at true size when that is wished', () => {
    const canvas = { widthMm: 355.6, heightMm: 406.4 };
    const low = { x: 100, y: 200, width: 150, height: 206.4 };
    const { factor, toArea } = placeOnArea(shirt, area, canvas, { art: low });
    expect(factor).toBeCloseTo(400.5 / 406.4, 6);
    const foot = mapBox(toArea, low);
    expect(foot.y + foot.height).toBeLessThanOrEqual(400.5 + 1e-9);
    const wide = { x: 10, y: 20, width: 300, height: 50 };
    expect(placeOnArea(shirt, area, canvas, { art: wide }).factor).toBeCloseTo(150.5 / 167.8, 6);
    expect(placeOnArea(shirt, area, canvas, { art: wide, trueSize: true }).factor).toBe(1);
    expect(placeOnArea(shirt, area, canvas, { art: wide, held: 0.7 }).factor).toBe(0.7);
    // What lies off the canvas is not printed, so it need not fit.
    expect(placeOnArea(shirt, area, canvas, { art: { x: 100, y: 100, width: 100, height: 900 } }).factor).toBeCloseTo(
      400.5 / 406.4,
      6,
    );
    // Nothing known of the art: the whole canvas must fit.
    expect(placeOnArea(shirt, area, canvas).factor).toBeCloseTo(150.5 / 177.8, 6);
  });

  it('lies on the texture where it lies on the area, to the grid’s own proportions', () => {
    for (const [widthMm, heightMm, density] of [
      [283.7, 311.1, 1.37],
      [300, 400, 2],
      [420, 380, 0.913],
    ]) {
      const canvas = { widthMm, heightMm };
      const placement = placeOnArea(shirt, area, canvas, { trueSize: true });
      const grid = textureGrid(area, density);
      const { toTexture, clip } = canvasOnTexture(area, canvas, placement, grid, WHOLE);
      const edges = mapBox(compose(toTexture, placement.toArea), { x: 0, y: 0, width: widthMm, height: heightMm });
      const onArea = mapBox(placement.toArea, { x: 0, y: 0, width: widthMm, height: heightMm });
      const inPx = (mm: number, most: number, px: number) => (mm / most) * px;
      expect(edges.x).toBeCloseTo(inPx(onArea.x, area.widthMm, grid.width), 6);
      expect(edges.x + edges.width).toBeCloseTo(inPx(onArea.x + onArea.width, area.widthMm, grid.width), 6);
      expect(edges.y + edges.height).toBeCloseTo(inPx(onArea.y + onArea.height, area.heightMm, grid.height), 6);
      // What is printed are the pixels that the canvas touches, within the area.
      expect(clip.x).toBe(Math.max(0, Math.floor(edges.x + 1e-6)));
      expect(clip.x + clip.width).toBe(Math.min(grid.width, Math.ceil(edges.x + edges.width - 1e-6)));
      expect(clip.y + clip.height).toBe(Math.min(grid.height, Math.ceil(edges.y + edges.height - 1e-6)));
    }
  });

  it('takes an edge within half a pixel of the area’s for it, so that art that fills both leaves no light line', () => {
    const grid = textureGrid(area, 1);
    const canvas = { widthMm: area.widthMm - 0.3, heightMm: area.heightMm - 0.3 };
    const placement = placeOnArea(cup, area, canvas, { held: 1 });
    const { toTexture, clip } = canvasOnTexture(area, canvas, placement, grid, WHOLE);
    const edges = mapBox(compose(toTexture, placement.toArea), {
      x: 0,
      y: 0,
      width: canvas.widthMm,
      height: canvas.heightMm,
    });
    expect(edges.x).toBeCloseTo(0, 9);
    expect(edges.x + edges.width).toBeCloseTo(grid.width, 9);
    expect(edges.y).toBeCloseTo(0, 9);
    expect(edges.y + edges.height).toBeCloseTo(grid.height, 9);
    expect(clip).toEqual({ x: 0, y: 0, width: grid.width, height: grid.height });
  });

  it('is fitted to the face of a hard product, and to a crest', () => {
    expect(placeOnArea(cup, cup.areas[0], { widthMm: 420, heightMm: 180 }).factor).toBeCloseTo(0.5, 9);
    expect(
      placeOnArea(shirt, { ...area, widthMm: 100, heightMm: 100 }, { widthMm: 355.6, heightMm: 406.4 }).factor,
    ).toBeLessThan(0.3);
  });

  it('takes art as large as a frame holds it: hanging on cloth, in the middle of a hard face', () => {
    const frame = { x: 10, y: 20, width: 100, height: 200 };
    expect(largestIn(frame, { width: 30, height: 30 }, true)).toEqual({ x: 10, y: 20, width: 100, height: 100 });
    expect(largestIn(frame, { width: 30, height: 30 }, false)).toEqual({ x: 10, y: 70, width: 100, height: 100 });
    expect(largestIn(frame, { width: 10, height: 400 }, true)).toEqual({ x: 57.5, y: 20, width: 5, height: 200 });
  });

  it('has a texture about as fine as the picture, never beyond what the kernel takes', () => {
    expect(textureGrid(area, 2)).toEqual({ width: 849, height: 1131, density: 2 * Math.SQRT2 });
    expect(Math.max(textureGrid(area, 50).width, textureGrid(area, 50).height)).toBe(MOST_TEXTURE);
  });
});

describe('a scene', () => {
  const both = addTarget(mug())(design([layer('a')]));

  it('shows the print file made for its product, or the one that is chosen', () => {
    expect(requirementForBlank(both, cup, [tee(), mug()], null)?.id).toBe('mug');
    expect(requirementForBlank(both, shirt, [tee(), mug()], null)?.id).toBe('tee');
    expect(requirementForBlank(both, shirt, [tee(), mug()], 'mug')?.id).toBe('mug');
    expect(requirementForBlank(design([], { targets: [] }), shirt, [tee()], null)).toBeNull();
    expect(areaOf(shirt, 'no such area')).toBe(area);
  });

  it('puts the art where the print file has it, in real millimetres', () => {
    const placement = placeScene(both, shirt, area, tee());
    // The layer's middle is 177.8 mm across a canvas of 355.6: the middle of the shirt.
    const middle = apply(placement.fieldToArea, both.layers[0].place);
    expect(middle.x).toBeCloseTo(150, 6);
    expect(middle.y).toBeCloseTo(120, 6);
    expect(placement.factor).toBe(1);
  });

  it('tells the size of the ink, not of the clear margin around it, with the line that goes around', () => {
    const one = design([layer('a', { width: 120, height: 80 })], { targets: [{ requirementId: 'tee' }] });
    const inkBox = { x: 0.25, y: 0, width: 0.5, height: 1 };
    const told = (of = one) =>
      pictureRecipe(
        of,
        { ...defaultScene(shirt, null), measured: 'mm' },
        { blank: shirt, pack: 'pack' },
        [{ areaId: area.id, requirement: tee(), grid: textureGrid(area, 2), part: WHOLE }],
        { size: 600, format: 'jpeg' },
        (id) => id,
        { 'asset-a': facts({ inkBox }) },
      ).measures!.lines.map(({ text }) => text);
    expect(told().slice(0, 2)).toEqual(['60 mm', '80 mm']);
    const keyline = { hex: '#ffffff', width: 2, gap: 0, join: 'round', holes: 'kept' } as const;
    expect(told({ ...one, keyline }).slice(0, 2)).toEqual(['64 mm', '84 mm']);
    // What lies beyond the canvas is not printed.
    const cut = { ...one, layers: [layer('a', { x: 0, width: 120, height: 80 })] };
    expect(told(cut)[0]).toBe('30 mm');
  });

  it('has another recipe for another colour and the same for the same', () => {
    const recipe = (garment: string) =>
      JSON.stringify(
        pictureRecipe(
          both,
          { ...defaultScene(shirt, null), garment },
          { blank: shirt, pack: 'pack' },
          [{ areaId: area.id, requirement: tee(), grid: textureGrid(area, 2), part: WHOLE }],
          { size: 600, format: 'jpeg' },
          (id) => id,
        ),
      );
    expect(recipe('#111111')).toBe(recipe('#111111'));
    expect(recipe('#111111')).not.toBe(recipe('#222222'));
  });
});

describe('maps', () => {
  it('find the same place at every picture size', () => {
    const uv = flatUv(40, 8, 32);
    for (const size of [40, 20, 13]) {
      const maps = areaMaps(uv, area, viewOf({ width: 40, height: 40 }, null, size));
      const pixel = Math.floor(size / 2) * size + Math.floor(size / 2);
      const point = areaPointAt(maps, area, pixel)!;
      const expected = (((Math.floor(size / 2) + 0.5) / size) * 40 - 8) / 24;
      expect(Math.abs(point.x - expected * 300))
        .withContext(`at ${size}`)
        .toBeLessThan(1);
      expect(areaPointAt(maps, area, 0)).toBeNull();
    }
  });

  it('tell how fine the area is seen', () => {
    // 24 px for 300 mm across and 400 mm down: the coarser way counts, 400/24 mm a pixel.
    expect(areaMaps(flatUv(40, 8, 32), area, viewOf({ width: 40, height: 40 }, null, 40)).pixelsPerMm).toBeCloseTo(
      24 / 400,
      2,
    );
  });

  it('lead from a point on the area back to its pixel', () => {
    const maps = areaMaps(flatUv(200, 40, 160), area, viewOf({ width: 200, height: 200 }, null, 200));
    const lookup = new AreaLookup(maps, area, 200);
    for (const point of [
      { x: 150, y: 200 },
      { x: 40, y: 333 },
      { x: 290, y: 12 },
    ]) {
      const pixel = lookup.pixelOf(point)!;
      expect(Math.abs(pixel.x - (40 + (point.x / 300) * 120))).toBeLessThan(1.5);
      expect(Math.abs(pixel.y - (40 + (point.y / 400) * 120))).toBeLessThan(1.5);
    }
  });

  it('shrink a photo without a dark rim and a mask in straight light', () => {
    const photo = { width: 2, height: 1, channels: 4, data: Uint8Array.of(200, 100, 50, 255, 0, 0, 0, 0) };
    const grey = { width: 2, height: 1, channels: 3, data: Uint8Array.of(255, 255, 255, 0, 0, 0) };
    const maps = sceneMaps(
      { photo, mask: grey, shade: grey, shadow: { width: 1, height: 1, channels: 3, data: Uint8Array.of(9, 9, 9) } },
      1,
      1,
    );
    expect([...maps.photo]).toEqual([200, 100, 50, 128]);
    expect(maps.mask[0]).toBe(128);
    expect(maps.shadow[0]).toBe(9);
  });
});
