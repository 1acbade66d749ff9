import type { ClipMakers } from '@kettle/contract';
import { CLIP_FILE_KINDS, type ClipFileKind } from '@kettle/core/clip';
import { getFirstEncodableVideoCodec } from '#libraries/encodable';
import type { VideoCodec } from './clip-messages';

const CODECS: Readonly<Record<ClipFileKind, VideoCodec[]>> = {
  webm: ['vp9', 'av1', 'vp8'],
  mp4: ['av1', 'vp9'],
  webp: [],
};

/** Codecs that a kind of file is written with, the best first. */
export const videoCodecs = (file: ClipFileKind): VideoCodec[] => CODECS[file];

/** Kinds of files that this browser can write; asked, not assumed. */
export async function offeredFiles(width: number, height: number): Promise<readonly ClipFileKind[]> {
  const asked = await Promise.all(
    CLIP_FILE_KINDS.map(async (kind) => {
      if (!CODECS[kind].length) return true;
      return (await getFirstEncodableVideoCodec(CODECS[kind], { width, height }).catch(() => null)) !== null;
    }),
  );
  return CLIP_FILE_KINDS.filter((_, i) => asked[i]);
}

/** While the server has not said what it makes by itself. */
export const NO_MAKERS: ClipMakers = { files: [], sentence: '' };
