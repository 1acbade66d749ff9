import { apply, compose, invert, type Affine } from '../geometry/affine.js';
import type { Requirement } from '../requirement/requirement.js';
import { changeTarget, type Edit } from './edits.js';
import { seenBy } from './exception.js';
import { layoutTarget } from './target.js';

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

/** Degrees above -180 up to 180, to the thousandth. */
const turned = (degrees: number): number => Math.round((180 - ((((180 - degrees) % 360) + 360) % 360)) * 1000) / 1000;
