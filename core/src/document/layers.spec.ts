import { design, layer } from '../testing/samples.js';
import type { Layer } from '../model/design.js';
import { blendLayers, copiesOf, lockLayers, pastedLayers, removeLayers } from './edits.js';

const ids = (layers: readonly Layer[]) => layers.map((one) => one.id).join('');
const row = (...names: string[]) => design(names.map((name) => layer(name)));

describe('locked, hidden and blended layers', () => {
  it('stay when others are deleted, and copies of them are free', () => {
    const locked = lockLayers(['a'], true)(row('a', 'b'));
    expect(ids(removeLayers(['a', 'b'])(locked).layers)).toBe('a');
    expect(copiesOf([locked.layers[0]], () => 'x')[0].locked).toBeFalse();
    expect(blendLayers(['b'], 'multiply')(locked).layers[1].blend).toBe('multiply');
  });

  it('come from a clipboard where they lay, or beside what lies there already', () => {
    const [a] = row('a').layers;
    expect(pastedLayers([a], [], () => 'x')[0]).toEqual({ ...a, id: 'x', locked: false });
    expect(pastedLayers([a], [a], () => 'x')[0].place.x).toBe(a.place.x + 5);
  });
});
