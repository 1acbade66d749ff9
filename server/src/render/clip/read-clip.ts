import { open, readFile } from 'node:fs/promises';
import type { ClipCertificate } from '@kettle/contract';
import type { ClipFileKind } from '@kettle/core/clip';
import { createFile, MP4BoxBuffer } from 'mp4box';
import { parseFile } from 'music-metadata';
import sharp from 'sharp';
import { ProblemError } from '../../floor/basics/problem-error.js';
import { readWebm } from './read-webm.js';

const VIDEO: Readonly<Record<string, string>> = { VP9: 'VP9', VP09: 'VP9', AV1: 'AV1', AV01: 'AV1', VP8: 'VP8' };
const SOUND: Readonly<Record<string, string>> = { OPUS: 'Opus' };
/** Bytes that tell kinds of files apart. */
const HEAD = 16;

/** What a reader found in a clip's file. */
export type ReadClip = Omit<ClipCertificate, 'sha256'>;

const unreadable = (): ProblemError =>
  new ProblemError(422, 'not-a-clip', 'This file is not a clip that can be read. Make it again. Nothing is lost.');

/**
 * Reads a clip's file back with readers that did not write it.
 * @throws ProblemError with a sentence when it is none, or says nothing of its picture
 */
export async function readClip(path: string): Promise<ReadClip> {
  const kind = await kindOf(path);
  try {
    return await READERS[kind](path);
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    throw unreadable();
  }
}

async function kindOf(path: string): Promise<ClipFileKind> {
  const file = await open(path);
  const { buffer } = await file.read(Buffer.alloc(HEAD), 0, HEAD, 0).finally(() => file.close());
  if (buffer.readUInt32BE(0) === 0x1a45dfa3) return 'webm';
  if (buffer.toString('latin1', 4, 8) === 'ftyp') return 'mp4';
  if (buffer.toString('latin1', 0, 4) === 'RIFF' && buffer.toString('latin1', 8, 12) === 'WEBP') return 'webp';
  throw unreadable();
}

const READERS: Readonly<Record<ClipFileKind, (path: string) => Promise<ReadClip>>> = {
  async webm(path) {
    const { format } = await parseFile(path, { duration: true, skipCovers: true });
    const tracks = format.trackInfo ?? [];
    const video = tracks.find((track) => track.video);
    const sound = tracks.find((track) => track.audio);
    const { pixelWidth, pixelHeight } = video?.video ?? {};
    if (!/webm/i.test(format.container ?? '') || !pixelWidth || !pixelHeight || !format.duration) throw unreadable();
    const { pictures, soundSeconds } = readWebm(await readFile(path));
    return {
      container: 'webm',
      frames: pictures,
      seconds: format.duration,
      width: pixelWidth,
      height: pixelHeight,
      video: named(VIDEO, video?.codecName),
      sound: sound ? named(SOUND, sound.codecName) : null,
      soundSeconds: sound ? soundSeconds : null,
    };
  },
  async mp4(path) {
    const file = createFile();
    const bytes = await readFile(path);
    const info = await new Promise<ReturnType<typeof file.getInfo>>((resolve, reject) => {
      file.onReady = resolve;
      file.onError = (_module, message) => reject(new Error(message));
      const copy = new Uint8Array(bytes).buffer;
      file.appendBuffer(MP4BoxBuffer.fromArrayBuffer(copy, 0), true);
      file.flush();
      reject(unreadable());
    });
    const [video] = info.videoTracks;
    const sound = info.audioTracks.at(0);
    if (!video?.video) throw unreadable();
    return {
      container: 'mp4',
      frames: video.nb_samples,
      seconds: video.samples_duration / video.timescale,
      width: video.video.width,
      height: video.video.height,
      video: named(VIDEO, video.codec),
      sound: sound ? named(SOUND, sound.codec) : null,
      soundSeconds: sound ? sound.samples_duration / sound.timescale : null,
    };
  },
  async webp(path) {
    const {
      format,
      pages = 1,
      delay = [],
      width,
      height,
      pageHeight = height,
    } = await sharp(path, { pages: -1 }).metadata();
    // Every picture is decoded: one that is broken is found here.
    await sharp(path, { pages: -1, failOn: 'error' }).stats();
    if (format !== 'webp' || !width || !pageHeight) throw unreadable();
    return {
      container: 'webp',
      frames: pages,
      seconds: delay.reduce((sum, one) => sum + one, 0) / 1000,
      width,
      height: pageHeight,
      video: 'WebP',
      sound: null,
      soundSeconds: null,
    };
  },
};

const named = (names: Readonly<Record<string, string>>, codec = ''): string =>
  Object.entries(names).find(([mark]) => codec.toUpperCase().includes(mark))?.[1] ?? codec.replace(/^[VA]_/, '');
