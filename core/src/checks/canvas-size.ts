import { demandedCanvas, demandedSizeWords, sizeAccepted } from '../model/canvas.js';
import type { Check } from './check.js';

/** A canvas of the seller's own that the channel would refuse for its pixels. */
export const canvasSize: Check = {
  hinders: [],
  find: ({ requirement, layout: { canvas } }) => {
    if (sizeAccepted(requirement, canvas.widthPx, canvas.heightPx)) return [];
    const { widthPx, heightPx } = demandedCanvas(requirement);
    return [
      {
        code: 'canvas-size',
        severity: 'blocks',
        title: 'The canvas has the wrong size',
        layerId: null,
        where: null,
        sentence: `${requirement.channel} wants ${demandedSizeWords(requirement)}; this canvas is ${canvas.widthPx} × ${canvas.heightPx} px.`,
        fix: { kind: 'demanded-canvas', label: `Make it ${widthPx} × ${heightPx} px` },
      },
    ];
  },
};
