import type { Clip } from './clip.js';
import type { BlendMode } from '../raster/blend.js';
import type { InkScreen } from '../raster/screen.js';
import type { CanvasOverride } from './canvas.js';
import type { Box } from '../geometry/affine.js';
import type { LayerPlace } from '../geometry/place.js';
import type { Paint } from './paint.js';
import type { Lettering, LetteringSettings } from '../text/lettering.js';
import type { Treatment } from './treatment.js';
import type { TargetPlacement } from './placement.js';

import type { KeptScene, Scene } from './scene.js';

/** Shapes there are. */
export type ShapeKind =
  | 'rectangle'
  | 'ellipse'
  | 'polygon'
  | 'star'
  | 'ring'
  | 'line'
  | 'arrow'
  | 'heart'
  | 'badge'
  | 'banner'
  | 'sunburst'
  | 'wave'
  | 'drop'
  | 'cross'
  | 'crescent'
  | 'speech';

/** How art is repeated over a canvas. */
export type RepeatKind = 'straight' | 'half-drop' | 'brick' | 'mirror';

/** A target's wish that its art covers all of its canvas by being repeated. */
export interface Repeat {
  readonly kind: RepeatKind;
  /** Bare cloth between one and the next, mm on the canvas. */
  readonly gapMm: number;
}

/** What every kind of layer has. */
interface AnyLayer {
  readonly id: string;
  readonly name: string;
  readonly place: LayerPlace;
  /** 0 to 1. */
  readonly opacity: number;
  readonly hidden: boolean;
  /** A locked layer is not moved or changed by hand. */
  readonly locked?: boolean;
  /** How its colours meet those beneath; normal when absent. */
  readonly blend?: BlendMode;
  /** A line around what is seen of it. */
  readonly keyline?: Keyline;
  /** How its semi-transparent ink is printed; as it is when absent. */
  readonly screen?: InkScreen;
  /** Ninths of it, row by row from 0, that must not be lost where cloth is cut and sewn. */
  readonly important?: readonly number[];
  /** What was rubbed out of it with the eraser, in the order it was done. Freehand lines have it among their strokes. */
  readonly rubbed?: readonly RubStroke[];
  /** Key of the group it belongs to. Members lie next to each other in the strip. */
  readonly group?: string;
}

/** A stroke of the eraser on a layer. It moves, turns and grows with the layer. */
export interface RubStroke {
  /** x and y as shares of the width and height of the layer's box, and pressure (0 to 1), of each point. */
  readonly points: readonly number[];
  /** Width at middle pressure, as a share of the side of a square as large as the box. */
  readonly size: number;
  /** 1 has a clean edge, 0 is soft to the middle. */
  readonly hardness: number;
  readonly opacity: number;
}

export interface PictureLayer extends AnyLayer {
  readonly kind: 'picture';
  readonly assetId: string;
  /** What is done to the picture, one after the other. Its file stays as it came. */
  readonly treatments?: readonly Treatment[];
}

/** A line around everything that is seen of a layer, a group or a design, as stickers have it. Lengths are mm. */
export interface Keyline {
  readonly hex: string;
  readonly width: number;
  /** Clear distance between the art and the line. */
  readonly gap: number;
  readonly join: 'round' | 'sharp';
  /** Holes in the art get a line of their own, or are filled. */
  readonly holes: 'filled' | 'kept';
}

export type OutlineSide = 'inside' | 'centre' | 'outside';
export type OutlineJoin = 'round' | 'bevel' | 'mitre';

/** A line around a shape or letters. */
export interface Outline {
  readonly hex: string;
  readonly width: number;
  readonly dash: 'solid' | 'dashed' | 'dotted';
  /** Where it lies on the edge; centred when absent. */
  readonly side?: OutlineSide;
  /** How it turns corners; round when absent. */
  readonly join?: OutlineJoin;
}

/** A parametric shape: outlines, so sharp at any size. */
export interface ShapeLayer extends AnyLayer {
  readonly kind: 'shape';
  readonly shape: ShapeKind;
  /** Values by key; what is missing has the shape's own start. */
  readonly parameters: Readonly<Record<string, number>>;
  /** Null for an empty shape. */
  readonly fill: Paint | null;
  readonly outline: Outline | null;
}

/** Lettering. It keeps the outlines it was set with, so that no font is needed to print it. */
export interface TextLayer extends AnyLayer {
  readonly kind: 'text';
  readonly text: string;
  readonly fontId: string;
  readonly settings: LetteringSettings;
  readonly outlines: Lettering;
  /** Letters that its face does not have, so that they are not in the outlines; absent when none is missing. */
  readonly missing?: string;
  readonly fill: Paint | null;
  readonly outline: Outline | null;
}

/** One outline of a graphic, with a colour of its own. */
export interface GraphicPart {
  readonly path: string;
  readonly fill: Paint | null;
  readonly rule?: 'evenodd';
}

/** A graphic from the library, kept whole so that nothing else is needed to print it. */
export interface GraphicLayer extends AnyLayer {
  readonly kind: 'graphic';
  readonly graphic: string;
  /** Box of its parts, in their own units. */
  readonly box: { readonly width: number; readonly height: number };
  /** Back to front. */
  readonly parts: readonly GraphicPart[];
}

