import { design, layer } from '../testing/samples.js';
import { withAssets, withFonts } from './carried.js';
import type { Layer } from '../model/design.js';
import { textLayer } from './text-layer.js';

const field = { width: 355.6, height: 406.4 };
const ids = (layers: readonly Layer[]) => layers.map((one) => one.id).join('');
const words = textLayer(
  't',
  { text: 'Fog', fontId: 'anton' },
  { path: 'M0 7L20 7L20 0Z', width: 20, height: 7 },
  field,
  '#f2bd4b',
);

describe('a design that was carried elsewhere', () => {
  it('has its pictures and fonts under their new ids, and nothing else changed', () => {
    const two = design([layer('a'), layer('b'), words]);
    expect(ids(withAssets(two, { 'asset-a': 'x' }).layers)).toBe('at');
    expect(withAssets(two, { 'asset-a': 'asset-a', 'asset-b': 'asset-b' })).toBe(two);
    expect(withFonts(two, { anton: 'own-1' }).layers[2]).toEqual({ ...words, fontId: 'own-1' });
    expect(withFonts(two, {})).toBe(two);
  });
});
