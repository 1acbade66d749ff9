import type { Check } from './check.js';
import type { Finding } from './finding.js';
import { overhang, SLACK_MM } from './check-input.js';

/** Ink between the safe line and the edge. What runs over the edge is for the check of that. */
export const outsideSafe: Check = {
  hinders: [],
  find: ({ requirement, seen, page, layout, printsSomething }) =>
    (printsSomething ? seen : []).flatMap(({ layer, reach: ink }): Finding[] => {
      // A panel has a line of its own, which is no rectangle.
      if (requirement.panel || !ink || overhang(ink, page) > SLACK_MM) return [];
      const over = overhang(ink, layout.safe);
      return over <= SLACK_MM
        ? []
        : [
            {
              code: 'outside-safe',
              severity: 'warns',
              title: 'Outside the safe area',
              layerId: layer.id,
              where: ink,
              sentence: `“${layer.name}” is ${over.toFixed(1)} mm outside the safe line; a shift in printing could cut it.`,
              fix: { kind: 'move-inside', label: 'Move it inside' },
            },
          ];
    }),
};
