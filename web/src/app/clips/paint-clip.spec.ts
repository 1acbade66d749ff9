import type { Clip, ClipScene, TransitionKind } from '@kettle/core/model';
import { levelsFor, paintClip } from '@kettle/core/clip';
import type { Levels, ReadyClip } from './bitmaps';
import { levelsOf } from './levels';

const [WIDTH, HEIGHT] = [400, 400];
/** Side of the pictures, px: an edge runs down their middle. */
const PICTURE = 800;

/** A picture that is dark on its left and light on its right. */
async function halves(dark: string, light: string): Promise<ImageBitmap> {
  const context = new OffscreenCanvas(PICTURE, PICTURE).getContext('2d')!;
  context.fillStyle = dark;
  context.fillRect(0, 0, PICTURE / 2, PICTURE);
  context.fillStyle = light;
  context.fillRect(PICTURE / 2, 0, PICTURE / 2, PICTURE);
  return createImageBitmap(context.canvas);
}

const scene = (change: Partial<ClipScene> = {}): ClipScene => ({
  id: 'a',
  scene: {
    blankId: 'tee',
    areaId: 'front',
    requirementId: null,
    garment: '#000000',
    backdrop: '#ffffff',
    inkOpacity: 1,
    shadow: 0,
  },
  frames: 97,
  movement: 'still',
  ...change,
});

