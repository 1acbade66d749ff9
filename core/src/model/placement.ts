export type PlacementRule = 'same-size' | 'fit' | 'cover';
export type Anchor = 'top' | 'centre' | 'bottom';

export const PLACEMENT_RULES: readonly PlacementRule[] = ['same-size', 'fit', 'cover'];
export const ANCHORS: readonly Anchor[] = ['top', 'centre', 'bottom'];

/** How the print field is laid on a target's canvas. */
export interface TargetPlacement {
  /** `same-size` keeps real millimetres, `fit` shows the whole field, `cover` leaves no edge of the canvas bare. */
  readonly rule: PlacementRule;
  /** Which edge of field and canvas lie on each other; both are centred left to right. */
  readonly anchor: Anchor;
  /** Extra enlargement on top of the rule, about the anchor. 1 is none. */
  readonly scale: number;
  /** Extra shift in mm on the canvas, to the right and down. */
  readonly offsetX: number;
  readonly offsetY: number;
}

export const SAME_SIZE_TOP: TargetPlacement = { rule: 'same-size', anchor: 'top', scale: 1, offsetX: 0, offsetY: 0 };
