import { apply, type Affine, type Box, type Point } from '../geometry/affine.js';
import type { Blank, PrintArea } from '../model/blank.js';
import type { Panel, Requirement, RequirementFields } from '../model/requirement.js';

/** Areas of a blank that are panels, the one that is seen most first. */
export const panelsOf = (blank: Pick<Blank, 'areas'>): readonly PrintArea[] =>
  blank.areas
    .filter((area) => area.kind === 'all-over' && area.cut)
    .toSorted((a, b) => (b.visible ?? 0) - (a.visible ?? 0));

/** Channel of requirements that are made for panels, and the DPI printers of cloth ask for. */
export const PANEL_CHANNEL = 'All-over cloth';
const PANEL_DPI = 150;

/** What a panel of a blank demands of its print file. */
export function panelRequirement(blank: Blank, area: PrintArea): RequirementFields {
  return {
    channel: PANEL_CHANNEL,
    name: `${area.name.replace(/, all over$/i, '').replace(/ \(the wearer's\)$/, '')}, ${blank.product}`,
    product: blank.product,
    width: area.widthMm,
    height: area.heightMm,
    unit: 'mm',
    dpi: PANEL_DPI,
    mode: 'rgb',
    transparency: 'allowed',
    fileTypes: ['png'],
    process: 'sublimation',
    maxBytes: null,
    sizeRule: 'exact',
    safeInsetMm: (area.bleedMm ?? 0) + area.safeInsetMm,
    placement: { rule: 'cover', anchor: 'centre', scale: 1, offsetX: 0, offsetY: 0 },
    colourways: blank.colourways,
    note: 'One file for this piece of cloth, printed before it is cut and sewn.',
    panel: { areaId: area.id, cut: area.cut ?? [], lines: area.lines ?? [], insetMm: area.safeInsetMm },
  };
}

/** The requirement that was made for a panel, if there is one. */
export const requirementOfPanel = (
  requirements: readonly Requirement[],
  blank: Pick<Blank, 'product'>,
  area: PrintArea,
): Requirement | undefined =>
  requirements.find(
    (one) =>
      one.panel?.areaId === area.id &&
      one.product === blank.product &&
      one.unit === 'mm' &&
      Math.abs(one.width - area.widthMm) < 0.5 &&
      Math.abs(one.height - area.heightMm) < 0.5,
  );

/** True for a point on the cloth that is left after the cut. Even-odd rule. */
export function isOnCloth({ cut }: Pick<Panel, 'cut'>, { x, y }: Point): boolean {
  let inside = false;
  for (let i = 0, j = cut.length - 1; i < cut.length; j = i++) {
    const [[ax, ay], [bx, by]] = [cut[i], cut[j]];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}

/** Distance of a point from the cut line, mm. */
export function fromCut({ cut }: Pick<Panel, 'cut'>, { x, y }: Point): number {
  let least = Infinity;
  for (let i = 0, j = cut.length - 1; i < cut.length; j = i++) {
    const [[ax, ay], [bx, by]] = [cut[j], cut[i]];
    const length = (bx - ax) ** 2 + (by - ay) ** 2;
    const t = length ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length)) : 0;
    least = Math.min(least, Math.hypot(ax + (bx - ax) * t - x, ay + (by - ay) * t - y));
  }
  return least;
}

/** Places along each side at which it is looked whether art lies on the cloth. */
const SIDE = 48;

/**
 * How much of a drawing is cut away, and how near it comes to the cut.
 * @param toCanvas from the unit square of what is drawn to canvas mm
 */
export function cutAway(panel: Panel, toCanvas: Affine): { readonly share: number; readonly nearest: number } {
  let lost = 0;
  let nearest = Infinity;
  for (let j = 0; j < SIDE; j++)
    for (let i = 0; i < SIDE; i++) {
      const at = apply(toCanvas, { x: (i + 0.5) / SIDE, y: (j + 0.5) / SIDE });
      if (isOnCloth(panel, at)) {
        // What lies in the middle is no nearer than what lies at its rim.
        if (i === 0 || j === 0 || i === SIDE - 1 || j === SIDE - 1) nearest = Math.min(nearest, fromCut(panel, at));
      } else lost++;
    }
  return { share: lost / SIDE ** 2, nearest: lost ? 0 : nearest };
}

/** True when a box on the canvas covers all of the cloth: such art is meant to be cut. */
export const coversCloth = ({ cut }: Pick<Panel, 'cut'>, box: Box): boolean =>
  cut.every(
    ([x, y]) => x >= box.x - 0.5 && y >= box.y - 0.5 && x <= box.x + box.width + 0.5 && y <= box.y + box.height + 0.5,
  );
