import {
  readMovingArea,
  asStill,
  filesOfBlank,
  frameAfter,
  frameOfBlank,
  isMovingBlank,
  joinedUv,
  periodOf,
  type MovingBlank,
} from './moving.js';
import type { Plane } from './maps.js';

const blank: MovingBlank = {
  id: 'turning',
  name: 'Turning',
  category: 'Tops',
  product: 'T-shirt',
  view: 'turning',
  wearer: 'nobody',
  setting: 'wall',
  kind: 'moving',
  tags: [],
  width: 80,
  height: 80,
  albedo: 0.8,
  glossTint: 0.5,
  shadowStrength: 0.6,
  backdrop: '#e4e1d9',
  colourways: [{ name: 'Chalk', hex: '#F5F3EE' }],
  areas: [
    { id: 'front', name: 'Front', widthMm: 300, heightMm: 400, safeInsetMm: 6, uv: 'uv-front', cover: 'cover-front' },
  ],
  files: { photo: 'photo', mask: 'mask', shade: 'shade', shadow: 'shadow' },
  fps: 24,
  frames: 3,
  play: 'back-and-forth',
  poster: 1,
  scales: { shade: 0.5, shadow: 0.25, uv: 0.25 },
};

describe('a moving blank', () => {
  it('is a still of each of its frames, and its poster where nothing moves', () => {
    const frame = frameOfBlank(blank, 2);
    expect(frame.kind).toBe('still');
    expect(frame.files).toEqual({
      photo: 'photo/002.webp',
      mask: 'mask/002.webp',
      shade: 'shade/002.webp',
      shadow: 'shadow/002.webp',
    });
    expect([frame.areas[0].uv, frame.areas[0].cover]).toEqual(['uv-front/002.webp', 'cover-front/002.webp']);
    expect(frameOfBlank({ ...blank, shadow: 'still' }, 2).files.shadow).toBe('shadow/000.webp');
    expect(asStill(blank)).toEqual(frameOfBlank(blank, 1));
    expect(isMovingBlank(asStill(blank))).toBeFalse();
  });

  it('names every picture of every frame once', () => {
    expect(filesOfBlank(blank).length).toBe(3 * 6);
    expect(filesOfBlank({ ...blank, shadow: 'still' } as MovingBlank).length).toBe(3 * 5 + 1);
    expect(filesOfBlank(asStill(blank)).length).toBe(6);
  });

  it('goes on for ever, either way', () => {
    expect(periodOf(blank)).toBe(4);
    expect([0, 1, 2, 3, 4, 5].map((played) => frameAfter(blank, played))).toEqual([0, 1, 2, 1, 0, 1]);
    expect([0, 1, 2, 3, 4].map((played) => frameAfter({ ...blank, play: 'loop' }, played))).toEqual([0, 1, 2, 0, 1]);
  });
});

describe('the position map of a moving blank’s frame', () => {
  /** A quarter map whose u runs from 0 to 65535 across and whose v is a step over the border between two high bytes. */
  const uv = (): Plane => {
    const [width, height] = [20, 20];
    const data = new Uint8Array(width * height * 2 * 3);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [u, v] = [Math.round((x / (width - 1)) * 65535), y % 2 ? 256 : 255];
        const [high, low] = [(y * width + x) * 3, ((y + height) * width + x) * 3];
        data.set([u >> 8, v >> 8], high);
        data.set([u & 255, v & 255], low);
      }
    return { width, height: height * 2, channels: 3, data };
  };
  const cover = (): Plane => ({
    width: 80,
    height: 80,
    channels: 1,
    data: Uint8Array.from({ length: 6400 }, (_, i) => (i % 80 < 40 ? 200 : 0)),
  });
  const at = ({ width, height, data }: Plane, x: number, y: number) => {
    const [high, low] = [(y * width + x) * 3, (y * width + x + (width * height) / 2) * 3];
    return { u: data[high] * 256 + data[low], v: data[high + 1] * 256 + data[low + 1], cover: data[high + 2] };
  };

  it('joins the bytes before it goes between texels, centre to centre', () => {
    const map = joinedUv(uv(), cover());
    expect([map.width, map.height]).toEqual([80, 160]);
    for (let x = 2; x < 38; x++) {
      // A texel's centre lies at (i + 1/2) / s.
      expect(at(map, x, 40).u)
        .withContext(`${x}`)
        .toBeCloseTo(((x + 0.5) * 0.25 - 0.5) * (65535 / 19), -0.5);
      // Between 255 and 256 there is nothing else: bytes that were mixed apart would give 0 to 511.
      const { v } = at(map, x, 40);
      expect(v === 255 || v === 256)
        .withContext(`${v}`)
        .toBeTrue();
    }
  });

  it('has the coverage of the other picture, and nothing where there is none', () => {
    const map = joinedUv(uv(), cover());
    expect(at(map, 20, 20).cover).toBe(200);
    expect(at(map, 60, 20)).toEqual({ u: 0, v: 0, cover: 0 });
    // Read at half the size it is the same place: a map has no size of its own.
    const half: Plane = {
      width: 40,
      height: 40,
      channels: 4,
      data: Uint8Array.from({ length: 6400 }, (_, i) => (i % 4 === 0 && (i / 4) % 40 < 20 ? 90 : 0)),
    };
    const small = readMovingArea(uv(), half);
    expect(small.count).toBe(800);
    expect(small.cover[0]).toBe(90);
    const pixel = small.index.indexOf(20 * 40 + 10);
    expect(Math.abs(small.us[pixel] - (at(map, 20, 40).u + at(map, 21, 40).u) / 2)).toBeLessThan(2);
  });
});
