import { salienceOf, type Salience } from './salience.js';

const SIDE = 60;
const drawn = (colourAt: (x: number, y: number) => readonly number[]) => ({
  width: SIDE,
  height: SIDE,
  data: Uint8Array.from({ length: SIDE * SIDE * 4 }, (_, i) => {
    const pixel = Math.floor(i / 4);
    return colourAt(pixel % SIDE, Math.floor(pixel / SIDE))[i % 4];
  }),
});
const within = ({ shares }: Salience, left: number, top: number, right: number, bottom: number): number => {
  let sum = 0;
  for (let y = top; y < bottom; y++) for (let x = left; x < right; x++) sum += shares[y * SIDE + x];
  return sum;
};

describe('what draws the eye', () => {
  it('is what differs from the rest, in colour and from what is around it, and all of it together is one', () => {
    const dot = salienceOf(
      drawn((x, y) => (Math.hypot(x - 44, y - 16) < 7 ? [220, 40, 30, 255] : [60, 110, 160, 255])),
    );
    expect(within(dot, 0, 0, SIDE, SIDE)).toBeCloseTo(1, 4);
    // 4 % of the picture has a third of it.
    expect(within(dot, 36, 8, 53, 25)).toBeGreaterThan(0.33);
    // A busy corner of a calm picture as well.
    const busy = salienceOf(
      drawn((x, y) => (x < 20 && y > 40 && (x + y) % 4 < 2 ? [240, 240, 230, 255] : [90, 100, 90, 255])),
    );
    expect(within(busy, 0, 40, 20, SIDE)).toBeGreaterThan(0.4);
  });

  it('is even where all is one colour, and none where there is no ink', () => {
    const even = salienceOf(drawn(() => [20, 120, 80, 255]));
    expect(within(even, 0, 0, SIDE / 2, SIDE)).toBeCloseTo(0.5, 3);
    expect(Math.max(...salienceOf(drawn(() => [9, 9, 9, 0])).shares)).toBe(0);
    const half = salienceOf(drawn((x) => [200, 60, 60, x < 30 ? 255 : 0]));
    expect(within(half, 30, 0, SIDE, SIDE)).toBe(0);
    expect(within(half, 0, 0, 30, SIDE)).toBeCloseTo(1, 4);
  });
});