describe('a frame of a clip', () => {
  const context = new OffscreenCanvas(WIDTH, HEIGHT).getContext('2d', { willReadFrequently: true })!;
  let grey: Levels;
  let red: Levels;
  beforeAll(async () => {
    grey = await levelsOf(await halves('#000000', '#ffffff'));
    red = await levelsOf(await halves('#800000', '#ff0000'));
  });

  const readyOf = (scenes: readonly ClipScene[], pictures: readonly Levels[]): ReadyClip => {
    const clip: Clip = { id: 'c', name: 'Clip', shape: '1:1', scenes };
    return {
      clip,
      scenes: pictures.map((picture) => ({
        guises: [[picture]],
        motion: null,
        focus: { x: 0.3, y: 0.3, width: 0.2, height: 0.4 },
      })),
      words: null,
      logo: null,
      beats: [],
      frames: scenes.reduce((sum, one) => sum + one.frames, 0),
    };
  };
  const row = () => context.getImageData(0, HEIGHT / 2, WIDTH, 1).data;
  /** Where the edge is, px: as much light as there is fills what is right of it. */
  function edge(): number {
    const data = row();
    let light = 0;
    for (let x = 0; x < WIDTH; x++) light += data[x * 4] / 255;
    return WIDTH - light;
  }

  it('moves an edge smoothly, between pixels too, and as slowly as it has to at both ends', () => {
    for (const movement of ['push', 'pull', 'drift', 'reveal'] as const) {
      const ready = readyOf([scene({ movement })], [grey]);
      const edges = Array.from({ length: 97 }, (_, frame) => {
        paintClip(context, ready, frame);
        return edge();
      });
      const steps = edges.slice(1).map((at, i) => at - edges[i]);
      const travelled = Math.abs(edges[96] - edges[0]);
      expect(travelled).withContext(movement).toBeGreaterThan(8);
      // Rounded to pixels, half of the steps would be 0 and others 1. Eight bits of light tell a 250th of a pixel.
      const jolts = steps.slice(1).map((step, i) => Math.abs(step - steps[i]));
      expect(Math.max(...jolts) / WIDTH)
        .withContext(movement)
        .toBeLessThan(0.001);
      expect(Math.abs(steps[0])).toBeLessThan(0.1);
      expect(Math.abs(steps[95])).toBeLessThan(0.1);
      expect(steps.every((step) => Math.sign(step) === Math.sign(steps[48]) || Math.abs(step) < 0.05)).toBeTrue();
    }
  });

  it('is drawn from pictures as fine as itself, which go over into each other', () => {
    const wanted = [120, 200, 300, 400, 401, 500, 700, 800, 2000];
    for (const width of wanted) {
      const { below, above, share } = levelsFor(grey, width);
      // Never finer than half as much again, where it would leave rows out.
      expect(below.width).toBeLessThanOrEqual(Math.max(width * Math.SQRT2, grey.at(-1)!.width));
      expect(share).toBeGreaterThanOrEqual(0);
      expect(share).toBeLessThanOrEqual(1);
      if (above) expect(above.width).toBeGreaterThan(width);
      else expect(share).toBe(0);
    }
    // A scene at rest has a picture a quarter larger than the clip: that alone is drawn, not a smaller one enlarged.
    expect(levelsFor(grey, grey[0].width / 1.25)).toEqual({ below: grey[0], share: 0 });
    // From one step to the next nothing jumps: at its own size a level is drawn alone, and above it the finer one grows slowly.
    expect(levelsFor(grey, 399.9)).toEqual({ below: grey[2], share: 0 });
    expect(levelsFor(grey, 400.1)).toEqual({ below: grey[2], above: grey[1], share: jasmine.any(Number) });
    expect(levelsFor(grey, 400.1).share).toBeLessThan(0.01);
    const shares = Array.from({ length: 200 }, (_, i) => 283 + i * 0.57).map((width) => {
      const { below, above, share } = levelsFor(grey, width);
      return above ? share : below.width > width ? 1 : 0;
    });
    const steps = shares.slice(1).map((share, i) => share - shares[i]);
    expect(Math.max(...steps)).toBeLessThan(0.03);
    expect(Math.min(...steps)).toBeGreaterThanOrEqual(0);
    expect([shares[0], shares.at(-1)]).toEqual([0, 1]);
  });

  it('gives way to the next scene in the way that was chosen', () => {
    const between = (kind: TransitionKind) => {
      const ready = readyOf(
        [scene({ frames: 48, transition: { kind, frames: 20 } }), scene({ id: 'b', frames: 48 })],
        [grey, red],
      );
      paintClip(context, ready, 38);
      return row();
    };
    const at = (data: Uint8ClampedArray, x: number) => [...data.subarray(x * 4, x * 4 + 3)];
    const dissolved = between('dissolve');
    // Halfway, white and red make pink.
    expect(at(dissolved, 300)[0]).toBe(255);
    expect(at(dissolved, 300)[1]).toBeGreaterThan(90);
    expect(at(dissolved, 300)[1]).toBeLessThan(170);
    // Slid by half: the white half of the one is left of the dark red half of the other.
    const slid = between('slide');
    expect(at(slid, 60)[1]).toBeGreaterThan(250);
    expect(at(slid, 320)).toEqual([128, 0, 0]);
    const wiped = between('wipe');
    expect(at(wiped, 60)).toEqual([128, 0, 0]);
    expect(at(wiped, 390)).toEqual([255, 255, 255]);
    const cut = between('cut');
    expect(at(cut, 300)).toEqual([255, 255, 255]);
  });

  it('shows the backdrop while a picture is on its way, and words when it is time', async () => {
    const ready = readyOf([scene({ frames: 72 })], [grey]);
    paintClip(context, { ...ready, scenes: [{ ...ready.scenes[0], guises: [[null]] }] }, 0);
    expect([...row().subarray(0, 3)]).toEqual([255, 255, 255]);
    const green = new OffscreenCanvas(WIDTH, 40).getContext('2d')!;
    green.fillStyle = '#00ff00';
    green.fillRect(0, 0, WIDTH, 40);
    const words = { picture: await createImageBitmap(green.canvas), x: 0, y: HEIGHT / 2 - 20 };
    const withWords: ReadyClip = {
      ...ready,
      clip: { ...ready.clip, words: { title: 'Isobars', line: '', when: 'end', hex: '#000000' } },
      words,
      frames: 240,
    };
    paintClip(context, withWords, 0);
    expect([...row().subarray(0, 3)]).toEqual([0, 0, 0]);
    paintClip(context, withWords, 239);
    expect([...row().subarray(0, 3)]).toEqual([0, 255, 0]);
  });

  it('shows the frames of a blank that moves, what lies between two of them, and one in place of those that miss', () => {
    const motion = { frames: 5, play: 'back-and-forth', fps: 24, poster: 4 } as const;
    const frames = [grey, red, grey, red, red];
    const moving = (movement: ClipScene['movement'], guises: readonly (readonly (Levels | null)[])[]): ReadyClip => {
      const ready = readyOf([scene({ frames: 48, movement })], [grey]);
      return { ...ready, scenes: [{ ...ready.scenes[0], guises, motion, standIn: red }] };
    };
    const right = () => [...row().subarray(WIDTH * 4 - 4, WIDTH * 4 - 1)];
    const seen = (ready: ReadyClip, frame: number) => {
      paintClip(context, ready, frame);
      return right();
    };
    const playing = moving('still', [frames]);
    expect([0, 1, 2, 3].map((frame) => seen(playing, frame)[1])).toEqual([255, 0, 255, 0]);
    // To the last and back.
    expect(seen(playing, 6)[1]).toBe(255);
    // Turned slowly: between the first and the second frame there is something of both.
    const between = [1, 2, 3, 4].map((frame) => seen(moving('turn', [frames]), frame)[1]);
    expect(between.some((value) => value > 20 && value < 235)).toBeTrue();
    expect(seen(moving('still', [[null, null, null, null, null]]), 0)[1]).toBe(0);
  });

  it('lays the print on: what gives way to the next guise is under it', () => {
    const ready = readyOf([scene({ frames: 40, movement: 'layers' })], [grey]);
    const layered: ReadyClip = { ...ready, scenes: [{ ...ready.scenes[0], guises: [[grey], [red]] }] };
    const green = Array.from({ length: 40 }, (_, frame) => {
      paintClip(context, layered, frame);
      return row()[WIDTH * 4 - 3];
    });
    expect(green[0]).toBe(255);
    expect(green.at(-1)).toBe(0);
    green.slice(1).forEach((value, i) => expect(value).toBeLessThanOrEqual(green[i]));
    expect(green.filter((value) => value > 10 && value < 245).length).toBeGreaterThan(3);
  });
});
