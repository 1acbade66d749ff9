import type { AreaPrint, OwnPlacement, Scene, Behind, Look } from '../model/scene.js';
import { compose, invert, mapBox, scale, translate } from '../geometry/affine.js';
import type { DesignDocument } from '../model/design.js';
import { seenBy } from '../document/exception.js';
import { asVersion, versionFor } from '../document/version.js';
import { boundsOfLayers } from '../document/bounds.js';
import type { FactsById } from '../model/asset-facts.js';
import { inkOnCanvas } from '../checks/check-input.js';
import { recipeLayers, ENGINE_VERSION, type RecipeLayer } from '../recipes/recipe.js';
import { artOnCanvas, fieldToCanvas, layoutTarget } from '../document/target.js';
import { SAME_SIZE_TOP } from '../model/placement.js';
import { makeCanvas, type Canvas } from '../model/canvas.js';
import type { Requirement } from '../model/requirement.js';
import { MM_PER_INCH } from '../units/length.js';
import type { Affine, Box } from '../geometry/affine.js';
import {
  canvasOnTexture,
  isClothing,
  placeOnArea,
  type AreaPlacement,
  type AreaSizing,
  type CanvasOnTexture,
  type TextureGrid,
} from './area.js';
import { WHOLE_AREA } from './maps.js';
import type { RecipeBehind } from './behind.js';
import { lookOf } from './look.js';
import { measureLines, type MeasureLine } from './measures.js';
import {
  colourwayOf,
  isInRoom,
  type Blank,
  type PictureFit,
  type PictureFormat,
  type PrintArea,
} from '../model/blank.js';

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

/**
 * A scene on another blank: what a seller chose of colour, backdrop, ink, light and look stays; where the art lies and
 * what of the picture is shown is the blank's own.
 * @param from the blank the scene was on, whose own ways are not taken for choices; null when it is gone
 * @param start how the other blank begins, or was left
 */
export function carriedScene(scene: Scene, from: Blank | null, to: Blank, start: Scene): Scene {
  const { behind, look, measured, trueSize } = scene;
  const wasOwn = (mine: unknown, own: unknown): boolean => from !== null && mine === own;
  return {
    ...start,
    garment: colourwayOf(to, scene.garment)?.hex ?? start.garment,
    backdrop: wasOwn(scene.backdrop, from?.backdrop) ? to.backdrop : scene.backdrop,
    inkOpacity: scene.inkOpacity,
    shadow: wasOwn(scene.shadow, from?.shadowStrength) ? to.shadowStrength : scene.shadow,
    behind,
    look,
    measured,
    trueSize,
  };
}

export function areaOf(blank: Blank, areaId: string): PrintArea {
  return blank.areas.find((area) => area.id === areaId) ?? blank.areas[0];
}

/** Where the art of a design lies on a blank: print field to print area in mm, through the target's canvas. */
export interface ScenePlacement {
  readonly canvas: Canvas;
  readonly canvasToArea: Affine;
  readonly fieldToArea: Affine;
  /** Size on the product relative to the print file; 1 is true. */
  readonly factor: number;
  /** True when the print would be larger than this in reality, and is shown smaller so that none of it is cut off. */
  readonly shrunk: boolean;
  /** Where the canvas lies on a texture of a part of the print area. */
  onTexture(grid: TextureGrid, part: Box): CanvasOnTexture;
}

/** What a scene wishes for the size of its print, and where it lies. */
export type SceneSizing = Omit<AreaSizing, 'art'> & { readonly garment?: string; readonly own?: OwnPlacement };

/**
 * A design without a matching requirement is laid as if its print field were the canvas.
 * @param sizing the scene's wish for true size, or a factor held while a hand moves the art
 */
export function placeScene(
  design: DesignDocument,
  blank: Blank,
  area: PrintArea,
  requirement: Requirement | null,
  sizing: SceneSizing = {},
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
  const usual = placeOnArea(blank, area, canvas, { ...sizing, art: bounds && mapBox(toCanvas, bounds) });
  const placement = sizing.own ? movedBy(sizing.own, usual, canvas) : usual;
  return {
    canvas,
    canvasToArea: placement.toArea,
    fieldToArea: compose(placement.toArea, toCanvas),
    factor: placement.factor,
    shrunk: !sizing.own && isClothing(blank) && placement.factor < 0.995,
    onTexture: (grid, part) => canvasOnTexture(area, canvas, placement, grid, part),
  };
}

