import type { Scene } from '../model/scene.js';
import type { DesignDocument } from '../model/design.js';
import { colourwayOf, type Blank } from '../model/blank.js';
import { defaultScene } from '../mockup/scene.js';
import type { Requirement } from '../model/requirement.js';
import type { ShownScene } from '../model/clip.js';

/** Products that a clip of a design can show. */
export interface Shots {
  /** On blanks that stand still, the most wanted first; on moving ones where there are no others. */
  readonly shots: readonly ShownScene[];
  readonly turns: readonly ShownScene[];
}

/** Most products that are offered. */
const MOST_SHOTS = 6;

/** What of a scene a clip shows. */
export function shownOf(scene: Scene | ShownScene): ShownScene {
  const { blankId, areaId, requirementId, garment, backdrop, inkOpacity, shadow, look, also } = scene;
  return {
    blankId,
    areaId,
    requirementId,
    garment,
    backdrop,
    inkOpacity,
    shadow,
    ...(look ? { look } : {}),
    ...(also ? { also } : {}),
  };
}

/**
 * The products of a design: the one that is looked at, those whose scenes are kept, then others of its kind, and those that
 * move of each product it has a target for.
 * @param garment colour that it is shown in where a product comes in it
 */
export function shotsOf(
  design: Pick<DesignDocument, 'scene' | 'scenes' | 'targets'>,
  blanks: readonly Blank[],
  requirements: readonly Requirement[],
  garment: string | undefined,
): Shots {
  const products = new Set(
    design.targets.flatMap(({ requirementId }) => requirements.find(({ id }) => id === requirementId)?.product ?? []),
  );
  const blankOf = (id: string): Blank | undefined => blanks.find((one) => one.id === id);
  const looked = (design.scene && blankOf(design.scene.blankId)) ?? blanks.find(({ product }) => products.has(product));
  const first = looked ?? blanks[0];
  if (!first) return { shots: [], turns: [] };
  const on = (blank: Blank): Scene => {
    if (design.scene?.blankId === blank.id) return design.scene;
    const same = colourwayOf(blank, design.scene?.garment ?? garment ?? '') ?? colourwayOf(blank, garment ?? '');
    return same ? { ...defaultScene(blank, null), garment: same.hex } : defaultScene(blank, null);
  };
  const moves = (blank: Blank | undefined): boolean => blank?.kind === 'moving';
  const others = blanks.filter(
    (blank) => blank.category === first.category || (moves(blank) && products.has(blank.product)),
  );
  const seen = new Set<string>();
  const all = [on(first), ...(design.scenes ?? []), ...others.map(on)]
    .map(shownOf)
    .filter(({ blankId }) => blankOf(blankId) && !seen.has(blankId) && seen.add(blankId));
  const turns = all.filter(({ blankId }) => moves(blankOf(blankId)));
  const shots = all.filter(({ blankId }) => !moves(blankOf(blankId))).slice(0, MOST_SHOTS);
  return { shots: shots.length ? shots : turns, turns };
}
