import type { DesignDocument, Target } from '../model/design.js';
import { changeTarget, mapLayers, moveOnCanvas, placeLayers, type Edit } from '../document/edits.js';
import { setKeyline } from '../document/keylines.js';
import { treatPicture } from '../document/treating.js';
import { keylineReach } from '../layers/keyline.js';
import { kindOf } from '../layers/layer-kinds.js';
import { NO_EDGE } from '../model/treatment.js';
import { seenBy } from '../document/exception.js';
import { boundsOfPlace } from '../geometry/place.js';
import { artOnCanvas, coveringPlacement, layoutTarget } from '../document/target.js';
import { grown, mapBox, type Box } from '../geometry/affine.js';
import { demandedCanvas } from '../model/canvas.js';
import type { Requirement } from '../model/requirement.js';
import type { Finding } from './finding.js';

/** Name of the step by which a press of a button cleans a picture. */
const CLEANED = 'cleaned';

/** Dots that a direct-to-garment printer holds well. */
export const USUAL_DOTS = { kind: 'dots', lpi: 45, angle: 25, shape: 'round' } as const;

/** The edit that mends a finding, or null when it has no fix or one that needs a choice first. */
export function fixEdit(
  finding: Finding,
  whole: DesignDocument,
  target: Target,
  requirement: Requirement,
): Edit | null {
  const { fix } = finding;
  if (!fix) return null;
  const design = seenBy(whole, target);
  const layout = layoutTarget(design, target, requirement);
  const visible = design.layers.filter((layer) => !layer.hidden).map((layer) => layer.id);
  switch (fix.kind) {
    case 'demanded-canvas':
      return changeTarget(target.requirementId, { canvas: undefined });
    case 'demanded-dpi': {
      const { widthPx, heightPx } = layout.canvas;
      const demanded = demandedCanvas(requirement);
      const same = widthPx === demanded.widthPx && heightPx === demanded.heightPx;
      return changeTarget(target.requirementId, {
        canvas: same ? undefined : { widthPx, heightPx, dpi: requirement.dpi },
      });
    }
    case 'face':
    case 'cut-out':
    case 'trace':
    case 'colours':
      return null;
    case 'proof':
      return null;
    case 'thicken':
      return setKeyline(
        { kind: 'layer', id: fix.layerId },
        { hex: fix.hex, width: fix.mm, gap: 0, join: 'round', holes: 'kept' },
      );
    case 'clean': {
      const layer = design.layers.find((one) => one.id === fix.layerId);
      if (!layer) return null;
      const before = kindOf(layer).treatmentsOf(layer) ?? [];
      const work = { ...NO_EDGE, id: CLEANED, specks: fix.px, pinholes: fix.px };
      return treatPicture(fix.layerId, [...before.filter((one) => one.id !== CLEANED), work]);
    }
    case 'unflip':
      return mapLayers([fix.layerId], (layer) => ({ ...layer, place: { ...layer.place, flipX: false, flipY: false } }));
    case 'dots':
      return mapLayers([fix.layerId], (layer) => ({ ...layer, screen: USUAL_DOTS }));
    case 'garment':
      return changeTarget(target.requirementId, { garment: fix.hex });
    case 'own-pixels': {
      const layer = design.layers.find((one) => one.id === fix.layerId);
      if (!layer) return null;
      // The top edge stays where it is, so that a chest print does not sink.
      const top = layer.place.y - layer.place.height / 2;
      return placeLayers(
        { [layer.id]: { ...layer.place, width: fix.width, height: fix.height, y: top + fix.height / 2 } },
        target,
      );
    }
    case 'centre': {
      const art = artOnCanvas(design, layout);
      return art && moveOnCanvas(visible, target, requirement, centredIn(art, layout.safe));
    }
    case 'move-inside': {
      const layer = design.layers.find((one) => one.id === finding.layerId);
      if (!layer) return null;
      const box = mapBox(layout.toCanvas, boundsOfPlace(layer.place));
      // The lines around it are to be inside as well.
      const line = (keylineReach(design).get(layer.id) ?? 0) * layout.toCanvas[0];
      // What is mended on one piece of cloth stays on it.
      const alone = requirement.panel !== undefined;
      return moveOnCanvas([layer.id], target, requirement, insideOf(box, grown(layout.safe, -line)), alone);
    }
    case 'cover-cloth': {
      const placement = coveringPlacement(design, target, requirement);
      return placement && changeTarget(target.requirementId, { placement });
    }
  }
}

function shrinkTo(box: Box, frame: Box): Box {
  const factor = Math.min(1, frame.width / box.width, frame.height / box.height);
  return { ...box, width: box.width * factor, height: box.height * factor };
}

/** A box shrunk to a frame when it is larger, in its middle. */
export function centredIn(box: Box, frame: Box): Box {
  const { width, height } = shrinkTo(box, frame);
  return { x: frame.x + (frame.width - width) / 2, y: frame.y + (frame.height - height) / 2, width, height };
}

/** A box moved by the least way into a frame, shrunk first when it is larger. */
export function insideOf(box: Box, frame: Box): Box {
  const { width, height } = shrinkTo(box, frame);
  const x = Math.min(Math.max(box.x, frame.x), frame.x + frame.width - width);
  const y = Math.min(Math.max(box.y, frame.y), frame.y + frame.height - height);
  return { x, y, width, height };
}
