import type { Box } from '@kettle/core/geometry';
import type { Blank, Clip } from '@kettle/core/model';
import type { PictureRecipe } from '@kettle/core/mockup';
import type { ClipFileKind, MusicTrack } from '@kettle/core/clip';
import type { ReadClip } from './read-clip.js';

/** A clip as a file shows it. */
export interface FiledClip {
  readonly clip: Clip;
  /** Shorter side that was asked for, px. */
  readonly side: number;
  readonly file: ClipFileKind;
}

/** A scene as the server draws it: one picture for each guise, on a blank that moves one for each of its frames. */
export interface DrawnScene {
  readonly blankId: string;
  readonly guises: readonly PictureRecipe[];
  /** Where the print is, shares of the picture. */
  readonly focus: Box;
}

/** Everything that decides the bytes of a clip, beside the files it names. */
export interface ClipRecipe extends FiledClip {
  readonly kind: 'clip';
  readonly engine: number;
  readonly scenes: readonly DrawnScene[];
}

/** What the maker of clips needs besides. */
export interface ClipMore {
  readonly blanks: Readonly<Record<string, Blank>>;
  readonly track: MusicTrack | null;
  /** SHA-256 of the logo's file, hex. */
  readonly logo: string | null;
}

/** What was read back of a clip, and where its cover lies. */
export interface ClipFacts {
  readonly read: ReadClip;
  readonly sha256: string;
  readonly cover: string;
}

/** Name of the music among a clip's files. */
export const MUSIC_FILE = 'music';
/** Name of a blank's picture among a clip's files. */
export const packFile = (blankId: string, name: string): string => `${blankId}/${name}`;
