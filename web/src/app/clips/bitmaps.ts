import type {
  Levels as LevelsOf,
  ReadyClip as ReadyClipOf,
  ReadyScene as ReadySceneOf,
  ReadyWords as ReadyWordsOf,
} from '@kettle/core/clip';

// What clips are drawn from, of the pictures that a browser draws with.
export type Levels = LevelsOf<ImageBitmap>;
export type ReadyScene = ReadySceneOf<ImageBitmap>;
export type ReadyClip = ReadyClipOf<ImageBitmap>;
export type ReadyWords = ReadyWordsOf<ImageBitmap>;
