import { apply, compose, invert, mapBox, type Affine } from '../geometry/affine.js';
import type { Requirement } from '../model/requirement.js';
import { coversCloth } from '../requirement/panel.js';
import { boundsOfLayers } from './bounds.js';
import { changeTarget, type Edit } from './edits.js';
import { seenBy } from './exception.js';
import { layoutTarget, placementAt } from './target.js';

/**
 * Carries the art of one panel's target over a seam on another's, so that a picture goes on where the cloth does: at the
 * same printed size, moved and turned as the cloth is. It is kept as places of its own on the other target; what was
 * hidden or recoloured there stays. A target that repeats its art shows it once then.
 * @param onto from the first panel's canvas to the other's, mm to mm, moved and turned only
 */
export const carryAcrossSeam =
  (from: Requirement, to: Requirement, onto: Affine): Edit =>
  (design) => {
    const [source, other] = [from, to].map(({ id }) => design.targets.find((one) => one.requirementId === id));
    if (!source || !other) return design;
    const shown = layoutTarget(design, source, from);
    const placement = {
      rule: 'same-size' as const,
      anchor: 'centre' as const,
      scale: shown.factor,
      offsetX: 0,
      offsetY: 0,
    };
    const { toCanvas } = layoutTarget(design, { ...other, placement }, to);
    const across = compose(invert(toCanvas), onto, shown.toCanvas);
    const turn = (Math.atan2(onto[1], onto[0]) * 180) / Math.PI;
    const layers = Object.fromEntries(
      seenBy(design, source).layers.map(({ id, place }) => [
        id,
        { ...other.layers?.[id], place: { ...place, ...apply(across, place), turn: turned(place.turn + turn) } },
      ]),
    );
    return changeTarget(to.id, { placement, repeat: undefined, layers })(design);
  };

/** A panel beside another, and how the other's cloth goes on there. */
export interface Across {
  readonly to: Requirement;
  /** From the first panel's canvas to this one's, mm to mm, moved and turned only. */
  readonly onto: Affine;
}

/**
 * Lets the art of a panel go on over its seams. Art that covers the panel is first made large enough to cover what is
 * beside it too, about its own middle; art that lies on it freely keeps its size.
 */
export const goOnOverSeams =
  (from: Requirement, beside: readonly Across[]): Edit =>
  (design) =>
    beside.reduce((done, { to, onto }) => carryAcrossSeam(from, to, onto)(done), reaching(from, beside)(design));

/** Rounding leaves no bare line. */
const COVERING = 1.003;

function reaching(from: Requirement, beside: readonly Across[]): Edit {
  return (design) => {
    const target = design.targets.find((one) => one.requirementId === from.id);
    const seen = target && seenBy(design, target);
    const bounds = seen && boundsOfLayers(seen.layers);
    if (!target || !bounds || !from.panel) return design;
    const { canvas, toCanvas } = layoutTarget(design, target, from);
    const art = mapBox(toCanvas, bounds);
    if (!coversCloth(from.panel, art)) return design;
    const middle = { x: art.x + art.width / 2, y: art.y + art.height / 2 };
    const factor = Math.max(
      1,
      ...beside.flatMap(({ to, onto }) => {
        const back = invert(onto);
        return (to.panel?.cut ?? []).map(([x, y]) => {
          const at = apply(back, { x, y });
          return (
            COVERING *
            Math.max(Math.abs(at.x - middle.x) / (art.width / 2), Math.abs(at.y - middle.y) / (art.height / 2))
          );
        });
      }),
    );
    if (factor === 1) return design;
    const [width, height] = [art.width * factor, art.height * factor];
    const box = { x: middle.x - width / 2, y: middle.y - height / 2, width, height };
    return changeTarget(from.id, { placement: placementAt(design, bounds, canvas, box), repeat: undefined })(design);
  };
}

/** Degrees above -180 up to 180, to the thousandth. */
const turned = (degrees: number): number => Math.round((180 - ((((180 - degrees) % 360) + 360) % 360)) * 1000) / 1000;
