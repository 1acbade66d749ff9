import { drawingOf } from '../layers/layer-kinds.js';
import { apply } from '../geometry/affine.js';
import type { FreehandLayer } from '../model/design.js';
import {
  addStroke,
  freehandLayer,
  marksOfStroke,
  MAX_STROKE_POINTS,
  strokeOnLayer,
  strokePieces,
  strokesToField,
} from './freehand.js';
import { drawingSteps } from './marks.js';

describe('freehand', () => {
  const stroke = {
    points: [10, 10, 0.5, 30, 12, 0.8, 60, 10, 0.5],
    size: 6,
    hardness: 1,
    opacity: 0.8,
    hex: '#b4532a',
    erase: false,
  };
  const line = freehandLayer('f', stroke);

  it('stays where it was drawn while the layer grows', () => {
    const grown = addStroke(line, { ...stroke, points: [100, 100, 0.5, 120, 130, 0.5] });
    const at = (one: FreehandLayer, i: number) =>
      apply(strokesToField(one), { x: one.strokes[0].points[i], y: one.strokes[0].points[i + 1] });
    expect(at(grown, 3).x).toBeCloseTo(30, 3);
    expect(at(grown, 3).y).toBeCloseTo(12, 3);
    expect(grown.place.height).toBeGreaterThan(line.place.height + 100);
  });

  it('takes strokes in a layer that was moved, turned and scaled, and an eraser changes nothing but strokes', () => {
    const turned = {
      ...line,
      place: { ...line.place, x: 200, turn: 90, width: line.place.width * 2, height: line.place.height * 2 },
    };
    const own = strokeOnLayer(turned, { ...stroke, points: [200, 150, 0.5] });
    const back = apply(strokesToField(turned), { x: own.points[0], y: own.points[1] });
    expect([Math.round(back.x * 100) / 100, Math.round(back.y * 100) / 100]).toEqual([200, 150]);
    expect(own.size).toBeCloseTo(3, 3);
    const erased = addStroke(turned, { ...stroke, erase: true });
    expect([erased.frame, erased.place, erased.strokes.length]).toEqual([turned.frame, turned.place, 2]);
    expect(drawingSteps(drawingOf(erased)).map((step) => step.erase)).toEqual([false, true]);
  });

  it('is one mark when hard, and rings whose alpha adds up to its opacity when soft', () => {
    expect(marksOfStroke(stroke).length).toBe(1);
    const soft = marksOfStroke({ ...stroke, hardness: 0.2 });
    const middle = soft.reduce((alpha, mark) => alpha + mark.opacity * (1 - alpha), 0);
    expect(soft.length).toBe(12);
    expect(middle).toBeCloseTo(0.8, 6);
  });

  it('swells with pressure', () => {
    const height = (pressure: number) => {
      const ys = [
        ...marksOfStroke({
          ...stroke,
          points: Array.from({ length: 30 }, (_, i) => [i * 4, 0, pressure]).flat(),
        })[0].path.matchAll(/[MQ ]-?[\d.]+ (-?[\d.]+)/g),
      ].map((match) => Number(match[1]));
      return Math.max(...ys) - Math.min(...ys);
    };
    expect(height(0.9)).toBeGreaterThan(height(0.3) * 1.4);
  });

  it('goes on in another piece where a stroke may hold no more, without a gap', () => {
    const long = {
      ...stroke,
      points: Array.from({ length: MAX_STROKE_POINTS * 2 + 10 }, (_, i) => [i, 0, 0.5]).flat(),
    };
    const pieces = strokePieces(long);
    expect(pieces.map((piece) => piece.points.length / 3)).toEqual([MAX_STROKE_POINTS, MAX_STROKE_POINTS, 12]);
    expect(pieces[1].points[0]).toBe(pieces[0].points.at(-3)!);
    expect(pieces[2].points.at(-3)).toBe(long.points.at(-3)!);
    expect(strokePieces(stroke)).toEqual([stroke]);
  });
});
