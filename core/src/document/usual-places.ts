import type { Box } from '../geometry/affine.js';

/** A place sellers ask for by name. */
export type UsualPlace = 'chest' | 'left-chest' | 'full' | 'centre' | 'width';

export const USUAL_PLACES: readonly { id: UsualPlace; label: string; hint: string }[] = [
  { id: 'chest', label: 'Chest', hint: 'Centred, near the top, at a natural width' },
  { id: 'left-chest', label: 'Left chest', hint: '90 mm wide on the wearer’s left' },
  { id: 'full', label: 'Full', hint: 'As large as the safe area allows' },
  { id: 'centre', label: 'Centre', hint: 'In the middle, at its present size' },
  { id: 'width', label: 'Safe width', hint: 'From safe line to safe line, near the top' },
];

/** Widths on clothing that are read as natural, in mm: a full chest print and a left-chest crest. */
const CHEST_WIDTH = 280;
const LEFT_CHEST_WIDTH = 90;

/**
 * Where a box of art comes to lie on a canvas, in canvas mm. Proportions are kept.
 * @param art present box of the art on the canvas
 * @param safe box inside the safe line
 */
export function usualPlace(place: UsualPlace, art: Box, safe: Box): Box {
  const aspect = art.width / art.height;
  const sized = (wanted: number): { width: number; height: number } => {
    const width = Math.min(wanted, safe.width, safe.height * aspect);
    return { width, height: width / aspect };
  };
  const middle = safe.x + safe.width / 2;
  switch (place) {
    case 'centre':
      return { ...art, x: middle - art.width / 2, y: safe.y + (safe.height - art.height) / 2 };
    case 'full': {
      const { width, height } = sized(safe.width);
      return { x: middle - width / 2, y: safe.y + (safe.height - height) / 2, width, height };
    }
    case 'width': {
      const { width, height } = sized(safe.width);
      return { x: middle - width / 2, y: safe.y, width, height };
    }
    case 'chest': {
      const { width, height } = sized(CHEST_WIDTH);
      return { x: middle - width / 2, y: Math.min(safe.y + 30, safe.y + safe.height - height), width, height };
    }
    case 'left-chest': {
      const { width, height } = sized(LEFT_CHEST_WIDTH);
      // The wearer's left is the viewer's right: 100 mm from the centre line to the crest's middle.
      const x = Math.min(middle + 100 - width / 2, safe.x + safe.width - width);
      return { x, y: Math.min(safe.y + 30, safe.y + safe.height - height), width, height };
    }
  }
}
