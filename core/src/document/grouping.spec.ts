import { design, layer } from '../testing/samples.js';
import { MAX_LAYERS, type Layer } from '../model/design.js';
import { copiesOf, duplicateLayers, removeLayers } from './edits.js';
import { groupLayers, renameGroup, reorderLayer, reorderLayers, ungroup, wholeGroups } from './grouping.js';

const ids = (layers: readonly Layer[]) => layers.map((one) => one.id).join('');
const row = (...names: string[]) => design(names.map((name) => layer(name)));

describe('groups', () => {
  const grouped = groupLayers(['a', 'c'], 'g', 'Badge')(row('a', 'b', 'c', 'd'));

  it('lie together where their frontmost member was, and are chosen whole', () => {
    expect(ids(grouped.layers)).toBe('bacd');
    expect(grouped.groups).toEqual({ g: 'Badge' });
    expect(wholeGroups(grouped, ['c', 'd'])).toEqual(['a', 'c', 'd']);
    expect(renameGroup('g', 'Crest')(grouped).groups).toEqual({ g: 'Crest' });
    expect(groupLayers(['a'], 'g', 'Alone')(grouped)).toBe(grouped);
  });

  it('let go without moving anything, and leave no name behind', () => {
    const free = ungroup(['g'])(grouped);
    expect(ids(free.layers)).toBe('bacd');
    expect([free.groups, free.layers.some((one) => one.group)]).toEqual([{}, false]);
    expect(removeLayers(['a', 'c'])(grouped).groups).toEqual({});
  });

  it('take in what is dropped between their members, and lose what is taken away', () => {
    expect(reorderLayer('d', 2)(grouped).layers.map((one) => one.group)).toEqual([undefined, 'g', 'g', 'g']);
    expect(reorderLayer('c', 0)(grouped).layers.find((one) => one.id === 'c')!.group).toBeUndefined();
  });

  it('are passed whole by what moves one step', () => {
    expect(ids(reorderLayers(['d'], 'backwards')(grouped).layers)).toBe('bdac');
    expect(ids(reorderLayers(['a', 'c'], 'forwards')(grouped).layers)).toBe('bdac');
    expect(ids(reorderLayers(['b'], 'front')(grouped).layers)).toBe('acdb');
    expect(ids(reorderLayers(['c', 'd'], 'back')(row('a', 'b', 'c', 'd')).layers)).toBe('cdab');
    const front = row('a', 'b');
    expect(reorderLayers(['b'], 'forwards')(front)).toBe(front);
  });

  it('are copied with a key and a name of their own', () => {
    let n = 0;
    const copies = copiesOf(
      grouped.layers.filter((one) => one.group),
      () => `n${++n}`,
    );
    const after = duplicateLayers(['a', 'c'], copies)(grouped);
    expect(new Set(copies.map((one) => one.group)).size).toBe(1);
    expect(Object.values(after.groups!)).toEqual(['Badge', 'Badge']);
    expect(after.layers.length).toBe(6);
    expect(() =>
      duplicateLayers(['a'], copies)(design(Array.from({ length: MAX_LAYERS }, (_, i) => layer(String(i))))),
    ).toThrowError(RangeError);
  });
});
