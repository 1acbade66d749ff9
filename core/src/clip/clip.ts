import type { Scene } from '../document/design.js';

/** Frames a second of every clip. */
export const CLIP_FPS = 24;
/** Shortest and longest clip, seconds: what places for posts take. */
export const CLIP_SECONDS = { least: 1, most: 60 } as const;
/** Scenes that a clip may have. */
export const MOST_CLIP_SCENES = 24;
/** Clips that a design may have. */
export const MOST_CLIPS = 24;

/** Width to height of what a post shows. */
export type ClipShape = '1:1' | '4:5' | '9:16' | '16:9';
export const CLIP_SHAPES: readonly ClipShape[] = ['1:1', '4:5', '9:16', '16:9'];
export const CLIP_SHAPE_WORDS: Readonly<Record<ClipShape, string>> = {
  '1:1': 'square',
  '4:5': 'upright',
  '9:16': 'tall',
  '16:9': 'wide',
};

/** Width of a shape for a height of 1. */
export function aspectOf(shape: ClipShape): number {
  const [width, height] = shape.split(':').map(Number);
  return width / height;
}

/** Size of a clip whose shorter side has that many px: whole and even, as video codecs want it. */
export function clipSize(shape: ClipShape, side: number): { readonly width: number; readonly height: number } {
  const aspect = aspectOf(shape);
  const even = (px: number): number => 2 * Math.round(px / 2);
  return aspect >= 1
    ? { width: even(side * aspect), height: even(side) }
    : { width: even(side), height: even(side / aspect) };
}

/** What the picture does while a scene is shown. */
export type Movement = 'still' | 'push' | 'pull' | 'drift' | 'reveal' | 'colours';
export const MOVEMENTS: readonly Movement[] = ['still', 'push', 'pull', 'drift', 'reveal', 'colours'];
export const MOVEMENT_WORDS: Readonly<Record<Movement, string>> = {
  still: 'still',
  push: 'slow push in',
  pull: 'slow pull back',
  drift: 'drift sideways',
  reveal: 'from the print to the whole',
  colours: 'colours on the beat',
};

/** How one scene gives way to the next; it lasts for some frames of both. */
export type TransitionKind = 'cut' | 'dissolve' | 'slide' | 'wipe';
export const TRANSITIONS: readonly TransitionKind[] = ['cut', 'dissolve', 'slide', 'wipe'];
export const TRANSITION_WORDS: Readonly<Record<TransitionKind, string>> = {
  cut: 'cut',
  dissolve: 'dissolve',
  slide: 'slide',
  wipe: 'wipe along the light',
};

/** A scene as a clip shows it: a blank in a colour before a plain backdrop. */
export type ShownScene = Pick<
  Scene,
  'blankId' | 'areaId' | 'requirementId' | 'garment' | 'backdrop' | 'inkOpacity' | 'shadow' | 'look' | 'also'
>;

export interface ClipScene {
  readonly id: string;
  readonly scene: ShownScene;
  readonly frames: number;
  readonly movement: Movement;
  /** Other colours of the product that it changes to, `#rrggbb`, where the movement is `colours`. */
  readonly colours?: readonly string[];
  /** Into the next scene; a cut when absent. */
  readonly transition?: { readonly kind: TransitionKind; readonly frames: number };
}

/** Lines that stand over the picture. */
export interface ClipWords {
  readonly title: string;
  readonly line: string;
  /** When they are seen: over the first seconds, the last, or all of it. */
  readonly when: 'start' | 'end' | 'all';
  readonly hex: string;
}

export interface ClipMusic {
  readonly trackId: string;
  /** Where in the track it begins, seconds. */
  readonly start: number;
  /** 0 to 1. */
  readonly volume: number;
}

/** A short moving picture of a design, made of scenes in a row. */
export interface Clip {
  readonly id: string;
  readonly name: string;
  readonly shape: ClipShape;
  readonly scenes: readonly ClipScene[];
  readonly words?: ClipWords;
  readonly music?: ClipMusic;
}
