import type { Box } from '@kettle/core/geometry';
import type { Clip, ClipMusic } from '@kettle/core/model';
import type { ClipFileKind, Motion, MusicTrack } from '@kettle/core/clip';
import type { PressedScene } from './clip-scenes';
import type { Levels, ReadyWords } from './bitmaps';

/** A video codec that this browser can write. */
export type VideoCodec = 'vp9' | 'av1' | 'vp8';

/** A scene on its way to the file: its pictures, or what they are printed from frame by frame. */
export type MadeScene = { readonly focus: Box } & (
  { readonly guises: readonly Levels[] } | { readonly pressed: PressedScene; readonly motion: Motion }
);

/** What a clip plays, still without fades and as loud as the track has it. */
export interface JoinedSound {
  /** Samples of each channel. */
  readonly channels: Float32Array<ArrayBuffer>[];
  readonly track: MusicTrack;
  readonly music: ClipMusic;
}

/** Begins a clip's file. Its scenes follow, in any order. */
export interface MakeClip {
  readonly kind: 'make';
  readonly clip: Clip;
  readonly words: ReadyWords | null;
  readonly logo: ReadyWords | null;
  readonly frames: number;
  readonly beats: readonly number[];
  readonly file: ClipFileKind;
  readonly width: number;
  readonly height: number;
  /** Null for a clip without sound. */
  readonly sound: JoinedSound | null;
  readonly rate: number;
  /** Frame of the cover. */
  readonly cover: number;
  /** At its other end frames of moving blanks are read; null where no scene moves. */
  readonly framePort: MessagePort | null;
}

/** Says which file may be asked for next, so that its encoder is asked for already. */
export interface ReadyClipWorker {
  readonly kind: 'ready';
  readonly file: ClipFileKind;
  readonly width: number;
  readonly height: number;
}

/** To the worker that makes a clip's file. */
export type ClipRequest =
  ReadyClipWorker | MakeClip | { readonly kind: 'scene'; readonly index: number; readonly scene: MadeScene };

/** From it. */
export type ClipReply =
  | { readonly kind: 'progress'; readonly done: number; readonly total: number }
  | {
      readonly kind: 'made';
      readonly bytes: ArrayBuffer;
      /** JPEG. */
      readonly cover: ArrayBuffer;
    }
  | { readonly kind: 'failed'; readonly message: string };
