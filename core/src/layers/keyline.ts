import { contours } from 'd3-contour';
import simplify from 'simplify-js';
import svgpath from 'svgpath';
import type { DesignDocument, Keyline, Layer } from '../model/design.js';
import { compose, scale, translate, type Affine } from '../geometry/affine.js';
import { pathNumber as n } from '../geometry/path-number.js';
import { marksOf } from './layer-kinds.js';
import type { Pixels } from '../geometry/pixels.js';

/** A shape that a keyline goes around: an outline in units of its own, and the width of the line that lies along it. */
export interface Silhouette {
  readonly path: string;
  readonly rule?: 'evenodd';
  readonly line: number;
}

/** A keyline with what it goes around, back to front. */
export interface KeylineAround {
  readonly keyline: Keyline;
  readonly around: readonly Layer[];
}

/**
 * Shapes of a layer made of outlines, and the map of their units to its unit square; null for pictures, and for outlines
 * out of which something was rubbed: a line around those goes around what is seen.
 */
export function silhouettesOf(layer: Layer): { shapes: readonly Silhouette[]; toUnit: Affine } | null {
  const drawing = marksOf(layer);
  if (!drawing || isRubbed(layer)) return null;
  const { box, marks } = drawing;
  return {
    shapes: marks
      .filter((mark) => !mark.erase && mark.path !== '' && (mark.fill !== null || mark.line))
      .map(({ path, rule, line }) => ({
        path,
        ...(rule ? { rule } : {}),
        line: line && !line.within ? line.width : 0,
      })),
    toUnit: compose(scale(1 / box.width, 1 / box.height), translate(-box.x, -box.y)),
  };
}

/** Whether anything was rubbed out of a layer by hand. */
export const isRubbed = (layer: Layer): boolean =>
  layer.rubbed !== undefined || (layer.kind === 'freehand' && layer.strokes.some((stroke) => stroke.erase));

/** Keylines by the layer that they lie under: the hindmost of what they go around. */
export function keylinesUnder(
  design: Pick<DesignDocument, 'layers' | 'keyline' | 'keylines'>,
): ReadonlyMap<string, readonly KeylineAround[]> {
  const found = new Map<string, KeylineAround[]>();
  const visible = design.layers.filter((layer) => !layer.hidden && layer.opacity > 0);
  const put = (keyline: Keyline | null | undefined, around: readonly Layer[]): void => {
    if (!keyline || !around.length) return;
    found.set(around[0].id, [...(found.get(around[0].id) ?? []), { keyline, around }]);
  };
  // The widest lies deepest: that of the whole design under those of groups, and theirs under those of layers.
  put(design.keyline, visible);
  for (const [group, keyline] of Object.entries(design.keylines ?? {}))
    put(
      keyline,
      visible.filter((layer) => layer.group === group),
    );
  for (const layer of visible) put(layer.keyline, [layer]);
  return found;
}

/** How far lines stand out around each layer that has any, mm of the design, by layer. */
export function keylineReach(
  design: Pick<DesignDocument, 'layers' | 'keyline' | 'keylines'>,
): ReadonlyMap<string, number> {
  const reach = new Map<string, number>();
  for (const { keyline, around } of [...keylinesUnder(design).values()].flat())
    for (const { id } of around) reach.set(id, Math.max(reach.get(id) ?? 0, keyline.gap + keyline.width));
  return reach;
}

/** Alpha at which the edge of a picture lies. */
const EDGE_ALPHA = 128;
/** How far a contour may be straightened, px of the copy it is found on. */
const STRAIGHTENED = 0.3;

/**
 * Outline of what is seen of a picture, on the unit square: the line of half alpha, between pixels where it lies there.
 * Holes are wound the other way, as even-odd has them. Empty when nothing is seen.
 */
export function contourOf({ width, height, data }: Pixels): string {
  // A clear rim closes what touches the picture's border.
  const [w, h] = [width + 2, height + 2];
  const alpha = new Array<number>(w * h).fill(0);
  for (let y = 0, i = 3; y < height; y++) for (let x = 0; x < width; x++, i += 4) alpha[(y + 1) * w + x + 1] = data[i];
  const [found] = contours().size([w, h]).thresholds([EDGE_ALPHA])(alpha);
  return (found?.coordinates ?? [])
    .flat()
    .map((ring) => {
      const points = simplify(
        ring.map(([x, y]) => ({ x, y })),
        STRAIGHTENED,
        true,
      );
      return points.length < 4
        ? ''
        : `M${points
            .slice(0, -1)
            .map(({ x, y }) => `${n((x - 1) / width)} ${n((y - 1) / height)}`)
            .join('L')}Z`;
    })
    .join('');
}

/** Pieces of a path that each are filled by themselves, so that no hole stays open. */
export function pieces(path: string): string[] {
  const out: string[] = [];
  svgpath(path)
    .abs()
    .unarc()
    .iterate((segment) => {
      if (segment[0] === 'M') out.push('');
      out[out.length - 1] += segment.join(' ');
    });
  return out.filter((piece) => piece !== '');
}

/** A path on another plane. */
export const mappedPath = (path: string, map: Affine): string =>
  svgpath(path)
    .matrix(map as unknown as number[])
    .round(3)
    .toString();

/** A silhouette on a pixel grid. */
export interface PlacedSilhouette extends Silhouette {
  /** Units of the path to px. */
  readonly map: Affine;
}

/** A keyline on a pixel grid: lengths in px. */
export interface PlacedKeyline {
  readonly hex: string;
  readonly width: number;
  readonly gap: number;
  readonly join: Keyline['join'];
  readonly holes: Keyline['holes'];
}

/** One outline with the line around it, in px: what is drawn of it, or taken out where the gap is. */
export interface KeylineStroke {
  readonly path: string;
  readonly rule: 'evenodd' | 'nonzero';
  readonly width: number;
}

/** Corners sharper than this are cut off, as a multiple of the line's width. */
export const KEYLINE_MITRE = 4;

/**
 * Outlines as they are drawn with a line of both colours: first those whose line reaches the outer edge of the keyline,
 * then those that are taken out again up to the gap's edge. A line of twice a distance along an outline covers exactly
 * what lies within that distance of it.
 */
export function keylineStrokes(
  { width, gap, holes }: PlacedKeyline,
  around: readonly PlacedSilhouette[],
): { drawn: readonly KeylineStroke[]; taken: readonly KeylineStroke[] } {
  const shapes = around.flatMap(({ path, rule, line, map }) => {
    const placed = mappedPath(path, map);
    const half = (line * Math.sqrt(Math.abs(map[0] * map[3] - map[1] * map[2]))) / 2;
    return holes === 'filled'
      ? pieces(placed).map((piece) => ({ path: piece, rule: 'nonzero' as const, half }))
      : [{ path: placed, rule: rule ?? ('nonzero' as const), half }];
  });
  const reaching = (distance: number): KeylineStroke[] =>
    shapes.map(({ path, rule, half }) => ({ path, rule, width: 2 * (distance + half) }));
  return { drawn: reaching(gap + width), taken: gap > 0 ? reaching(gap) : [] };
}
