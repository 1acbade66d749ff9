import { setKeyline, keylineOf } from '../document/keylines.js';
import type { Keyline, ShapeLayer } from '../model/design.js';
import { printRecipe } from '../recipes/recipe.js';
import { design, layer, tee } from '../testing/samples.js';
import { contourOf, keylineStrokes, keylinesUnder, pieces, silhouettesOf } from './keyline.js';

const LINE: Keyline = { hex: '#ffffff', width: 2, gap: 0, join: 'round', holes: 'kept' };
const square: ShapeLayer = {
  kind: 'shape',
  id: 's',
  name: 'Square',
  shape: 'rectangle',
  parameters: {},
  fill: '#112233',
  outline: { hex: '#ff0000', width: 4, dash: 'solid' },
  opacity: 1,
  hidden: false,
  place: layer('s', { width: 100, height: 100 }).place,
};

describe('a keyline', () => {
  it('lies under the hindmost of what it goes around, the widest deepest', () => {
    const one = design(
      [
        { ...layer('a'), group: 'g' },
        { ...layer('b'), group: 'g', keyline: LINE },
      ],
      {
        keyline: { ...LINE, width: 5 },
        keylines: { g: { ...LINE, width: 3 } },
      },
    );
    const under = keylinesUnder(one);
    expect(under.get('a')!.map(({ keyline, around }) => [keyline.width, around.map(({ id }) => id)])).toEqual([
      [5, ['a', 'b']],
      [3, ['a', 'b']],
    ]);
    expect(under.get('b')!.map(({ keyline }) => keyline.width)).toEqual([2]);
    const hidden = { ...one, layers: one.layers.map((each) => (each.id === 'a' ? { ...each, hidden: true } : each)) };
    expect(keylinesUnder(hidden).get('b')!.length).toBe(3);
  });

  it('reaches as far from an outline, and from the line along it, as it is wide; a gap is taken out again', () => {
    const { shapes, toUnit } = silhouettesOf(square)!;
    expect(shapes.map(({ line }) => line)).toEqual([0, 4]);
    const around = shapes.map((shape) => ({ ...shape, map: [2, 0, 0, 2, 0, 0] as const }));
    const placed = { hex: '#ffffff', width: 20, gap: 6, join: 'round', holes: 'kept' } as const;
    const { drawn, taken } = keylineStrokes(placed, around);
    expect(drawn.map(({ width }) => width)).toEqual([52, 60]);
    expect(taken.map(({ width }) => width)).toEqual([12, 20]);
    expect(keylineStrokes({ ...placed, gap: 0 }, around).taken).toEqual([]);
    expect(toUnit[0]).toBeCloseTo(0.01);
  });

  it('fills holes by filling every piece of an outline by itself', () => {
    const ring = 'M0 0L10 0L10 10L0 10ZM3 3L3 7L7 7L7 3Z';
    expect(pieces(ring).length).toBe(2);
    const around = [{ path: ring, rule: 'evenodd' as const, line: 0, map: [1, 0, 0, 1, 0, 0] as const }];
    const drawn = (holes: Keyline['holes']) => keylineStrokes({ ...LINE, holes }, around).drawn;
    expect(drawn('kept').map(({ rule }) => rule)).toEqual(['evenodd']);
    expect(drawn('filled').map(({ rule }) => rule)).toEqual(['nonzero', 'nonzero']);
  });

  it('follows the line of half alpha around a picture, between pixels, with its holes', () => {
    const side = 64;
    const data = new Uint8ClampedArray(side * side * 4);
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        const far = Math.hypot(x + 0.5 - 32, y + 0.5 - 32);
        const cover = Math.max(0, Math.min(1, 20.3 - far + 0.5)) * Math.max(0, Math.min(1, far - 8 + 0.5));
        data[(y * side + x) * 4 + 3] = cover * 255;
      }
    const path = contourOf({ width: side, height: side, data });
    const rings = path.split('Z').filter(Boolean);
    expect(rings.length).toBe(2);
    const radii = rings.map((ring) => {
      const numbers = ring.match(/[\d.]+/g)!.map(Number);
      const each = Array.from({ length: numbers.length / 2 }, (_, n) =>
        Math.hypot(numbers[n * 2] * side - 32, numbers[n * 2 + 1] * side - 32),
      );
      return [Math.min(...each), Math.max(...each)];
    });
    expect(Math.max(...radii.flat())).toBeLessThan(20.3 + 0.4);
    expect(Math.min(...radii[0].concat(radii[1]).filter((one) => one > 15))).toBeGreaterThan(20.3 - 0.4);
    expect(Math.min(...radii.flat())).toBeGreaterThan(8 - 0.4);
    expect(contourOf({ width: 8, height: 8, data: new Uint8ClampedArray(256) })).toBe('');
  });

  it('is part of a recipe in px of its own grid, with all it goes around', () => {
    const one = design([square, layer('a')], { keyline: { ...LINE, width: 25.4, gap: 2.54 } });
    const { layers } = printRecipe(one, one.targets[0], tee(), (id) => `sha of ${id}`);
    expect(layers.length).toBe(3);
    const { keyline } = layers[0];
    expect([keyline!.width, keyline!.gap, keyline!.around.length]).toEqual([300, 30, 2]);
    expect(keyline!.around[1].sha256).toBe('sha of asset-a');
  });

  it('is put around a design, a group or a layer, on one target alone where that is meant', () => {
    const start = design([{ ...layer('a'), group: 'g' }]);
    for (const owner of [{ kind: 'design' }, { kind: 'group', key: 'g' }, { kind: 'layer', id: 'a' }] as const) {
      const put = setKeyline(owner, LINE)(start);
      expect(keylineOf(put, owner)).toEqual(LINE);
      expect(keylineOf(setKeyline(owner, null)(put), owner)).toBeNull();
    }
    const on = setKeyline({ kind: 'design' }, LINE, { requirementId: 'tee', cloth: 'dark' })(start);
    expect([on.keyline, on.targets[0].versions!.dark!.keyline]).toEqual([undefined, LINE]);
    const none = setKeyline({ kind: 'design' }, null, { requirementId: 'tee', cloth: null })({
      ...start,
      keyline: LINE,
    });
    expect([none.keyline, none.targets[0].keyline]).toEqual([LINE, null]);
  });
});
