import { readFile } from 'node:fs/promises';
import type { ClipCertificate } from '@kettle/contract';
import { parseFile } from 'music-metadata';
import { ProblemError } from '../../safety/problem-error.js';
import { webmFrames } from './webm-frames.js';

const VIDEO: Readonly<Record<string, string>> = { V_VP9: 'VP9', V_AV1: 'AV1', V_VP8: 'VP8' };
const SOUND: Readonly<Record<string, string>> = { A_OPUS: 'Opus', OPUS: 'Opus' };

const unreadable = (): ProblemError =>
  new ProblemError(422, 'not-a-clip', 'This file is not a clip that can be read. Make it again. Nothing is lost.');

/**
 * Reads a WebM file back with a reader that did not write it.
 * @throws ProblemError with a sentence when it is none, or says nothing of its picture
 */
export async function readClip(path: string): Promise<Omit<ClipCertificate, 'sha256'>> {
  const { format } = await parseFile(path, { duration: true, skipCovers: true }).catch(() => {
    throw unreadable();
  });
  const tracks = format.trackInfo ?? [];
  const video = tracks.find((track) => track.video);
  const sound = tracks.find((track) => track.audio);
  const { pixelWidth, pixelHeight } = video?.video ?? {};
  if (!/webm/i.test(format.container ?? '') || !pixelWidth || !pixelHeight || !format.duration) throw unreadable();
  const frames = await framesIn(path);
  return {
    container: 'webm',
    frames,
    seconds: format.duration,
    width: pixelWidth,
    height: pixelHeight,
    video: named(VIDEO, video?.codecName),
    sound: sound ? named(SOUND, sound.codecName) : null,
  };
}

async function framesIn(path: string): Promise<number> {
  try {
    return webmFrames(await readFile(path));
  } catch (error) {
    if (error instanceof RangeError) throw unreadable();
    throw error;
  }
}

const named = (names: Readonly<Record<string, string>>, codec = ''): string =>
  Object.entries(names).find(([mark]) => codec.toUpperCase().includes(mark))?.[1] ?? codec.replace(/^[VA]_/, '');