/** A placement moved and sized about the middle of the canvas's upper edge, by one scene for itself. */
function movedBy(
  { x, y, factor }: OwnPlacement,
  { toArea, factor: usual }: AreaPlacement,
  canvas: Pick<Canvas, 'widthMm'>,
): AreaPlacement {
  const [middle, top] = [toArea[4] + (toArea[0] * canvas.widthMm) / 2, toArea[5]];
  return {
    toArea: compose(translate(middle + x, top + y), scale(factor), translate(-middle, -top), toArea),
    factor: usual * factor,
  };
}

/**
 * The placement of its own with which a scene shows the art at a box.
 * @param usual how the print lies without one
 * @param own the present one, with which the art lies at `from`; both boxes in area mm, of the same proportions
 */
export function ownPlacement(usual: ScenePlacement, own: OwnPlacement, from: Box, to: Box): OwnPlacement {
  const [perMm, , , , left, top] = usual.canvasToArea;
  const middle = left + (perMm * usual.canvas.widthMm) / 2;
  const factor = own.factor * (to.width / from.width);
  const along = (about: number, shift: number, was: number, is: number): number =>
    is - about - (factor / own.factor) * (was - about - shift);
  return { x: along(middle, own.x, from.x, to.x), y: along(top, own.y, from.y, to.y), factor };
}

/**
 * Box of all visible art on a print area, in area mm; null when there is none, or no target to place it.
 * @param facts where they are given, the box is that of the ink alone, as it is told in measures
 */
