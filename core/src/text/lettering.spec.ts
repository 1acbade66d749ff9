import { drawingOf, inkPlace } from '../layers/layer-kinds.js';
import { drawingSteps } from '../drawing/marks.js';
import { textLayer } from '../document/text-layer.js';
import { PLAIN_LETTERING, setLettering, type ShapedGlyph } from './lettering.js';

/** A square letter: 800 wide and 700 high in a font of 1000 units, with 100 on each side. */
const block: ShapedGlyph = { path: 'M100,0L900,0L900,700L100,700Z', advance: 1000, dx: 0, dy: 0 };
const line = (letters: number) => Array.from({ length: letters }, () => block);

describe('lettering', () => {
  it('is as large as its ink at an em of 10 mm', () => {
    expect(setLettering([line(1)], 1000, PLAIN_LETTERING)).toEqual({ path: 'M0 7L8 7L8 0L0 0Z', width: 8, height: 7 });
    const three = setLettering([line(3)], 1000, PLAIN_LETTERING)!;
    expect([three.width, three.height]).toEqual([28, 7]);
  });

  it('takes letter spacing between letters, line spacing between lines, and its alignment', () => {
    expect(setLettering([line(3)], 1000, { ...PLAIN_LETTERING, spacing: 20 })!.width).toBeCloseTo(32, 6);
    expect(setLettering([line(1), line(1)], 1000, { ...PLAIN_LETTERING, lineSpacing: 150 })!.height).toBeCloseTo(22, 6);
    const firstX = (align: 'left' | 'middle' | 'right') =>
      Number(/^M([\d.]+)/.exec(setLettering([line(1), line(3)], 1000, { ...PLAIN_LETTERING, align })!.path)![1]);
    expect([firstX('left'), firstX('middle'), firstX('right')]).toEqual([0, 10, 20]);
  });

  it('arches, sags and closes a circle', () => {
    const straight = setLettering([line(9)], 1000, PLAIN_LETTERING)!;
    const arched = setLettering([line(9)], 1000, { ...PLAIN_LETTERING, bend: 90 })!;
    const sagged = setLettering([line(9)], 1000, { ...PLAIN_LETTERING, bend: -90 })!;
    expect(arched.height).toBeGreaterThan(straight.height + 5);
    expect(sagged.height).toBeGreaterThan(straight.height + 5);
    // The first letter of an arch is turned to the left: its foot lies right of its head.
    const [footLeft, , , headLeft] = [...arched.path.matchAll(/[ML]([\d.]+) [\d.]+/g)]
      .slice(0, 4)
      .map((match) => Number(match[1]));
    expect(headLeft).toBeLessThan(footLeft);
    const ring = setLettering([line(30)], 1000, { ...PLAIN_LETTERING, bend: 350 })!;
    // 300 mm of line around 350 degrees: a circle of about 98 mm across, and the letters outside it.
    expect(ring.width).toBeGreaterThan(98);
    expect(ring.width).toBeLessThan(98 + 2 * 7 + 4);
  });

  it('is nothing when there is nothing to see', () => {
    expect(setLettering([], 1000, PLAIN_LETTERING)).toBeNull();
    expect(setLettering([[{ path: '', advance: 300, dx: 0, dy: 0 }]], 1000, PLAIN_LETTERING)).toBeNull();
  });

  it('keeps its outline’s real width at any size', () => {
    const layer = {
      ...textLayer(
        't',
        { text: 'A', fontId: 'f' },
        { path: 'M0 7L8 7L8 0L0 0Z', width: 8, height: 7 },
        { width: 300, height: 300 },
        '#000000',
      ),
      outline: { hex: '#ffffff', width: 3, dash: 'solid' as const },
    };
    const unit = layer.place.width / 8;
    expect(drawingSteps(drawingOf(layer))[0].body).toContain(`stroke-width="${Math.round((3 / unit) * 1000) / 1000}"`);
    // Half of it stands out of the letters on every side, in real millimetres.
    expect(inkPlace(layer).width - layer.place.width).toBeCloseTo(3, 6);
  });
});
