import type { ReadyClip } from './paint-clip';

/** To the worker that makes a clip's file. */
export interface MakeClip {
  readonly ready: ReadyClip;
  readonly width: number;
  readonly height: number;
  /** Samples of each channel; null for a clip without sound. */
  readonly sound: readonly Float32Array<ArrayBuffer>[] | null;
  readonly rate: number;
}

/** From it. */
export type ClipReply =
  | { readonly kind: 'progress'; readonly done: number; readonly total: number }
  | { readonly kind: 'made'; readonly bytes: ArrayBuffer; readonly type: string }
  | { readonly kind: 'failed'; readonly message: string };
