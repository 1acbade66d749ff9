import type { Panel } from '../model/requirement.js';
import { apply, compose, mapBox, unite, type Affine, type Box } from '../geometry/affine.js';
import { unitToField } from '../geometry/place.js';
import { EYE_SIDE } from '../raster/ink.js';
import { coversCloth, fromCut, isOnCloth } from '../requirement/panel.js';
import type { Check } from './check.js';
import type { Finding } from './finding.js';

/** A part draws the eye when it has this many times the mean of what a part has. */
const STRONG = 2;
/** From this share of what draws the eye, losing it is worth a word. */
const LOST_FROM = 0.2;
/** Marked parts are looked at in so many places along each way. */
const WITHIN = 6;
/** Parts that a layer is divided into along each way for marking. */
export const MARK_SIDE = 3;

/** A cell of a grid over the unit square. */
const cellOf = (index: number, side: number): Box => ({
  x: (index % side) / side,
  y: Math.floor(index / side) / side,
  width: 1 / side,
  height: 1 / side,
});

/** Share of places in a box of the unit square that the scissors or a seam take. */
function lostIn(panel: Panel, toCanvas: Affine, { x, y, width, height }: Box, places: number): number {
  let lost = 0;
  for (let j = 0; j < places; j++)
    for (let i = 0; i < places; i++) {
      const at = apply(toCanvas, { x: x + ((i + 0.5) / places) * width, y: y + ((j + 0.5) / places) * height });
      if (!isOnCloth(panel, at) || fromCut(panel, at) < panel.insetMm) lost++;
    }
  return lost / places ** 2;
}

/**
 * Parts of art on a panel that must not be lost and are: those the seller marked, and, in art that covers the cloth and
 * is cut anyway, those that draw the eye by themselves.
 */
export const importantLost: Check = {
  hinders: [],
  find: ({ requirement: { panel }, seen, layout, printsSomething, repeated }) =>
    (panel && printsSomething && !repeated ? seen : []).flatMap(({ layer, where, facts }): Finding[] => {
      if (!panel) return [];
      const toCanvas = compose(layout.toCanvas, unitToField(layer.place));
      const marked = (layer.important ?? []).filter(
        (part) => lostIn(panel, toCanvas, cellOf(part, MARK_SIDE), WITHIN) > 0,
      );
      const place = (cells: readonly Box[]): Box | null => unite(cells.map((cell) => mapBox(toCanvas, cell)));
      if (marked.length)
        return [
          {
            code: 'important-lost',
            severity: 'warns',
            title: 'An important part is lost',
            layerId: layer.id,
            where: place(marked.map((part) => cellOf(part, MARK_SIDE))),
            sentence: `Of “${layer.name}”, ${marked.length === 1 ? 'a part that you marked' : `${marked.length} parts that you marked`} as important ${marked.length === 1 ? 'reaches' : 'reach'} a seam, a hem or the scissors. ${panel.insetMm} mm from the cut are safe.`,
            fix: coversCloth(panel, where) ? null : { kind: 'move-inside', label: 'Move it inside' },
          },
        ];
      if (layer.important?.length || !facts?.eye || !coversCloth(panel, where)) return [];
      const { eye } = facts;
      const mean = eye.reduce((sum, one) => sum + one, 0) / eye.filter((one) => one > 0).length;
      const strong = eye.flatMap((share, cell) => (share >= STRONG * mean ? [{ share, cell }] : []));
      const lost = strong.filter(({ cell }) => lostIn(panel, toCanvas, cellOf(cell, EYE_SIDE), 2) > 0.5);
      const sum = (cells: readonly { readonly share: number }[]): number =>
        cells.reduce((all, { share }) => all + share, 0);
      const share = strong.length ? sum(lost) / sum(strong) : 0;
      if (share < LOST_FROM) return [];
      return [
        {
          code: 'important-lost',
          severity: 'warns',
          title: 'What draws the eye is cut away',
          layerId: layer.id,
          where: place(lost.map(({ cell }) => cellOf(cell, EYE_SIDE))),
          sentence: `About ${Math.round(share * 100)} % of what draws the eye in “${layer.name}” lies in a seam, a hem or beyond the cut. Compare croppings beside its picture under Mockups, or mark what is important yourself.`,
          fix: null,
        },
      ];
    }),
};