/** A line drawn by hand, with a brush or an eraser. */
export interface Stroke {
  /** x, y and pressure (0 to 1) of each point, one after the other, in the layer's own units. */
  readonly points: readonly number[];
  /** Width at middle pressure, in the layer's own units. */
  readonly size: number;
  /** 1 has a clean edge, 0 is soft to the middle. */
  readonly hardness: number;
  readonly opacity: number;
  readonly hex: string;
  /** True when it takes away what this layer drew before. */
  readonly erase: boolean;
}

/** Lines drawn by hand. They stay lines, so they are sharp at any size. */
export interface FreehandLayer extends AnyLayer {
  readonly kind: 'freehand';
  /** The part of the layer's own plane that its place shows. */
  readonly frame: Box;
  /** In the order they were drawn. */
  readonly strokes: readonly Stroke[];
}

/** Layers with one fill and one outline. */
export type InkedLayer = ShapeLayer | TextLayer;

/** Layers that are outlines: drawn at the target's own resolution. */
export type VectorLayer = InkedLayer | GraphicLayer | FreehandLayer;

export type Layer = PictureLayer | VectorLayer;

/** A straight line to lay things on, which is never printed. */
export interface Guide {
  /** `x` stands upright at a distance from the left, `y` lies flat at a distance from the top. */
  readonly axis: 'x' | 'y';
  /** mm on the print field, or on the canvas when the guide belongs to a target. */
  readonly at: number;
}

/** What a target does differently with one layer. Absent fields follow the design. */
export interface LayerException {
  /** On the print field, in place of the layer's own. */
  readonly place?: LayerPlace;
  readonly hidden?: boolean;
  /** Colours by the design's colour they stand for, both `#rrggbb` in lower case. */
  readonly colours?: Readonly<Record<string, string>>;
  /** Treatments of a picture in place of the layer's own. */
  readonly treatments?: readonly Treatment[];
}

/** The kind of cloth that a version is for. */
export type Cloth = 'light' | 'dark';

/** What a target does differently on one kind of cloth, on top of what it does anyway. */
export interface TargetVersion {
  /** Colour this version is looked at on; the fittest one on sale when absent. */
  readonly garment?: string;
  /** A line around the whole design in this version; null for none, the target's when absent. */
  readonly keyline?: Keyline | null;
  /** Exceptions by layer id. */
  readonly layers: Readonly<Record<string, LayerException>>;
}

/** A finding that the seller has looked at and takes as it is, until what it is about changes. */
export interface AcceptedFinding {
  readonly code: string;
  readonly layerId: string | null;
  /** The version it is about, where the target has any. */
  readonly cloth: Cloth | null;
  readonly reason: string;
  /** Names what it was about when it was accepted: the art, its place, and the demand. */
  readonly about: string;
}

/** A design for one requirement. */
export interface Target {
  readonly requirementId: string;
  /** The seller's own rule for this target; the requirement's when absent. */
  readonly placement?: TargetPlacement;
  readonly canvas?: CanvasOverride;
  /** Its art is repeated over all of the canvas. */
  readonly repeat?: Repeat;
  /** Garment colour the target is looked at and sold on, `#rrggbb`; the requirement's first when absent. */
  readonly garment?: string;
  readonly guides?: readonly Guide[];
  /** Exceptions by layer id. */
  readonly layers?: Readonly<Record<string, LayerException>>;
  /** A line around the whole design on this target; null for none, the design's own when absent. */
  readonly keyline?: Keyline | null;
  /** Garment colours this design is not sold on, `#rrggbb` in lower case. */
  readonly leftOut?: readonly string[];
  /** Findings the seller takes as they are. */
  readonly accepted?: readonly AcceptedFinding[];
  /** Versions for light and dark cloth; with one of them there are two files. */
  readonly versions?: Readonly<Partial<Record<Cloth, TargetVersion>>>;
}

/** The document that is saved, revision by revision. Layers run from back to front. */
export interface DesignDocument {
  readonly version: 1;
  readonly name: string;
  /** The print field all layers are placed on, in mm. */
  readonly field: { readonly width: number; readonly height: number };
  readonly layers: readonly Layer[];
  readonly targets: readonly Target[];
  /** Set on a design as a target sees it that repeats its art; never stored. */
  readonly repeat?: Repeat;
  /** The scene that is shown. */
  readonly scene?: Scene;
  /** Scenes that are kept, in the seller's order. */
  readonly scenes?: readonly KeptScene[];
  /** Short moving pictures, in the seller's order. */
  readonly clips?: readonly Clip[];
  /** A line around all of it. */
  readonly keyline?: Keyline;
  /** Lines around groups, by key. */
  readonly keylines?: Readonly<Record<string, Keyline>>;
  /** Names of groups by key. */
  readonly groups?: Readonly<Record<string, string>>;
  readonly guides?: readonly Guide[];
  /** True when other designs may start from this one. */
  readonly template?: boolean;
}

/** Largest document that is saved, in bytes of its JSON. */
export const MAX_DOCUMENT_BYTES = 8 * 1024 * 1024;

/** From this size on the seller is told, long before saving would be refused. */
export const LARGE_DOCUMENT_BYTES = 5 * 1024 * 1024;

/** Largest number of layers a design may hold. */
export const MAX_LAYERS = 200;

export function emptyDesign(name: string, field = { width: 355.6, height: 406.4 }): DesignDocument {
  return { version: 1, name, field, layers: [], targets: [] };
}
