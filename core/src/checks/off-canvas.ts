import { intersect, type Box } from '../geometry/affine.js';
import { meansToCover, printed } from './bare-cloth.js';
import type { Check } from './check.js';
import type { Finding } from './finding.js';
import { overhang, SLACK_MM } from './check-input.js';

/** A picture that covers the canvas on all sides is meant to be cut: that is how all-over art is laid. */
const covers = (box: Box, page: Box): boolean =>
  box.x <= SLACK_MM &&
  box.y <= SLACK_MM &&
  box.x + box.width >= page.width - SLACK_MM &&
  box.y + box.height >= page.height - SLACK_MM;

/** Ink that the edge of the canvas cuts. On cloth that is to be covered it is told of what is left bare instead. */
export const offCanvas: Check = {
  hinders: [],
  find: ({ seen, page, printsSomething, requirement: { panel } }) =>
    (printsSomething && !meansToCover(panel, printed({ seen })) ? seen : []).flatMap(
      ({ layer, reach: ink }): Finding[] => {
        const cut = ink ? overhang(ink, page) : 0;
        if (!ink || cut <= SLACK_MM || covers(ink, page)) return [];
        const outside = !intersect(ink, page);
        return [
          {
            code: 'off-canvas',
            severity: 'blocks',
            title: outside ? 'Off the canvas' : 'Cut off at the edge',
            layerId: layer.id,
            where: ink,
            sentence: outside
              ? `“${layer.name}” lies wholly outside the canvas and would not be printed.`
              : `“${layer.name}” runs ${cut.toFixed(1)} mm over the edge of the canvas and would be cut there.`,
            fix: { kind: 'move-inside', label: 'Move it inside' },
          },
        ];
      },
    ),
};
