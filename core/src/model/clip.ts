import type { Scene } from './scene.js';

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
export type Movement = 'still' | 'push' | 'pull' | 'drift' | 'turn' | 'reveal' | 'colours' | 'layers';
export const MOVEMENTS: readonly Movement[] = ['still', 'push', 'pull', 'drift', 'turn', 'reveal', 'colours', 'layers'];
export const MOVEMENT_WORDS: Readonly<Record<Movement, string>> = {
  still: 'still',
  push: 'slow push in',
  pull: 'slow pull back',
  drift: 'drift sideways',
  turn: 'turn towards',
  reveal: 'from the print to the whole',
  colours: 'colours on the beat',
  layers: 'print laid on layer by layer',
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

/** How a shape frames a scene otherwise than by itself. */
export interface Framing {
  /** How far what is seen lies beside its own place, shares of the picture: -1 to 1. */
  readonly x: number;
  readonly y: number;
  /** How much nearer it is, 1 to {@link NEAREST}. */
  readonly zoom: number;
}
export const OWN_FRAMING: Framing = { x: 0, y: 0, zoom: 1 };
export const NEAREST = 2.5;

export interface ClipScene {
  readonly id: string;
  readonly scene: ShownScene;
  /** The design it shows, where that is not the one that the clip belongs to. */
  readonly designId?: string;
  readonly frames: number;
  readonly movement: Movement;
  /** Other colours of the product that it changes to, `#rrggbb`, where the movement is `colours`. */
  readonly colours?: readonly string[];
  /** Into the next scene; a cut when absent. */
  readonly transition?: { readonly kind: TransitionKind; readonly frames: number };
  /** Corrections of what is seen of it, for the shapes that have one. */
  readonly framings?: Readonly<Partial<Record<ClipShape, Framing>>>;
}

/** Lines that stand over the picture. */
export interface ClipWords {
  readonly title: string;
  readonly line: string;
  /** When they are seen: over the first seconds, the last, or all of it. */
  readonly when: 'start' | 'end' | 'all';
  readonly hex: string;
}

/** A seller's mark over the picture. */
export interface ClipLogo {
  readonly assetId: string;
  readonly when: ClipWords['when'];
  readonly corner: LogoCorner;
  /** Longer side, a share of the clip's shorter one. */
  readonly size: number;
}
export type LogoCorner = 'top-left' | 'top-right' | 'bottom-left' | 'bottom-right';
export const LOGO_CORNERS: readonly LogoCorner[] = ['top-left', 'top-right', 'bottom-left', 'bottom-right'];
export const LOGO_SIZE = { least: 0.06, usual: 0.16, most: 0.5 } as const;

export interface ClipMusic {
  readonly trackId: string;
  /** Where in the track it begins, seconds. */
  readonly start: number;
  /** 0 to 1. */
  readonly volume: number;
  /** How long it takes to come in and to go, seconds; as it is usual where absent. */
  readonly fadeIn?: number;
  readonly fadeOut?: number;
}

/** A short moving picture of a design, made of scenes in a row. */
export interface Clip {
  readonly id: string;
  readonly name: string;
  readonly shape: ClipShape;
  readonly scenes: readonly ClipScene[];
  readonly words?: ClipWords;
  readonly music?: ClipMusic;
  readonly logo?: ClipLogo;
  /** Frame that its cover shows; where the first scene has come to the middle when absent. */
  readonly cover?: number;
}

/** Frame that a clip's cover shows. */
export const coverOf = ({ cover, scenes }: Pick<Clip, 'cover' | 'scenes'>): number =>
  cover ?? Math.floor((scenes[0]?.frames ?? 0) / 2);
