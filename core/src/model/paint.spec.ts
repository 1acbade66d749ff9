import { inksOf, ownColours, recolourLayer } from '../layers/layer-kinds.js';
import { shapeLayer } from '../drawing/shape.js';
import { design } from '../testing/samples.js';
import { paintPart } from '../document/edits.js';
import { graphicLayer } from '../drawing/graphic.js';
import { colourAt, gradientLine, isOpaque, mainColour, twoColours } from './paint.js';

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

describe('paints', () => {
  it('run along a direction to the corners, or from the middle to them', () => {
    const line = gradientLine(twoColours('#000000', '#ffffff'), 40, 30);
    expect([line.x1, line.y1, line.x2, line.y2].map((v) => Math.round(v * 1e6) / 1e6 + 0)).toEqual([20, 0, 20, 30]);
    expect(gradientLine({ ...twoColours('#000000', '#ffffff'), kind: 'radial' }, 40, 30).radius).toBe(25);
  });

  it('mix between stops and fade into nothing', () => {
    const run = twoColours('#000000', '#ffffff');
    expect(colourAt(run, 0.5)).toEqual({ at: 0.5, hex: '#808080', opacity: 1 });
    const faded = twoColours('#112233', null);
    expect([isOpaque(faded), isOpaque(run), mainColour(faded), mainColour(null)]).toEqual([
      false,
      true,
      '#112233',
      null,
    ]);
    expect(
      colourAt(
        {
          ...run,
          stops: [
            { at: 0.2, hex: '#ff0000', opacity: 1 },
            { at: 0.8, hex: '#0000ff', opacity: 1 },
          ],
        },
        0.9,
      ).hex,
    ).toBe('#0000ff');
  });

  it('are recoloured stop by stop and part by part', () => {
    const swapped = recolourLayer(
      { ...shapeLayer('s', 'star', field, '#112233'), fill: twoColours('#AA0000', '#00aa00') },
      (hex) => (hex.toLowerCase() === '#aa0000' ? '#123456' : hex),
    );
    expect(ownColours(swapped)).toEqual(['#123456', '#00aa00']);
    const painted = paintPart('g', 1, '#ff0000')(design([leaf])).layers[0];
    expect(ownColours(painted)).toEqual(['#11aa11', '#ff0000']);
    expect(inksOf(leaf).map((ink) => ink.share)).toEqual([0.5, 0.5]);
  });
});
