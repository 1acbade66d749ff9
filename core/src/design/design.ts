import type { CanvasOverride } from '../requirement/canvas.js';
import type { Lettering, LetteringSettings } from '../text/lettering.js';
import type { ShapeKind } from './shape.js';
import type { TargetPlacement } from './target.js';

/** Where a layer lies on the print field: centre, size before turning, and turn. Millimetres, degrees clockwise. */
export interface LayerPlace {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly turn: number;
  readonly flipX: boolean;
  readonly flipY: boolean;
}

export interface PictureLayer {
  readonly kind: 'picture';
  readonly id: string;
  readonly name: string;
  readonly assetId: string;
  readonly place: LayerPlace;
  /** 0 to 1. */
  readonly opacity: number;
  readonly hidden: boolean;
}

/** A line around a shape, centred on its edge. */
export interface Outline { readonly hex: string; readonly width: number; readonly dash: 'solid' | 'dashed' | 'dotted' }

/** A parametric shape: outlines, so sharp at any size. */
export interface ShapeLayer {
  readonly kind: 'shape';
  readonly id: string;
  readonly name: string;
  readonly shape: ShapeKind;
  /** Values by key; what is missing has the shape's own start. */
  readonly parameters: Readonly<Record<string, number>>;
  /** `#rrggbb`, or null for an empty shape. */
  readonly fill: string | null;
  readonly outline: Outline | null;
  readonly place: LayerPlace;
  readonly opacity: number;
  readonly hidden: boolean;
}

/** Lettering. It keeps the outlines it was set with, so that no font is needed to print it. */
export interface TextLayer {
  readonly kind: 'text';
  readonly id: string;
  readonly name: string;
  readonly text: string;
  readonly fontId: string;
  readonly settings: LetteringSettings;
  readonly outlines: Lettering;
  readonly fill: string | null;
  readonly outline: Outline | null;
  readonly place: LayerPlace;
  readonly opacity: number;
  readonly hidden: boolean;
}

/** Layers that are outlines: drawn at the target's own resolution. */
export type VectorLayer = ShapeLayer | TextLayer;

export type Layer = PictureLayer | VectorLayer;

/** Artwork files a design is made of. */
export const assetIdsOf = (layers: readonly Layer[]): string[] => layers.flatMap((layer) => (layer.kind === 'picture' ? [layer.assetId] : []));

/** A design for one requirement. */
export interface Target {
  readonly requirementId: string;
  /** The seller's own rule for this target; the requirement's when absent. */
  readonly placement?: TargetPlacement;
  readonly canvas?: CanvasOverride;
  /** Garment colour the target is looked at and sold on, `#rrggbb`; the requirement's first when absent. */
  readonly garment?: string;
}

/** How a design is shown on a blank. */
export interface Scene {
  readonly blankId: string;
  readonly areaId: string;
  readonly requirementId: string | null;
  readonly garment: string;
  readonly backdrop: string;
  /** 0 lets the fabric swallow the print, 1 is a full layer of ink. */
  readonly inkOpacity: number;
  /** 0 to 1, share of the blank's own shadow on the backdrop. */
  readonly shadow: number;
}

/** The document that is saved, revision by revision. Layers run from back to front. */
export interface DesignDocument {
  readonly version: 1;
  readonly name: string;
  /** The print field all layers are placed on, in mm. */
  readonly field: { readonly width: number; readonly height: number };
  readonly layers: readonly Layer[];
  readonly targets: readonly Target[];
  readonly scene?: Scene;
}

/** Largest number of layers a design may hold. */
export const MAX_LAYERS = 200;

export function emptyDesign(name: string, field = { width: 355.6, height: 406.4 }): DesignDocument {
  return { version: 1, name, field, layers: [], targets: [] };
}
