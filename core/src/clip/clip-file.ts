import { CLIP_FPS } from '../model/clip.js';

/** Kinds of files that a clip is made as. */
export type ClipFileKind = 'webm' | 'mp4' | 'webp';
export const CLIP_FILE_KINDS: readonly ClipFileKind[] = ['webm', 'mp4', 'webp'];

/** What a kind of file holds of a clip. */
export interface ClipFileShape {
  readonly name: string;
  readonly mediaType: string;
  readonly about: string;
  readonly fps: number;
  readonly hasSound: boolean;
  /** Longest shorter side, px. */
  readonly mostSide: number;
}

export const CLIP_FILES: Readonly<Record<ClipFileKind, ClipFileShape>> = {
  webm: {
    name: 'WebM',
    mediaType: 'video/webm',
    about: 'WebM is small and made quickly; most places take it.',
    fps: CLIP_FPS,
    hasSound: true,
    mostSide: 1080,
  },
  mp4: {
    name: 'MP4',
    mediaType: 'video/mp4',
    about: 'MP4 with AV1 is the smallest; it takes longer to make.',
    fps: CLIP_FPS,
    hasSound: true,
    mostSide: 1080,
  },
  webp: {
    name: 'Animated WebP',
    mediaType: 'image/webp',
    about: 'A picture that moves, without sound, for places that take no video.',
    fps: CLIP_FPS / 2,
    hasSound: false,
    mostSide: 540,
  },
};

/** Shorter side of a file of a kind when a clip is asked for at a side, px. */
export const sideOfFile = (kind: ClipFileKind, side: number): number => Math.min(side, CLIP_FILES[kind].mostSide);

/** Frames of the clip that one picture of the file stands for. */
export const framesEach = (kind: ClipFileKind): number => CLIP_FPS / CLIP_FILES[kind].fps;

/** Pictures in a file of a clip with so many frames. */
export const picturesInFile = (kind: ClipFileKind, frames: number): number => Math.ceil(frames / framesEach(kind));
