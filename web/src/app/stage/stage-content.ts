import type { Box, LayerPlace, Viewport } from '@kettle/core/geometry';
import type { DesignDocument, Layer, PictureLayer, Stroke } from '@kettle/core/model';
import type { ShownGuide } from '@kettle/core/document';
import type { EditorTarget } from '../editor/editor';
import type { InkPoint } from './pen';

/** A layer's place on the chosen canvas: centre and size in canvas mm. */
export type CanvasPlace = Pick<LayerPlace, 'x' | 'y' | 'width' | 'height' | 'turn'>;

/** What a hand did on the stage. Lengths are canvas mm. */
export interface StageEvents {
  select(ids: readonly string[], how: 'only' | 'add' | 'within'): void;
  /** Layers in hand, while they are held (`done` false) and when they are let go. */
  place(places: Readonly<Record<string, CanvasPlace>>, done: boolean): void;
  art(box: Box, done: boolean): void;
  parameter(id: string, key: string, value: number, done: boolean): void;
  /** A guide was let go; null took it off the canvas. */
  guide(guide: ShownGuide, at: number | null): void;
  edit(id: string): void;
  stroke(points: readonly InkPoint[]): void;
  /** Colour under a press; null where nothing is drawn. */
  sample(hex: string | null): void;
  /** A colour was asked for where this picture has not come yet. */
  comes(layer: Layer): void;
  /** What was in hand is put back where it lay: two fingers look nearer, they move nothing. */
  letGo(): void;
  /** Another part of the canvas is looked at. */
  look(view: Viewport): void;
}

/** What is shown, and what a press means. */
export interface StageContent {
  readonly design: DesignDocument;
  readonly current: EditorTarget;
  readonly selection: readonly string[];
  readonly onlyHere: boolean;
  readonly editing: string | null;
  readonly tool: 'move' | 'brush' | 'sampler';
  /** Look of the stroke in hand; size in canvas mm. */
  readonly brush: Omit<Stroke, 'points'>;
  readonly snapping: boolean;
  /** True while semi-transparent ink is marked. */
  readonly showSoft: boolean;
  /** True while a print of it is shown in place of the art itself. */
  readonly proofed: boolean;
  readonly lengthOf: (mm: number) => string;
  readonly imageOf: (layer: PictureLayer) => CanvasImageSource | null;
}

/** Distance at which what is dragged jumps to a line, screen px. */
export const SNAP_PX = 6;
/** A press that moves less than this is a click, screen px. */
export const CLICK_PX = 3;
