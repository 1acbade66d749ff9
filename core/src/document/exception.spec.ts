import { ownColours } from '../layers/layer-kinds.js';
import { textLayer } from './text-layer.js';
import { artOnCanvas, layoutTarget } from './target.js';
import { design, layer, mug } from '../testing/samples.js';
import { addTarget, changeException, placeLayers, recolourOnTarget, moveOnCanvas, changeText } from './edits.js';
import { exceptionWords, seenBy } from './exception.js';
import { shapeLayer } from '../drawing/shape.js';

const field = { width: 355.6, height: 406.4 };

const words = textLayer(
  't',
  { text: 'Fog', fontId: 'anton' },
  { path: 'M0 7L20 7L20 0Z', width: 20, height: 7 },
  field,
  '#f2bd4b',
);

describe('exceptions of a target', () => {
  const two = addTarget(mug())({
    ...design([layer('a'), shapeLayer('s', 'star', field, '#F2BD4B')]),
    targets: [{ requirementId: 'tee' }],
  });
  const seen = (edited: typeof two, at = 1) => seenBy(edited, edited.targets[at]);

  it('move, hide and recolour there alone, and can be dropped', () => {
    const place = { ...two.layers[0].place, x: 9 };
    const moved = placeLayers({ a: place }, two.targets[1], true)(two);
    expect([seen(moved).layers[0].place.x, seen(moved, 0).layers[0].place.x]).toEqual([9, two.layers[0].place.x]);
    expect(moved.layers).toBe(two.layers);
    const hidden = changeException('mug', 'a', { hidden: true })(moved);
    expect(exceptionWords(hidden.targets[1].layers!['a'], two.layers[0])).toEqual(['moved', 'hidden']);
    const coloured = recolourOnTarget('mug', ['s'], '#f2bd4b', '#112233')(hidden);
    expect(ownColours(seen(coloured).layers[1])).toEqual(['#112233']);
    expect(ownColours(seen(coloured, 0).layers[1])).toEqual(['#f2bd4b']);
    // Recoloured again, it is the design's own colour that is replaced.
    expect(recolourOnTarget('mug', ['s'], '#112233', '#445566')(coloured).targets[1].layers!['s'].colours).toEqual({
      '#f2bd4b': '#445566',
    });
    expect(seen(changeException('mug', 'a', null)(coloured)).layers[0]).toBe(two.layers[0]);
    expect(seenBy(two, two.targets[0])).toBe(two);
    expect(seen(hidden)).toBe(seen(hidden));
  });

  it('are moved themselves where a target has its own place', () => {
    const own = placeLayers({ a: { ...two.layers[0].place, x: 9 } }, two.targets[1], true)(two);
    const after = moveOnCanvas(['a'], own.targets[1], mug(), { x: 5, y: 5, width: 20, height: 0 })(own);
    expect(after.layers).toEqual(own.layers);
    expect(
      artOnCanvas(
        { ...seenBy(after, after.targets[1]), layers: [seenBy(after, after.targets[1]).layers[0]] },
        layoutTarget(after, after.targets[1], mug()),
      )!.x,
    ).toBeCloseTo(5, 6);
  });

  it('keep the size of letters that are set anew', () => {
    const lettered = {
      ...two,
      layers: [words],
      targets: [
        two.targets[0],
        { ...two.targets[1], layers: { t: { place: { ...words.place, width: 40, height: 14 } } } },
      ],
    };
    const after = changeText('t', { text: 'Fogs' }, { path: 'M0 7L40 7L40 0Z', width: 40, height: 7 })(lettered);
    expect(after.targets[1].layers!['t'].place).toEqual(jasmine.objectContaining({ width: 80, height: 14 }));
  });
});
