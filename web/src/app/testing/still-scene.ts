import type { ClipScene } from '@kettle/core/model';

/** A scene of a clip that shows a product and does not move. */
export const stillScene = (blankId: string, change: Partial<ClipScene> = {}): ClipScene => ({
  id: blankId,
  scene: {
    blankId,
    areaId: 'front',
    requirementId: null,
    garment: '#1f2b4d',
    backdrop: '#ffffff',
    inkOpacity: 1,
    shadow: 0.6,
  },
  frames: 72,
  movement: 'still',
  ...change,
});
