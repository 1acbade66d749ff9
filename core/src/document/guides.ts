import { apply, invert } from '../geometry/affine.js';
import type { DesignDocument, Guide, Target } from '../model/design.js';
import { changeTarget, type Edit } from './edits.js';
import type { SnapLine } from '../geometry/snap.js';
import type { TargetLayout } from './target.js';

/** Which guides are meant: the design's own (null), or those of one target. */
export type GuideOwner = string | null;

/** A guide where a target shows it. */
export interface ShownGuide {
  readonly owner: GuideOwner;
  /** Index among its owner's guides. */
  readonly index: number;
  readonly axis: Guide['axis'];
  /** mm on the target's canvas. */
  readonly at: number;
}

/** Most guides a design or a target may have. */
export const MAX_GUIDES = 100;

const guidesOf = (design: DesignDocument, owner: GuideOwner): readonly Guide[] =>
  (owner === null ? design.guides : design.targets.find((target) => target.requirementId === owner)?.guides) ?? [];

const withGuides = (owner: GuideOwner, guides: readonly Guide[]): Edit =>
  owner === null ? (design) => ({ ...design, guides }) : changeTarget(owner, { guides });

/** A distance on a target's canvas as its owner keeps it. */
function kept(layout: Pick<TargetLayout, 'toCanvas'>, owner: GuideOwner, axis: Guide['axis'], at: number): number {
  return owner === null ? apply(invert(layout.toCanvas), { x: at, y: at })[axis] : at;
}

/** All guides a target shows: the design's and its own. */
export function guidesOnCanvas(
  design: DesignDocument,
  target: Target,
  { toCanvas }: Pick<TargetLayout, 'toCanvas'>,
): ShownGuide[] {
  const shared = guidesOf(design, null).map(({ axis, at }, index): ShownGuide => ({
    owner: null,
    index,
    axis,
    at: apply(toCanvas, { x: at, y: at })[axis],
  }));
  return [
    ...shared,
    ...(target.guides ?? []).map(({ axis, at }, index): ShownGuide => ({
      owner: target.requirementId,
      index,
      axis,
      at,
    })),
  ];
}

/**
 * Lays a guide at a distance on a target's canvas.
 * @throws RangeError beyond {@link MAX_GUIDES}
 */
export function addGuide(
  layout: Pick<TargetLayout, 'toCanvas'>,
  owner: GuideOwner,
  axis: Guide['axis'],
  at: number,
): Edit {
  return (design) => {
    const guides = guidesOf(design, owner);
    if (guides.length >= MAX_GUIDES) throw new RangeError(`There is room for ${MAX_GUIDES} guides.`);
    return withGuides(owner, [...guides, { axis, at: kept(layout, owner, axis, at) }])(design);
  };
}

/** Moves a guide to a distance on a target's canvas. */
export const moveGuide =
  (
    layout: Pick<TargetLayout, 'toCanvas'>,
    { owner, index, axis }: Pick<ShownGuide, 'owner' | 'index' | 'axis'>,
    at: number,
  ): Edit =>
  (design) =>
    withGuides(
      owner,
      guidesOf(design, owner).map((guide, i) => (i === index ? { axis, at: kept(layout, owner, axis, at) } : guide)),
    )(design);

export const removeGuide =
  ({ owner, index }: Pick<ShownGuide, 'owner' | 'index'>): Edit =>
  (design) =>
    withGuides(
      owner,
      guidesOf(design, owner).filter((_, i) => i !== index),
    )(design);

export const linesOfGuides = (guides: readonly ShownGuide[]): SnapLine[] =>
  guides.map(({ axis, at }) => ({ axis, at, source: 'guide' }));
