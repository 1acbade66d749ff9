import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Box, Pixels } from '@kettle/core/geometry';
import { deltaE2000, labOf } from '@kettle/core/colour';
import type { Blank, Look } from '@kettle/core/model';
import {
  areaOf,
  areaSeen,
  compileSceneKernel,
  GENTLE_FINISH,
  lookOf,
  partOfArea,
  PLAIN_LOOK,
  SceneKernel,
  textureGrid,
  usualInk,
  viewOf,
} from '@kettle/core/mockup';
import { BLANKS } from '../../floor/files/shipped.js';
import { packIn, readyBlank } from './blank-pack.js';
import { gridOfArea } from './picture.js';

type Colour = readonly [number, number, number];

/** A shirt with a print of one colour over all of its front, seen whole or close to. */
class Shirt {
  private constructor(
    readonly blank: Blank,
    readonly kernel: SceneKernel,
    private readonly grid: ReturnType<typeof textureGrid>,
  ) {}

  static async at(size: number, crop: Box | null = null): Promise<Shirt> {
    const folder = join(BLANKS, 'tee-front');
    const blank = JSON.parse(await readFile(join(folder, 'blank.json'), 'utf8')) as Blank;
    const files = packIn(folder, blank);
    const view = viewOf(blank, crop, size);
    const { pixelsPerMm, part } = areaSeen(await gridOfArea(blank, files, 'full-front'), blank, view);
    const kernel = await readyBlank(files, blank, [{ areaId: 'full-front', part }], view);
    return new Shirt(blank, kernel, textureGrid(partOfArea(areaOf(blank, 'full-front'), part), pixelsPerMm));
  }

  /** @param ink of each pixel of the texture */
  drawn(look: Partial<Look>, garment: string, ink: (x: number, y: number) => Colour | null): Pixels {
    const data = new Uint8Array(this.grid.width * this.grid.height * 4);
    for (let y = 0; y < this.grid.height; y++)
      for (let x = 0; x < this.grid.width; x++) {
        const colour = ink(x / this.grid.width, y / this.grid.height);
        if (colour) data.set([...colour, 255], (y * this.grid.width + x) * 4);
      }
    this.kernel.setTexture('full-front', { ...this.grid, data }, this.grid);
    const scene = { garment, backdrop: '#ffffff', inkOpacity: 1, shadow: 0, look: { ...PLAIN_LOOK, ...look } };
    const pixels = this.kernel.render(scene, ['full-front']);
    return { ...pixels, data: pixels.data.slice() };
  }
}

const whole = (colour: Colour) => (): Colour => colour;
const bare = (): null => null;

/** Mean colour of a box of a picture, in shares of it. */
function mean({ width, height, data }: Pixels, box: Box): Colour {
  const sum = [0, 0, 0];
  let count = 0;
  for (let y = Math.round(box.y * height); y < (box.y + box.height) * height; y++)
    for (let x = Math.round(box.x * width); x < (box.x + box.width) * width; x++) {
      for (let k = 0; k < 3; k++) sum[k] += data[(y * width + x) * 4 + k];
      count++;
    }
  return [sum[0] / count, sum[1] / count, sum[2] / count];
}

/** Mean difference of green between a pixel and the one beside it: what is fine. */
function fineness({ width, height, data }: Pixels, box: Box): number {
  let [sum, count] = [0, 0];
  for (let y = Math.round(box.y * height); y < (box.y + box.height) * height; y++)
    for (let x = Math.round(box.x * width); x < (box.x + box.width) * width - 1; x++) {
      const at = (y * width + x) * 4 + 1;
      sum += Math.abs(data[at + 4] - data[at]);
      count++;
    }
  return sum / count;
}

/** Standard deviation of green. */
function spread(pixels: Pixels, box: Box): number {
  const [, middle] = mean(pixels, box);
  const { width, height, data } = pixels;
  let [sum, count] = [0, 0];
  for (let y = Math.round(box.y * height); y < (box.y + box.height) * height; y++)
    for (let x = Math.round(box.x * width); x < (box.x + box.width) * width; x++) {
      sum += (data[(y * width + x) * 4 + 1] - middle) ** 2;
      count++;
    }
  return Math.sqrt(sum / count);
}

