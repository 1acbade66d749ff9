import { layer, design } from '../testing/samples.js';
import { hideLayers, keepAsTemplate } from './edits.js';
import { fillTemplate, gapsOf } from './template.js';
import { textLayer } from './text-layer.js';

const field = { width: 355.6, height: 406.4 };
const words = textLayer(
  't',
  { text: 'Fog', fontId: 'anton' },
  { path: 'M0 7L20 7L20 0Z', width: 20, height: 7 },
  field,
  '#f2bd4b',
);

describe('a template', () => {
  const template = keepAsTemplate(true)({
    ...design([layer('a', { width: 100, height: 100 }), { ...layer('fixed'), locked: true }, words]),
    targets: [{ requirementId: 'tee', layers: { a: { place: { ...layer('a').place, width: 50, height: 50 } } } }],
  });

  it('asks for its words and its free pictures', () => {
    expect(gapsOf(template)).toEqual({
      texts: [{ id: 't', text: 'Fog' }],
      pictures: [{ id: 'a', name: jasmine.any(String) as never, assetId: 'asset-a' }],
    });
  });

  it('keeps the arrangement: pictures fit into the old box, words keep their letters or become smaller', () => {
    const filled = fillTemplate(template, 'Two', {
      texts: { t: { text: 'Barometer Falling', outlines: { path: 'M0 7L80 7L80 0Z', width: 80, height: 7 } } },
      pictures: { a: { assetId: 'other', name: 'Other', width: 400, height: 100 } },
    });
    expect([filled.name, filled.template]).toEqual(['Two', undefined]);
    const [a, fixed, t] = filled.layers;
    expect(a).toEqual(jasmine.objectContaining({ assetId: 'other' }));
    expect([a.place.width, a.place.height, a.place.x]).toEqual([100, 25, template.layers[0].place.x]);
    expect(fixed).toBe(template.layers[1]);
    expect(t.place.width).toBeCloseTo(words.place.width, 9);
    expect(t.place.x).toBe(words.place.x);
    expect(filled.targets[0].layers!['a'].place!.height).toBe(12.5);
    expect(hideLayers(['a'], true)(template).layers[0].hidden).toBeTrue();
  });
});
