import { drawingOf, inkPlace } from '../layers/layer-kinds.js';
import { twoColours } from '../model/paint.js';
import { graphicLayer } from './graphic.js';
import { drawingSteps, svgOfStep } from './marks.js';
import { shapeLayer } from './shape.js';

const field = { width: 355.6, height: 406.4 };
const leaf = graphicLayer(
  'g',
  {
    id: 'leaf',
    name: 'Leaf',
    category: 'Nature',
    width: 20,
    height: 10,
    parts: [
      { path: 'M0 0L20 0L20 10Z', fill: '#11aa11' },
      { path: 'M0 0L5 5L0 5Z', fill: '#0A0A0A', rule: 'evenodd' },
    ],
  },
  field,
);

describe('marks', () => {
  const outlined = (
    side: 'inside' | 'centre' | 'outside',
    fill: Parameters<typeof shapeLayer>[3] | null = '#112233',
  ) => ({
    ...shapeLayer('s', 'star', field, '#112233'),
    fill,
    outline: { hex: '#ffffff', width: 4, dash: 'solid' as const, side, join: 'mitre' as const },
  });

  it('lie under an opaque fill when the outline is outside, so that no seam shows between the two', () => {
    const { marks } = drawingOf(outlined('outside'));
    expect(marks.map((mark) => [mark.line !== undefined, mark.fill !== null, mark.erase])).toEqual([
      [true, false, false],
      [false, true, false],
    ]);
  });

  it('put an outline inside, on or outside the edge, and leave it room there', () => {
    const room = (side: 'inside' | 'centre' | 'outside') => inkPlace(outlined(side)).width - outlined(side).place.width;
    expect([room('inside'), room('centre'), room('outside')]).toEqual([0, 2 * 2 * 4, 2 * 4 * 4]);
    const [inside] = drawingSteps(drawingOf(outlined('inside')));
    expect(inside.body).toContain('clip-path="url(#');
    expect(inside.body).toContain('stroke-width="8"');
    // Under an opaque fill nothing needs to be taken out; under an empty one the inner half does.
    expect(drawingSteps(drawingOf(outlined('outside'))).map((step) => step.erase)).toEqual([false]);
    expect(drawingSteps(drawingOf(outlined('outside', null))).map((step) => step.erase)).toEqual([false, true, false]);
  });

  it('leave open gaps between dashes and dots, also inside and outside the edge', () => {
    for (const side of ['inside', 'centre', 'outside'] as const)
      for (const dash of ['dashed', 'dotted'] as const) {
        const shape = outlined(side);
        const line = drawingOf({ ...shape, outline: { ...shape.outline, dash } }).marks.find(
          (mark) => mark.line,
        )!.line!;
        // Round ends reach half the drawn width beyond each dash.
        expect(line.dashes[1] - line.width)
          .withContext(`${side} ${dash}`)
          .toBeGreaterThanOrEqual(4);
        expect(line.dashes[0] + line.width)
          .withContext(`${side} ${dash}`)
          .toBeGreaterThanOrEqual(4);
      }
  });

  it('write gradients in the units of the box', () => {
    const [{ body }] = drawingSteps(
      drawingOf({
        ...shapeLayer('s', 'rectangle', field, '#112233'),
        fill: { ...twoColours('#112233', null), turn: 0 },
      }),
    );
    expect(body).toContain('<linearGradient');
    expect(body).toContain('stop-opacity="0"');
    const [graphic] = drawingSteps(drawingOf(leaf));
    expect(graphic.body).toContain('fill-rule="evenodd"');
    expect(svgOfStep(graphic)).toContain('viewBox="0 0 20 10"');
  });
});
