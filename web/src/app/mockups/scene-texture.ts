import { compose, scale } from '@kettle/core/geometry';
import type { DesignDocument, PrintArea, Requirement } from '@kettle/core/model';
import {
  DRAFT,
  partOfArea,
  designOnScene,
  withGapOn,
  textureGrid,
  type AreaMaps,
  type ScenePlacement,
} from '@kettle/core/mockup';
import { drawLayers } from '../paint/paint-layers';
import type { AssetShelf } from '../data/asset-shelf';
import type { DrawnPrint } from './scene-messages';

/** A design as it is laid on a print area: what is drawn, for which area, how densely. */
export interface Textured {
  readonly design: DesignDocument;
  readonly requirement: Requirement | null;
  readonly garment: string;
  readonly area: PrintArea;
  readonly placement: ScenePlacement;
  /** Density at which the area is seen, picture pixels per mm, and the part of it that is, in shares of it. */
  readonly seen: Pick<AreaMaps, 'pixelsPerMm' | 'part'>;
}

/** Draws designs on the grid of a print area, on one canvas that is used again and again. */
export class SceneTexture {
  private readonly context = new OffscreenCanvas(4, 4).getContext('2d', { willReadFrequently: true })!;

  constructor(private readonly assets: AssetShelf) {}

  draw({ design, requirement, garment, area, placement, seen }: Textured): DrawnPrint {
    const grid = textureGrid(partOfArea(area, seen.part), seen.pixelsPerMm, DRAFT);
    const { canvas } = this.context;
    canvas.width = grid.width;
    canvas.height = grid.height;
    const { clip, toTexture } = placement.onTexture(grid, seen.part);
    const toArea = compose(scale(1 / grid.density), toTexture, placement.fieldToArea);
    this.context.save();
    this.context.beginPath();
    this.context.rect(clip.x, clip.y, clip.width, clip.height);
    this.context.clip();
    const seenDesign = withGapOn(designOnScene(design, requirement, garment), placement.canvasToArea);
    let isComing = false;
    drawLayers(this.context, seenDesign, toArea, grid.density, (layer) => {
      const pixels = Math.max(layer.place.width, layer.place.height) * placement.fieldToArea[0] * grid.density;
      const image = this.assets.image(layer.assetId, layer.treatments, pixels, true);
      isComing ||= !image && this.assets.isComing(layer.assetId, pixels);
      return image;
    });
    this.context.restore();
    const { data } = this.context.getImageData(0, 0, grid.width, grid.height);
    return { areaId: area.id, grid, texture: data.buffer as ArrayBuffer, isComing };
  }
}
