import { EYE_SIDE, measureInk } from '../raster/ink.js';
import type { Requirement } from '../model/requirement.js';
import { design, layer, tee } from '../testing/samples.js';
import type { AssetFacts } from '../model/asset-facts.js';
import { findTarget } from './checks.js';

/** Cloth of 400 × 500 mm, cut 20 mm inside its canvas. */
const cloth: Requirement = {
  ...tee(),
  id: 'cloth',
  width: 400,
  height: 500,
  unit: 'mm',
  dpi: 150,
  panel: {
    areaId: 'panel-front',
    cut: [
      [20, 20],
      [380, 20],
      [380, 480],
      [20, 480],
    ],
    lines: [],
    insetMm: 25,
  },
};

/** A grey picture with a red spot. @param at its middle, shares of the width and height */
function spotted(at: readonly [number, number]): AssetFacts {
  const [width, height] = [120, 150];
  const data = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const near = Math.hypot(x - at[0] * width, y - at[1] * height) < 9;
      data.set(near ? [200, 20, 20, 255] : [150, 150, 150, 255], (y * width + x) * 4);
    }
  return {
    ...measureInk({ width, height, data }),
    width,
    height,
    vector: false,
    dpi: null,
    hasAlpha: false,
    format: 'png',
    conversions: [],
  };
}

const found = (facts: AssetFacts, change: object, place: object = { x: 200, y: 250, width: 410, height: 512.5 }) => {
  const one = { ...layer('a', place), ...change };
  const whole = { ...design([one], {}), targets: [{ requirementId: 'cloth' }], field: { width: 400, height: 500 } };
  return findTarget(
    whole,
    { requirementId: 'cloth', placement: { rule: 'same-size', anchor: 'top', scale: 1, offsetX: 0, offsetY: 0 } },
    cloth,
    { [(one as { assetId: string }).assetId]: facts },
  ).filter(({ code }) => code === 'important-lost');
};

describe('an important part', () => {
  it('is found by itself where art that covers the cloth loses what draws the eye', () => {
    const [lost] = found(spotted([0.05, 0.05]), {});
    expect([lost.severity, lost.title, lost.fix]).toEqual(['warns', 'What draws the eye is cut away', null]);
    expect(lost.sentence).toMatch(/About (\d\d|100) % of what draws the eye/);
    // Marked at its corner.
    expect(lost.where!.x).toBeLessThan(30);
    expect(lost.where!.y + lost.where!.height).toBeLessThan(150);
    expect(found(spotted([0.5, 0.4]), {})).toEqual([]);
  });

  it('is the one that the seller marks, whatever draws the eye', () => {
    const facts = spotted([0.05, 0.05]);
    expect(found(facts, { important: [4] })).toEqual([]);
    const [lost] = found(facts, { important: [4, 6, 7] });
    expect([lost.title, lost.fix]).toEqual(['An important part is lost', null]);
    expect(lost.sentence).toContain('2 parts that you marked');
    // The lower left and the lower middle ninth.
    expect(lost.where!.y).toBeGreaterThan(330);
  });

  it('is moved inside where the art is small enough', () => {
    const facts = spotted([0.5, 0.5]);
    const small = { x: 60, y: 250, width: 80, height: 100 };
    const [lost] = found(facts, { important: [3] }, small);
    expect(lost.fix?.kind).toBe('move-inside');
    expect(lost.sentence).toContain('a part that you marked');
    expect(found(facts, { important: [5] }, small)).toEqual([]);
  });

  it('is told in thousandths that make a whole', () => {
    const { eye } = spotted([0.9, 0.9]);
    expect(eye!.length).toBe(EYE_SIDE ** 2);
    expect(Math.abs(eye!.reduce((sum, one) => sum + one, 0) - 1000)).toBeLessThan(EYE_SIDE ** 2 / 2);
    expect(eye!.indexOf(Math.max(...eye!))).toBeGreaterThan(EYE_SIDE * 6);
  });
});
