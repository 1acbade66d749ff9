import type { Check } from './check.js';

/** A canvas of the seller's own that says another resolution than is demanded. */
export const canvasDpi: Check = {
  hinders: [],
  find: ({ requirement, layout: { canvas } }) =>
    canvas.dpi === requirement.dpi
      ? []
      : [
          {
            code: 'canvas-dpi',
            severity: 'blocks',
            title: `The canvas says ${canvas.dpi} DPI`,
            layerId: null,
            where: null,
            sentence: `${requirement.channel} wants ${requirement.dpi} DPI in both axes.`,
            fix: { kind: 'demanded-dpi', label: `Set ${requirement.dpi} DPI` },
          },
        ],
};
