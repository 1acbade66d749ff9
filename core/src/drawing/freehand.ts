import { getStroke } from 'perfect-freehand';
import {
  apply,
  boxAround,
  compose,
  invert,
  scale,
  translate,
  unite,
  type Affine,
  type Box,
  type Point,
} from '../geometry/affine.js';
import type { FreehandLayer, Stroke } from '../model/design.js';
import type { LayerPlace } from '../geometry/place.js';
import type { Mark } from './marks.js';
import { unitToField } from '../geometry/place.js';
import { pathNumber as n } from '../geometry/path-number.js';

/** Rings that a soft edge is made of. Their steps of a twelfth are not seen in print. */
const RINGS = 12;

/** Most points a stroke may have; a longer one goes on in a new stroke. */
export const MAX_STROKE_POINTS = 4000;

/** Most strokes a freehand layer may hold. */
export const MAX_STROKES = 2000;

/**
 * Outline of a stroke at a share of its width, as path data. Pressure thins it to half and swells it to one and a
 * half.
 */
function strokePath({ points, size }: Stroke, share: number): string {
  const input: number[][] = [];
  for (let i = 0; i + 2 < points.length; i += 3) input.push([points[i], points[i + 1], points[i + 2]]);
  const outline = getStroke(input, {
    size: size * share,
    thinning: 0.5,
    smoothing: 0.5,
    streamline: 0.3,
    simulatePressure: false,
    last: true,
  });
  if (outline.length < 3) return '';
  // Middles of neighbouring points joined by quadratic curves make the outline smooth.
  const [first] = outline;
  let path = `M${n((first[0] + outline[1][0]) / 2)} ${n((first[1] + outline[1][1]) / 2)}`;
  for (let i = 1; i <= outline.length; i++) {
    const [a, b] = [outline[i % outline.length], outline[(i + 1) % outline.length]];
    path += `Q${n(a[0])} ${n(a[1])} ${n((a[0] + b[0]) / 2)} ${n((a[1] + b[1]) / 2)}`;
  }
  return `${path}Z`;
}

/**
 * A stroke as marks: one for a hard edge, rings laid over each other for a soft one, so that alpha grows evenly from
 * the rim to the hard middle.
 */
export function marksOfStroke(stroke: Stroke): Mark[] {
  const { hardness, opacity, hex, erase } = stroke;
  const rings = hardness >= 0.99 ? 1 : RINGS;
  return Array.from({ length: rings }, (_, ring) => {
    const share = rings === 1 ? 1 : 1 - (ring / (rings - 1)) * (1 - Math.max(0.06, hardness));
    // Alpha after k of n rings is opacity·k/n; each ring adds what source-over needs for that.
    const before = (opacity * ring) / rings;
    return { path: strokePath(stroke, share), fill: hex, opacity: opacity / rings / (1 - before), erase };
  }).filter((mark) => mark.path !== '');
}

/** A stroke in pieces of at most {@link MAX_STROKE_POINTS} points, each beginning where the one before ends. */
export function strokePieces(stroke: Stroke): Stroke[] {
  const most = MAX_STROKE_POINTS * 3;
  if (stroke.points.length <= most) return [stroke];
  const pieces: Stroke[] = [];
  for (let from = 0; from + 3 < stroke.points.length; from += most - 3)
    pieces.push({ ...stroke, points: stroke.points.slice(from, from + most) });
  return pieces;
}

/** Box that a stroke's ink stays in, in the layer's own units. */
export function reachOf({ points, size }: Stroke): Box {
  const at: Point[] = [];
  for (let i = 0; i + 2 < points.length; i += 3) at.push({ x: points[i], y: points[i + 1] });
  const box = boxAround(at);
  const rim = size * 0.8;
  return { x: box.x - rim, y: box.y - rim, width: box.width + 2 * rim, height: box.height + 2 * rim };
}

/** Map from a freehand layer's own plane to the print field. */
export function strokesToField({ frame, place }: Pick<FreehandLayer, 'frame' | 'place'>): Affine {
  return compose(unitToField(place), scale(1 / frame.width, 1 / frame.height), translate(-frame.x, -frame.y));
}

/** A stroke drawn on the field, in mm, brought into a layer's own plane. */
export function strokeOnLayer(layer: Pick<FreehandLayer, 'frame' | 'place'>, stroke: Stroke): Stroke {
  const map = invert(strokesToField(layer));
  const points: number[] = [];
  for (let i = 0; i + 2 < stroke.points.length; i += 3) {
    const at = apply(map, { x: stroke.points[i], y: stroke.points[i + 1] });
    points.push(round(at.x), round(at.y), Math.round(stroke.points[i + 2] * 100) / 100);
  }
  return { ...stroke, points, size: round(stroke.size * Math.sqrt(Math.abs(map[0] * map[3] - map[1] * map[2]))) };
}

const round = (value: number): number => Math.round(value * 1000) / 1000 + 0;

/**
 * A layer with one more stroke, given on the field in mm. The frame grows with the ink; what was drawn stays where it
 * lies.
 */
export function addStroke(layer: FreehandLayer, stroke: Stroke): FreehandLayer {
  const own = strokeOnLayer(layer, stroke);
  if (own.erase) return { ...layer, strokes: [...layer.strokes, own] };
  const frame = unite([layer.frame, reachOf(own)])!;
  return { ...layer, strokes: [...layer.strokes, own], frame, place: placeOfFrame(layer, frame) };
}

function placeOfFrame(layer: FreehandLayer, frame: Box): LayerPlace {
  const middle = apply(strokesToField(layer), { x: frame.x + frame.width / 2, y: frame.y + frame.height / 2 });
  return {
    ...layer.place,
    ...middle,
    width: (layer.place.width / layer.frame.width) * frame.width,
    height: (layer.place.height / layer.frame.height) * frame.height,
  };
}

/** A layer of its own for a first stroke, given on the field in mm. */
export function freehandLayer(id: string, stroke: Stroke): FreehandLayer {
  const frame = reachOf(stroke);
  return {
    kind: 'freehand',
    id,
    name: 'Freehand',
    frame,
    strokes: [stroke],
    opacity: 1,
    hidden: false,
    place: {
      x: frame.x + frame.width / 2,
      y: frame.y + frame.height / 2,
      width: frame.width,
      height: frame.height,
      turn: 0,
      flipX: false,
      flipY: false,
    },
  };
}
