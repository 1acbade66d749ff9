import type { AreaShape } from './area-shape.js';
import { sizeFromKnown } from './known-length.js';

/** A photo of 2 by 3: its height counts one and a half widths. */
const RATIO = 1.5;
const corners = [
  { x: 0.3, y: 0.2 },
  { x: 0.7, y: 0.2 },
  { x: 0.7, y: 0.6 },
  { x: 0.3, y: 0.6 },
];
/** 210 mm over a fifth of the photo’s width. */
const PAPER = [
  { x: 0.1, y: 0.9 },
  { x: 0.3, y: 0.9 },
] as const;

describe('a known length', () => {
  it('gives a flat area its size both ways', () => {
    const { widthMm, heightMm } = sizeFromKnown({ kind: 'corners', corners }, RATIO, PAPER, 210);
    expect(widthMm).toBeCloseTo(420, 6);
    // 0.4 of the height are 0.6 widths.
    expect(heightMm).toBeCloseTo(630, 6);
  });

  it('may lie down the photo, where a share is longer', () => {
    const upright = [
      { x: 0.1, y: 0.5 },
      { x: 0.1, y: 0.7 },
    ] as const;
    expect(sizeFromKnown({ kind: 'corners', corners }, RATIO, upright, 300).widthMm).toBeCloseTo(400, 6);
  });

  it('follows cloth that bends, and is measured around a cup', () => {
    const wavy: AreaShape = {
      kind: 'grid',
      columns: 3,
      rows: 2,
      points: [
        { x: 0.3, y: 0.2 },
        { x: 0.5, y: 0.25 },
        { x: 0.7, y: 0.2 },
        { x: 0.3, y: 0.6 },
        { x: 0.5, y: 0.65 },
        { x: 0.7, y: 0.6 },
      ],
    };
    const bent = sizeFromKnown(wavy, RATIO, PAPER, 210);
    expect(bent.widthMm).toBeGreaterThan(440);
    expect(bent.widthMm).toBeLessThan(480);
    // Half of the way around, of which the seen part is half of the wrap: a diameter of 0.4 widths is 420 mm.
    const cup: AreaShape = { kind: 'cylinder', corners, sag: 0, arc: 175, shows: [0.25, 0.75] };
    const radius = 210 / Math.sin((175 * Math.PI) / 360);
    const around = sizeFromKnown(cup, RATIO, PAPER, 210);
    expect(around.widthMm).toBeCloseTo((radius * 175 * Math.PI) / 180 / 0.5, 3);
    expect(around.heightMm).toBeCloseTo(630, 3);
  });

  it('is refused in a sentence when it says nothing', () => {
    const wrong = (line: typeof PAPER | readonly [(typeof PAPER)[0], (typeof PAPER)[0]], mm: number) => () =>
      sizeFromKnown({ kind: 'corners', corners }, RATIO, line, mm);
    expect(wrong([PAPER[0], PAPER[0]], 210)).toThrowError(RangeError, /from one end/);
    expect(wrong(PAPER, 0)).toThrowError(RangeError, /its length/);
    expect(wrong(PAPER, NaN)).toThrowError(RangeError);
  });
});