export function artOnArea(
  design: DesignDocument,
  placement: ScenePlacement,
  requirement: Requirement | null,
  garment: string,
  facts?: FactsById,
): Box | null {
  const target = design.targets.find((one) => one.requirementId === requirement?.id);
  if (!requirement || !target) return null;
  const layout = layoutTarget(design, target, requirement);
  const seen = designOnScene(design, requirement, garment);
  const art = facts ? inkOnCanvas(seen, layout, facts) : artOnCanvas(seen, layout);
  return art && mapBox(placement.fieldToArea, mapBox(invert(layout.toCanvas), art));
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

/**
 * Version of the code that pictures are drawn by, with that of the code their designs are drawn by. Its last digits grow
 * whenever the same scene would give other pixels.
 */
export const PICTURE_ENGINE = ENGINE_VERSION * 1000 + 2;

/** Everything that decides the bytes of a listing picture. */
export interface PictureRecipe {
  readonly kind: 'picture';
  readonly engine: number;
  readonly blankId: string;
  /** Hash of the blank's pack: another shirt under the same name makes another picture. */
  readonly pack: string;
  readonly size: number;
  /** The part of the blank's picture that is shown, in its own pixels; absent for all of it. */
  readonly crop?: Box;
  readonly format: PictureFormat;
  /** What becomes of it after it is drawn; absent when nothing does. */
  readonly fit?: PictureFit;
  readonly garment: string;
  readonly backdrop: string;
  readonly inkOpacity: number;
  readonly shadow: number;
  /** What stands behind instead of the backdrop's colour. */
  readonly behind?: RecipeBehind;
  /** True where that stands beside the blank too, in a frame of other proportions. */
  readonly wall?: true;
  /** How ink, folds and camera look; nothing is added when it is absent. */
  readonly look?: Look;
  /** Lines that are drawn over the picture, with the print area that they follow. */
  readonly measures?: { readonly areaId: string; readonly lines: readonly MeasureLine[] };
  /** What is printed on each area, from the lowest to the topmost. */
  readonly prints: readonly PrintRecipeOnArea[];
}

/** A design as it is drawn for a print area. */
export interface PrintRecipeOnArea extends TextureGrid {
  readonly areaId: string;
  /** The part of the area that is drawn, in shares of it; absent for all of it. */
  readonly part?: Box;
  readonly clip: Box;
  readonly layers: readonly RecipeLayer[];
}

/** A print area of a scene with what is printed on it, and how finely it is seen. */
export interface ScenePrint {
  readonly areaId: string;
  readonly requirement: Requirement | null;
  readonly grid: TextureGrid;
  /** The part of the area that is seen, in shares of it. */
  readonly part: Box;
}

/** What a scene prints: its own area, and others that carry other targets of the same design. */
export const printsOf = ({
  areaId,
  requirementId,
  also = [],
}: Pick<Scene, 'areaId' | 'requirementId' | 'also'>): readonly AreaPrint[] => [{ areaId, requirementId }, ...also];

/** The design as the target behind a requirement sees it, in the version for a garment of this colour. */
export function designOnScene(
  design: DesignDocument,
  requirement: Requirement | null,
  garment: string,
): DesignDocument {
  const target = requirement && design.targets.find((one) => one.requirementId === requirement.id);
  return seenBy(design, target ? asVersion(target, versionFor(target, garment), requirement) : undefined);
}

/** Layers of a design on the texture of a part of a print area. */
export function textureLayers(
  design: DesignDocument,
  placement: ScenePlacement,
  { grid, part }: Pick<ScenePrint, 'grid' | 'part'>,
  shaOf: (assetId: string) => string,
): RecipeLayer[] {
  const { toTexture } = placement.onTexture(grid, part);
  // Of texture pixels, which are this grid's mm, the canvas takes what it does.
  const { widthMm: width, heightMm: height } = placement.canvas;
  const frame = mapBox(compose(toTexture, placement.canvasToArea), { x: 0, y: 0, width, height });
  return recipeLayers(
    withGapOn(design, compose(toTexture, placement.canvasToArea)),
    compose(toTexture, placement.fieldToArea),
    MM_PER_INCH,
    shaOf,
    { frame },
  );
}

/** A design whose repeat has its gap in the units of a grid instead of the canvas's mm. */
export function withGapOn(design: DesignDocument, toGrid: Affine): DesignDocument {
  const { repeat } = design;
  return repeat ? { ...design, repeat: { ...repeat, gapMm: repeat.gapMm * Math.hypot(toGrid[0], toGrid[1]) } } : design;
}

/** How a scene sizes one of its prints; the first alone has a placement of its own. */
export const sizingOf = ({ garment, trueSize, own }: Scene, at: number): SceneSizing => ({
  garment,
  trueSize,
  ...(at === 0 && own ? { own } : {}),
});

function recipeBehind(behind: Behind, shaOf: (assetId: string) => string): RecipeBehind {
  if (behind.kind === 'gradient') return behind;
  const { assetId, ...sight } = behind;
  return { ...sight, sha256: shaOf(assetId) };
}

function measuresOf(
  design: DesignDocument,
  scene: Scene,
  blank: Blank,
  print: ScenePrint | undefined,
  facts: FactsById,
): Pick<PictureRecipe, 'measures'> {
  if (!scene.measured || !print) return {};
  const { areaId, requirement } = print;
  const area = areaOf(blank, areaId);
  const placement = placeScene(design, blank, area, requirement, sizingOf(scene, 0));
  const art = artOnArea(design, placement, requirement, scene.garment, facts);
  return art ? { measures: { areaId, lines: measureLines(art, area, blank, placement.factor, scene.measured) } } : {};
}

/**
 * @param prints the scene's print areas, from the lowest to the topmost
 * @param facts of the design's pictures, for the measures of their ink
 */
export function pictureRecipe(
  design: DesignDocument,
  scene: Scene,
  { blank, pack }: { blank: Blank; pack: string },
  prints: readonly ScenePrint[],
  output: { size: number; crop?: Box; format: PictureFormat; fit?: PictureFit },
  shaOf: (assetId: string) => string,
  facts: FactsById = {},
): PictureRecipe {
  return {
    kind: 'picture',
    engine: PICTURE_ENGINE,
    blankId: blank.id,
    pack,
    ...output,
    garment: scene.garment,
    backdrop: scene.backdrop,
    inkOpacity: scene.inkOpacity,
    shadow: scene.shadow,
    ...(scene.behind && !isInRoom(blank)
      ? { behind: recipeBehind(scene.behind, shaOf), ...(output.fit?.frame ? { wall: true } : {}) }
      : {}),
    look: lookOf(scene.look, blank, prints[0]?.requirement ?? null, scene.garment),
    ...measuresOf(design, scene, blank, prints[0], facts),
    prints: prints.map(({ areaId, requirement, grid, part }, i) => {
      const placement = placeScene(design, blank, areaOf(blank, areaId), requirement, sizingOf(scene, i));
      return {
        areaId,
        ...(part === WHOLE_AREA ? {} : { part }),
        ...grid,
        clip: placement.onTexture(grid, part).clip,
        layers: textureLayers(designOnScene(design, requirement, scene.garment), placement, { grid, part }, shaOf),
      };
    }),
  };
}
