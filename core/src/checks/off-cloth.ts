import { compose } from '../geometry/affine.js';
import { unitToField } from '../geometry/place.js';
import { coversCloth, cutAway } from '../requirement/panel.js';
import { meansToCover } from './bare-cloth.js';
import type { Check } from './check.js';
import type { Finding } from './finding.js';

/** Less than this share of a drawing may fall off unseen. */
const SLIGHT = 0.005;

/**
 * Art on a panel that is cut away or comes too near the cut. What covers the whole cloth is meant to be cut: how much of
 * it is lost is told, no more.
 */
export const offCloth: Check = {
  hinders: [],
  find: ({ requirement: { panel }, seen, layout, printsSomething, repeated }) =>
    (panel && printsSomething ? seen : []).flatMap(({ layer, where, ink }): Finding[] => {
      if (!panel || !ink || repeated) return [];
      const { share, nearest } = cutAway(panel, compose(layout.toCanvas, unitToField(layer.place)));
      const percent = `${Math.round(share * 100)} %`;
      if (coversCloth(panel, where))
        return share < SLIGHT
          ? []
          : [
              {
                code: 'cut-away',
                severity: 'tells',
                title: `${percent} cut away`,
                layerId: layer.id,
                where: null,
                sentence: `${percent} of “${layer.name}” lies beyond the cut line and is thrown away when the cloth is cut. That is how cloth is printed all over; look whether something important is in it.`,
                fix: null,
              },
            ];
      if ((share < SLIGHT && nearest >= panel.insetMm) || meansToCover(panel, ink)) return [];
      return [
        {
          code: 'off-cloth',
          severity: 'warns',
          title: share < SLIGHT ? 'Near a seam' : 'Cut off with the cloth',
          layerId: layer.id,
          where: ink,
          sentence:
            share < SLIGHT
              ? `“${layer.name}” comes within ${nearest.toFixed(0)} mm of the cut: a seam or a hem takes that in. ${panel.insetMm} mm are safe.`
              : `${percent} of “${layer.name}” lies beyond the cut line and is lost when the cloth is cut.`,
          fix: { kind: 'move-inside', label: 'Move it inside' },
        },
      ];
    }),
};
