import { compose, mapBox } from '../geometry/affine.js';
import type { DesignDocument, Scene } from '../document/design.js';
import { seenBy } from '../document/exception.js';
import { asVersion, versionFor } from '../document/version.js';
import { boundsOfLayers } from '../document/bounds.js';
import { recipeLayers, ENGINE_VERSION, type RecipeLayer } from '../recipes/recipe.js';
import { fieldToCanvas, layoutTarget } from '../document/target.js';
import { SAME_SIZE_TOP } from '../requirement/placement.js';
import { makeCanvas, type Canvas } from '../requirement/canvas.js';
import type { Requirement } from '../requirement/requirement.js';
import { MM_PER_INCH } from '../units/length.js';
import type { Affine, Box } from '../geometry/affine.js';
import {
  canvasOnTexture,
  isClothing,
  placeOnArea,
  type AreaSizing,
  type CanvasOnTexture,
  type TextureGrid,
} from './area.js';
import type { Blank, PrintArea, PictureFit, PictureFormat } from './blank.js';

/** The look of a scene that a blank starts with. */
export function defaultScene(blank: Blank, requirementId: string | null): Scene {
  return {
    blankId: blank.id,
    areaId: blank.areas[0].id,
    requirementId,
    garment: blank.colourways[0].hex,
    backdrop: blank.backdrop,
    // Fabric shows through thin ink only where the seller asks for it: colours are the same on every garment.
    inkOpacity: 1,
    shadow: blank.shadowStrength,
  };
}

export function areaOf(blank: Blank, areaId: string): PrintArea {
  return blank.areas.find((area) => area.id === areaId) ?? blank.areas[0];
}

/** Where the art of a design lies on a blank: print field to print area in mm, through the target's canvas. */
export interface ScenePlacement {
  readonly canvas: Canvas;
  readonly fieldToArea: Affine;
  /** Size on the product relative to the print file; 1 is true. */
  readonly factor: number;
  /** True when the print would be larger than this in reality, and is shown smaller so that none of it is cut off. */
  readonly shrunk: boolean;
  /** Where the canvas lies on a texture. */
  onTexture(grid: TextureGrid): CanvasOnTexture;
}

/**
 * A design without a matching requirement is laid as if its print field were the canvas.
 * @param sizing the scene's wish for true size, or a factor held while a hand moves the art
 */
export function placeScene(
  design: DesignDocument,
  blank: Blank,
  area: PrintArea,
  requirement: Requirement | null,
  sizing: Omit<AreaSizing, 'art'> & { readonly garment?: string } = {},
): ScenePlacement {
  const target =
    requirement &&
    (design.targets.find((one) => one.requirementId === requirement.id) ?? { requirementId: requirement.id });
  const layout = target && requirement ? layoutTarget(design, target, requirement) : null;
  const fieldCanvas = makeCanvas(
    (design.field.width / MM_PER_INCH) * 300,
    (design.field.height / MM_PER_INCH) * 300,
    300,
  );
  const canvas = layout?.canvas ?? fieldCanvas;
  const toCanvas = layout?.toCanvas ?? fieldToCanvas(design.field, fieldCanvas, SAME_SIZE_TOP);
  const bounds = boundsOfLayers(designOnScene(design, requirement, sizing.garment ?? '#ffffff').layers);
  const placement = placeOnArea(blank, area, canvas, { ...sizing, art: bounds && mapBox(toCanvas, bounds) });
  return {
    canvas,
    fieldToArea: compose(placement.toArea, toCanvas),
    factor: placement.factor,
    shrunk: isClothing(blank) && placement.factor < 0.995,
    onTexture: (grid) => canvasOnTexture(area, canvas, placement, grid),
  };
}

/**
 * The requirement whose print file a blank shows: the chosen one, else the first of the design's targets made for that
 * product.
 */
export function requirementForBlank(
  design: DesignDocument,
  blank: Blank,
  requirements: readonly Requirement[],
  chosen: string | null,
): Requirement | null {
  const own = design.targets.flatMap((target) => requirements.find((one) => one.id === target.requirementId) ?? []);
  return own.find((one) => one.id === chosen) ?? own.find((one) => one.product === blank.product) ?? own[0] ?? null;
}

/** Everything that decides the bytes of a listing picture. */
export interface PictureRecipe {
  readonly kind: 'picture';
  readonly engine: number;
  readonly blankId: string;
  /** Hash of the blank's pack: another shirt under the same name makes another picture. */
  readonly pack: string;
  readonly areaId: string;
  readonly size: number;
  readonly format: PictureFormat;
  /** What becomes of it after it is drawn; absent when nothing does. */
  readonly fit?: PictureFit;
  readonly garment: string;
  readonly backdrop: string;
  readonly inkOpacity: number;
  readonly shadow: number;
  readonly texture: {
    readonly width: number;
    readonly height: number;
    readonly density: number;
    readonly clip: Box;
    readonly layers: readonly RecipeLayer[];
  };
}

/** The design as the target behind a requirement sees it, in the version for a garment of this colour. */
export function designOnScene(
  design: DesignDocument,
  requirement: Requirement | null,
  garment: string,
): DesignDocument {
  const target = requirement && design.targets.find((one) => one.requirementId === requirement.id);
  return seenBy(design, target ? asVersion(target, versionFor(target, garment), requirement) : undefined);
}

/** Layers of a design on a print area's texture. */
export function textureLayers(
  design: DesignDocument,
  placement: ScenePlacement,
  grid: TextureGrid,
  shaOf: (assetId: string) => string,
): RecipeLayer[] {
  return recipeLayers(design, compose(placement.onTexture(grid).toTexture, placement.fieldToArea), MM_PER_INCH, shaOf);
}

export function pictureRecipe(
  design: DesignDocument,
  scene: Scene,
  { blank, pack }: { blank: Blank; pack: string },
  requirement: Requirement | null,
  grid: TextureGrid,
  output: { size: number; format: PictureFormat; fit?: PictureFit },
  shaOf: (assetId: string) => string,
): PictureRecipe {
  const placement = placeScene(design, blank, areaOf(blank, scene.areaId), requirement, scene);
  return {
    kind: 'picture',
    engine: ENGINE_VERSION,
    blankId: blank.id,
    pack,
    areaId: scene.areaId,
    ...output,
    garment: scene.garment,
    backdrop: scene.backdrop,
    inkOpacity: scene.inkOpacity,
    shadow: scene.shadow,
    texture: {
      ...grid,
      clip: placement.onTexture(grid).clip,
      layers: textureLayers(designOnScene(design, requirement, scene.garment), placement, grid, shaOf),
    },
  };
}
