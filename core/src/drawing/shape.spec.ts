import type { ShapeKind } from '../model/design.js';
import { findTarget } from '../checks/checks.js';
import { assetIdsOf, drawingOf, inkPlace } from '../layers/layer-kinds.js';
import { design, facts, layer, tee } from '../testing/samples.js';
import { type VectorLayer } from '../model/design.js';
import { addLayer, changeInk, changeShape, recolour } from '../document/edits.js';
import { canonicalJson } from '../model/canonical-json.js';
import { printRecipe } from '../recipes/recipe.js';
import { drawingSteps, svgOfStep } from './marks.js';
import { parameterOf, SHAPES, shapeDescription, shapeLayer, shapePath } from './shape.js';

const field = { width: 355.6, height: 406.4 };
const svgOf = (layer: VectorLayer) => svgOfStep(drawingSteps(drawingOf(layer))[0]);
const shape = (kind: ShapeKind, parameters: Record<string, number> = {}) => ({
  ...shapeLayer('s', kind, field, '#f2bd4b'),
  parameters,
});

/**
 * End points of all path segments; enough to see where a path goes when its curves stay inside the hull of their ends.
 */
function points(path: string): [number, number][] {
  const out: [number, number][] = [];
  let [x, y] = [0, 0];
  for (const [, command, text] of path.matchAll(/([MLHVACZ])([^MLHVACZ]*)/g)) {
    const v = text
      .trim()
      .split(/[\s,]+/)
      .filter(Boolean)
      .map(Number);
    if (command === 'H') x = v[0];
    else if (command === 'V') y = v[0];
    else if (command === 'A') for (let i = 0; i < v.length; i += 7) [x, y] = [v[i + 5], v[i + 6]];
    else if (command === 'C') for (let i = 0; i < v.length; i += 6) [x, y] = [v[i + 4], v[i + 5]];
    else if (command !== 'Z')
      for (let i = 0; i < v.length; i += 2) {
        [x, y] = [v[i], v[i + 1]];
        out.push([x, y]);
      }
    if (command !== 'Z') out.push([x, y]);
  }
  return out;
}

describe('shapes', () => {
  it('are closed paths of finite numbers inside their box, for every parameter at both ends of its range', () => {
    for (const { kind, parameters } of SHAPES) {
      for (const end of ['least', 'start', 'most'] as const) {
        const path = shapePath(shape(kind, Object.fromEntries(parameters.map((one) => [one.key, one[end]]))), 120, 80);
        expect(path)
          .withContext(kind)
          .toMatch(/^M[^NaI]*Z$/);
        for (const [x, y] of points(path)) {
          expect(x).withContext(`${kind} ${end}`).toBeGreaterThan(-0.01);
          expect(x).withContext(`${kind} ${end}`).toBeLessThan(120.01);
          expect(y).withContext(`${kind} ${end}`).toBeGreaterThan(-0.01);
          expect(y).withContext(`${kind} ${end}`).toBeLessThan(80.01);
        }
      }
    }
  });

  it('touch all four edges where they have corners', () => {
    for (const kind of ['rectangle', 'polygon', 'star', 'arrow', 'banner', 'cross'] as const) {
      const all = points(shapePath(shape(kind), 120, 80));
      expect(Math.max(...all.map(([x]) => x)) - Math.min(...all.map(([x]) => x)))
        .withContext(kind)
        .toBeCloseTo(120, 2);
      expect(Math.max(...all.map(([, y]) => y)) - Math.min(...all.map(([, y]) => y)))
        .withContext(kind)
        .toBeCloseTo(80, 2);
    }
  });

  it('have as many corners as they are told', () => {
    expect(points(shapePath(shape('polygon', { count: 7 }), 10, 10)).length / 2).toBe(7);
    expect(points(shapePath(shape('star', { count: 5 }), 10, 10)).length / 2).toBe(10);
  });

  it('keep parameters within their range, whole where they count', () => {
    expect(parameterOf(shape('polygon', { count: 999 }), 'count')).toBe(60);
    expect(parameterOf(shape('polygon', { count: 4.4 }), 'count')).toBe(4);
    expect(parameterOf(shape('star'), 'depth')).toBe(55);
    expect(() => shapeDescription('spiral' as ShapeKind)).toThrowError(RangeError);
  });

  it('are drawn with room for their outline', () => {
    const outlined = { ...shape('ellipse'), outline: { hex: '#1B1B1D', width: 4, dash: 'dashed' as const } };
    expect(inkPlace(outlined).width).toBeCloseTo(outlined.place.width + 4, 9);
    expect(svgOf(outlined)).toContain('viewBox="-2 -2 ');
    expect(svgOf(outlined)).toContain('stroke-dasharray="12 8"');
    expect(svgOf({ ...shape('ellipse'), fill: null })).toContain('fill="none"');
  });

  it('go into the recipe by what is seen of them', () => {
    const text = (edit = (d: ReturnType<typeof design>) => d) =>
      canonicalJson(
        printRecipe(edit(addLayer(shape('heart'))(design([]))), { requirementId: 'tee' }, tee(), (id) => id),
      );
    expect(text()).toContain('<path');
    expect(text(changeInk('s', { fill: '#000000' }))).not.toBe(text());
    expect(text(changeShape('s', { unknown: 3 }))).toBe(text());
    expect(assetIdsOf([layer('a'), shape('ring')])).toEqual(['asset-a']);
  });

  it('change one colour everywhere and leave pictures alone', () => {
    const three = design([layer('a')], {
      layers: [
        layer('a'),
        shape('ring'),
        { ...shape('heart'), id: 't', outline: { hex: '#F2BD4B', width: 1, dash: 'solid' } },
      ],
    });
    const after = recolour('#f2bd4b', '#112233')(three).layers;
    expect(after[0]).toBe(three.layers[0]);
    expect(after.slice(1).map((one) => one.kind === 'shape' && [one.fill, one.outline?.hex])).toEqual([
      ['#112233', undefined],
      ['#112233', '#112233'],
    ]);
  });

  it('are checked like art: sharp at any size, but seen and inside', () => {
    const codes = (one: ReturnType<typeof shape>) =>
      findTarget(design([], { layers: [one] }), { requirementId: 'tee' }, tee(), { unused: facts() }).map(
        (finding) => finding.code,
      );
    const star = shape('star');
    expect(codes(star)).toEqual([]);
    expect(codes({ ...star, place: { ...star.place, width: 330, height: 330, y: 190 } })).toEqual([]);
    expect(codes({ ...star, place: { ...star.place, x: 20 } })).toEqual(['off-canvas']);
    expect(codes({ ...star, fill: null })).toEqual(['nothing-visible']);
    // The edge lies inside, its outline does not.
    const edge = {
      ...star,
      place: { ...star.place, x: star.place.width / 2 + 1 },
      outline: { hex: '#ffffff', width: 6, dash: 'solid' as const },
    };
    expect(codes(edge)).toEqual(['off-canvas']);
  });
});