const lab = ([r, g, b]: Colour) => labOf({ r: Math.round(r), g: Math.round(g), b: Math.round(b) });
/** The chest of the whole picture. */
const CHEST: Box = { x: 0.4, y: 0.32, width: 0.2, height: 0.2 };
const MIDDLE: Box = { x: 0.3, y: 0.3, width: 0.4, height: 0.4 };

describe('the look of a print', () => {
  let far: Shirt;
  let near: Shirt;
  beforeAll(async () => {
    far = await Shirt.at(1000);
    // A hand's breadth of the chest: a stitch is eleven pixels wide.
    near = await Shirt.at(1000, { x: 880, y: 760, width: 200, height: 200 });
  });

  it('is by itself that of the print’s process, as far as the cloth can take it', () => {
    const tee = { category: 'Tops' };
    const dyed = { process: 'sublimation', product: 'T-shirt', mode: 'rgb' } as const;
    expect(usualInk(tee, null, '#ffffff')).toBe('direct');
    expect(usualInk(tee, { ...dyed, process: 'screen' }, '#111111')).toBe('screen');
    expect(usualInk(tee, dyed, '#F5F3EE')).toBe('sublimation');
    // Nothing dyes black cloth.
    expect(usualInk(tee, dyed, '#111111')).toBe('transfer');
    expect(usualInk({ category: 'Drinkware' }, dyed, '#ffffff')).toBe('plain');
    expect(lookOf({ ink: 'screen', grain: 0 }, tee, null, '#ffffff')).toEqual({
      ...GENTLE_FINISH,
      ink: 'screen',
      grain: 0,
    });
    // A mug has no knit, whatever was said of the scene before.
    expect(lookOf({ knit: 1 }, { category: 'Drinkware' }, null, '#ffffff').knit).toBe(0);
  });

  it('has an edge that takes the light where ink is thick, and none where it is thin', () => {
    // A square of grey in the middle of what is seen close to: half of it is inside.
    const square = (x: number, y: number): Colour | null =>
      x > 0.25 && x < 0.75 && y > 0.25 && y < 0.75 ? [128, 128, 128] : null;
    const edges = (ink: Look['ink'], shirt: Shirt) => {
      const seen = shirt.drawn({ ink, folds: 0 }, '#808080', square);
      const same = shirt.drawn({ ink: 'plain', folds: 0 }, '#808080', square);
      /** Farthest from the same print without an edge, along a line across the picture’s middle. */
      const differences = Array.from({ length: seen.width }, (_, x) => {
        const at = ((seen.height >> 1) * seen.width + x) * 4 + 1;
        return seen.data[at] - same.data[at];
      });
      return [Math.max(...differences), Math.min(...differences), differences[seen.width >> 1]];
    };
    const [bright, dark, middle] = edges('transfer', near);
    expect(bright).toBeGreaterThan(6);
    expect(dark).toBeLessThan(-6);
    expect(Math.abs(middle)).toBeLessThan(4);
    const [less] = edges('screen', near);
    expect(less).toBeGreaterThan(2);
    expect(less).toBeLessThan(bright);
    const [most, least] = edges('direct', near);
    expect(most).toBeLessThan(3);
    expect(least).toBeGreaterThan(-3);
    // From afar a fifth of a millimetre is not seen.
    expect(edges('transfer', far)[0]).toBeLessThan(bright / 2);
  });

  it('leaves the mid tones of a print as they are, whole and close to, for every ink that covers', () => {
    const tones: readonly Colour[] = [
      [150, 90, 70],
      [90, 130, 150],
      [128, 128, 128],
      [170, 150, 60],
    ];
    for (const shirt of [far, near])
      for (const [i, tone] of tones.entries()) {
        const garment = i % 2 ? '#F5F3EE' : '#1B1B1D';
        const box = shirt === far ? CHEST : MIDDLE;
        const plain = mean(shirt.drawn({}, garment, whole(tone)), box);
        for (const ink of ['direct', 'screen', 'plain'] as const) {
          const gentle = mean(shirt.drawn({ ...GENTLE_FINISH, ink }, garment, whole(tone)), box);
          expect(deltaE2000(lab(plain), lab(gentle)))
            .withContext(`${ink} ${tone.join()} on ${garment}`)
            .toBeLessThan(2);
        }
      }
  });

  it('has no folds, those that were taken, or twice of them', () => {
    const spreads = [0, 1, 2].map((folds) => spread(far.drawn({ folds }, '#8A8D91', bare), CHEST));
    expect(spreads[0]).toBeLessThan(spreads[1] * 0.6);
    expect(spreads[2]).toBeGreaterThan(spreads[1] * 1.5);
    // The print goes with the cloth.
    const printed = [0, 1, 2].map((folds) => spread(far.drawn({ folds }, '#8A8D91', whole([128, 128, 128])), CHEST));
    expect(printed[0]).toBeLessThan(printed[1] * 0.6);
    expect(printed[2]).toBeGreaterThan(printed[1] * 1.5);
  });

  it('shows the knit close to, on the cloth and on ink by its kind, and not where a stitch is too small to be seen', () => {
    const ink: Colour = [140, 60, 60];
    const knitted = (shirt: Shirt, look: Partial<Look>, what: (x: number, y: number) => Colour | null) =>
      fineness(shirt.drawn({ knit: 1, ...look }, '#8A8D91', what), MIDDLE) -
      fineness(shirt.drawn({ knit: 0, ...look }, '#8A8D91', what), MIDDLE);
    expect(knitted(near, {}, bare)).toBeGreaterThan(1.5);
    const [direct, screen, film] = (['direct', 'screen', 'transfer'] as const).map((kind) =>
      knitted(near, { ink: kind }, whole(ink)),
    );
    expect(direct).toBeGreaterThan(screen * 1.2);
    expect(screen).toBeGreaterThan(film * 1.2);
    expect(film).toBeGreaterThan(0);
    expect(knitted(far, {}, bare)).toBe(0);
    // It is as long as fourteen stitches in a centimetre are: the light comes again after one of them.
    const { width, data } = near.drawn({ knit: 1 }, '#8A8D91', bare);
    const flat = near.drawn({ knit: 0 }, '#8A8D91', bare).data;
    const height = (x: number, y: number): number => data[(y * width + x) * 4 + 1] - flat[(y * width + x) * 4 + 1];
    const perStitch = near.kernel.areaMaps('full-front').pixelsPerMm / 1.4;
    const alike = (shift: number): number => {
      let sum = 0;
      for (let y = 400; y < 600; y++) for (let x = 400; x < 600; x++) sum += height(x, y) * height(x + shift, y);
      return sum;
    };
    expect(alike(Math.round(perStitch))).toBeGreaterThan(alike(0) * 0.4);
    expect(alike(Math.round(perStitch * 0.25))).toBeLessThan(alike(0) * 0.4);
  });

  it('dyes the cloth in sublimation, where white is the cloth, and covers it with any other ink', () => {
    const garment = '#8FB8D8';
    const cloth = mean(far.drawn({}, garment, bare), CHEST);
    const white = whole([255, 255, 255]);
    const dyed = mean(far.drawn({ ink: 'sublimation' }, garment, white), CHEST);
    const covered = mean(far.drawn({ ink: 'screen' }, garment, white), CHEST);
    expect(deltaE2000(lab(cloth), lab(dyed))).toBeLessThan(1);
    expect(deltaE2000(lab(cloth), lab(covered))).toBeGreaterThan(10);
    // On white cloth all kinds have the design's own colours.
    const red = whole([200, 40, 40]);
    const plain = mean(far.drawn({}, '#ffffff', red), CHEST);
    expect(deltaE2000(lab(plain), lab(mean(far.drawn({ ink: 'sublimation' }, '#ffffff', red), CHEST)))).toBeLessThan(1);
  });

  it('shines as a film where the cloth shines, and is dull when it is in the threads', () => {
    const black = whole([16, 16, 16]);
    const [film, plain, direct] = (['transfer', 'plain', 'direct'] as const).map((ink) =>
      mean(far.drawn({ ink }, '#1B1B1D', black), CHEST).reduce((sum, one) => sum + one, 0),
    );
    expect(film).toBeGreaterThan(plain + 1);
    expect(direct).toBeLessThan(plain - 0.3);
  });

  it('has grain without colour that is the same each time, and leaves white white', () => {
    // Grain is there in full on a picture of 2,000 px.
    const clean = far.drawn({}, '#8A8D91', whole([128, 128, 128]));
    const grainy = far.drawn({ grain: 1 }, '#8A8D91', whole([128, 128, 128]));
    expect(
      Buffer.compare(
        Buffer.from(far.drawn({ grain: 1 }, '#8A8D91', whole([128, 128, 128])).data),
        Buffer.from(grainy.data),
      ),
    ).toBe(0);
    let [sum, squares, coloured, count] = [0, 0, 0, 0];
    for (let y = 350; y < 500; y++)
      for (let x = 400; x < 600; x++) {
        const at = (y * 1000 + x) * 4;
        const [r, g] = [0, 1].map((k) => grainy.data[at + k] - clean.data[at + k]);
        sum += g;
        squares += g * g;
        coloured = Math.max(coloured, Math.abs(r - g));
        count++;
      }
    expect(Math.abs(sum / count)).toBeLessThan(0.1);
    // Four levels at 2,000 px are two at 1,000.
    expect(Math.sqrt(squares / count)).toBeGreaterThan(1.6);
    expect(Math.sqrt(squares / count)).toBeLessThan(2.4);
    expect(coloured).toBeLessThanOrEqual(1);
    const white = [...clean.data.keys()].filter((at) => clean.data[at] === 255 && at % 4 < 3);
    expect(white.length).toBeGreaterThan(10_000);
    expect(white.every((at) => grainy.data[at] === 255)).toBeTrue();
  });

  it('is softer by a trace at edges, and nowhere lighter or darker', () => {
    const halves = (x: number): Colour => (x < 0.5 ? [20, 30, 40] : [220, 210, 200]);
    const steepest = ({ data }: Pixels): number => {
      let most = 0;
      for (let x = 400; x < 600; x++)
        most = Math.max(most, Math.abs(data[(420 * 1000 + x + 1) * 4] - data[(420 * 1000 + x) * 4]));
      return most;
    };
    const [hard, soft] = [far.drawn({}, '#F5F3EE', halves), far.drawn({ softness: 1 }, '#F5F3EE', halves)];
    expect(steepest(soft)).toBeLessThan(steepest(hard) * 0.97);
    expect(steepest(soft)).toBeGreaterThan(steepest(hard) * 0.7);
    const [before, after] = [hard, soft].map((pixels) => mean(pixels, CHEST));
    for (let k = 0; k < 3; k++) expect(Math.abs(before[k] - after[k])).toBeLessThan(0.6);
  });

  it('is the same whether only the design changed or all of it was drawn', async () => {
    const look = { ...GENTLE_FINISH, ink: 'direct' as const, softness: 1, grain: 1 };
    const wasm = await readFile(new URL(import.meta.resolve('@kettle/core/scene.wasm')));
    for (const shirt of [far, near]) {
      const art = (x: number, y: number): Colour | null => (x > 0.2 && y < 0.99 ? [200, 60, 30] : null);
      shirt.drawn(look, '#31406B', whole([240, 240, 240]));
      const changed = shirt.drawn(look, '#31406B', art);
      const fresh = new SceneKernel(compileSceneKernel(wasm), shirt.blank, shirt.kernel.maps);
      fresh.addArea(areaOf(shirt.blank, 'full-front'), shirt.kernel.areaMaps('full-front'));
      const again = Object.assign(Object.create(Shirt.prototype) as Shirt, shirt, { kernel: fresh });
      // How brightly a part is shot is judged on all of it, which a kernel of the part alone does not know.
      if (shirt === far)
        expect(Buffer.compare(Buffer.from(again.drawn(look, '#31406B', art).data), Buffer.from(changed.data))).toBe(0);
      // What is taken back is as if it had never been.
      const back = shirt.drawn(look, '#31406B', whole([240, 240, 240]));
      shirt.drawn({}, '#31406B', art);
      expect(
        Buffer.compare(Buffer.from(shirt.drawn(look, '#31406B', whole([240, 240, 240])).data), Buffer.from(back.data)),
      ).toBe(0);
    }
  });
});
