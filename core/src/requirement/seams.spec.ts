import type { Panel } from '../model/requirement.js';
import { apply, compose, mapBox, translate, rotate } from '../geometry/affine.js';
import { boundsOfLayers } from '../document/bounds.js';
import { carryAcrossSeam, goOnOverSeams } from '../document/across-seam.js';
import type { DesignDocument } from '../model/design.js';
import { seenBy } from '../document/exception.js';
import { layoutTarget } from '../document/target.js';
import { design, layer, tee } from '../testing/samples.js';
import { unitToField } from '../geometry/place.js';
import type { Requirement } from '../model/requirement.js';
import { sleeveSeam } from './seams.js';

type Points = Panel['lines'][number]['points'];
const line = (name: 'armhole' | 'side', points: Points) => ({ name, points });

/** A body whose right armhole is a bow, and a sleeve whose cap's left half is the same bow, turned and moved. */
const bow: Points = Array.from({ length: 19 }, (_, i) => {
  const angle = (i / 18) * 1.2;
  return [300 - 40 * Math.sin((i / 18) * Math.PI), 40 + 170 * angle] as const;
});
const mirrored: Points = bow.map(([x, y]) => [400 - x, y] as const);
const body: Panel = {
  areaId: 'panel-front',
  cut: [],
  lines: [line('armhole', bow), line('armhole', mirrored)],
  insetMm: 25,
};
const laid = compose(translate(150, 20), rotate(50), translate(-bow[0][0], -bow[0][1]));
const half = bow.map(([x, y]) => apply(laid, { x, y })).map(({ x, y }) => [x, y] as const);
const cap: Points = [...half.toReversed(), ...half.slice(1).map(([x, y]) => [300 - x, y] as const)];
const sleeve: Panel = { areaId: 'sleeve-left', cut: [], lines: [line('armhole', cap)], insetMm: 25 };

describe('a seam', () => {
  it('lays the edges of two panels on each other, turned and moved', () => {
    const seam = sleeveSeam(body, sleeve)!;
    expect(seam.mostMm).toBeLessThan(1e-6);
    seam.onto.forEach((value, i) => expect(value).toBeCloseTo(laid[i], 6));
  });

  it('takes the other half of the cap for the other side, and for a back', () => {
    const right = sleeveSeam(body, { ...sleeve, areaId: 'sleeve-right' })!;
    expect(right.mostMm).toBeLessThan(1e-6);
    expect(right.onto[1]).toBeCloseTo(-laid[1], 6);
    const back = sleeveSeam({ ...body, areaId: 'panel-back' }, sleeve)!;
    back.onto.forEach((value, i) => expect(value).toBeCloseTo(right.onto[i], 6));
  });

  it('is none where a panel has no such lines', () => {
    expect(sleeveSeam(body, body)).toBeNull();
    expect(sleeveSeam({ ...body, lines: [] }, sleeve)).toBeNull();
    expect(sleeveSeam(body, { ...sleeve, lines: [line('side', bow)] })).toBeNull();
    expect(sleeveSeam(body, { ...sleeve, areaId: 'sleeve' })).toBeNull();
  });

  it('is crossed by art at its printed size: each of its points lies where the cloth goes on', () => {
    const requirement = (id: string, width: number, height: number): Requirement => ({
      ...tee(),
      id,
      width,
      height,
      unit: 'mm',
    });
    const [front, arm] = [requirement('front', 500, 700), requirement('arm', 300, 250)];
    const place = { x: 120, y: 90, width: 80, height: 60, turn: 170 };
    const before: DesignDocument = {
      ...design([layer('a', place), layer('b', { x: 30, y: 40, width: 20, height: 20 })], {}),
      targets: [
        {
          requirementId: 'front',
          placement: { rule: 'cover', anchor: 'top', scale: 1.4, offsetX: 12, offsetY: -7 } as const,
        },
        { requirementId: 'arm', layers: { a: { hidden: true } }, repeat: { kind: 'half-drop', gapMm: 0 } as const },
      ],
    };
    const after = carryAcrossSeam(front, arm, laid)(before);
    const [source, other] = after.targets;
    expect(source).toBe(before.targets[0]);
    expect([other.repeat, other.layers?.['a'].hidden]).toEqual([undefined, true]);
    const where = (target: typeof other, demand: Requirement, index: number) =>
      compose(layoutTarget(after, target, demand).toCanvas, unitToField(seenBy(after, target).layers[index].place));
    for (const index of [0, 1])
      for (const corner of [
        { x: 0, y: 0 },
        { x: 1, y: 0.3 },
      ]) {
        const there = apply(laid, apply(where(source, front, index), corner));
        const shown = apply(where(other, arm, index), corner);
        // The turn is kept to the thousandth of a degree.
        expect(Math.hypot(there.x - shown.x, there.y - shown.y)).toBeLessThan(0.01);
      }
    expect(Math.abs(seenBy(after, other).layers[0].place.turn)).toBeLessThanOrEqual(180);
    expect(carryAcrossSeam(front, { ...arm, id: 'none' }, laid)(before)).toBe(before);
  });

  it('is crossed by art that covers a front without leaving a sleeve bare, and by a drawing at its own size', () => {
    const square = (width: number, height: number): Panel['cut'] => [
      [0, 0],
      [width, 0],
      [width, height],
      [0, height],
    ];
    const panelled = (id: string, width: number, height: number): Requirement => ({
      ...tee(),
      id,
      width,
      height,
      unit: 'mm',
      panel: { areaId: id, cut: square(width, height), lines: [], insetMm: 20 },
    });
    const [front, arm] = [panelled('front', 400, 500), panelled('arm', 200, 150)];
    // The sleeve goes on to the right of the front, turned by a quarter.
    const onto = compose(translate(100, 0), rotate(90), translate(-400, -50));
    const laidOn = (width: number, height: number): DesignDocument => {
      const whole = design([layer('a', { x: 200, y: 250, width, height })], {});
      return {
        ...whole,
        field: { width: 400, height: 500 },
        targets: [{ requirementId: 'front', placement: placed }, { requirementId: 'arm' }],
      };
    };
    const placed = { rule: 'same-size', anchor: 'top', scale: 1, offsetX: 0, offsetY: 0 } as const;
    const after = goOnOverSeams(front, [{ to: arm, onto }])(laidOn(420, 520));
    const [source, other] = after.targets;
    const art = boundsOfLayers(seenBy(after, other).layers)!;
    const onArm = mapBox(layoutTarget(after, other, arm).toCanvas, art);
    expect(onArm.x).toBeLessThanOrEqual(0);
    expect(onArm.y).toBeLessThanOrEqual(0);
    expect(onArm.x + onArm.width).toBeGreaterThanOrEqual(200);
    expect(onArm.y + onArm.height).toBeGreaterThanOrEqual(150);
    // No larger than that takes: on one side it ends with the sleeve.
    const spare = [-onArm.x, -onArm.y, onArm.x + onArm.width - 200, onArm.y + onArm.height - 150];
    expect(Math.min(...spare)).toBeLessThan(4);
    expect(source.placement!.scale).toBeGreaterThan(1);
    const free = goOnOverSeams(front, [{ to: arm, onto }])(laidOn(100, 80));
    expect(free.targets[0].placement).toEqual(placed);
  });
});
