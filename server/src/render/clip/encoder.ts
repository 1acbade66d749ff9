import { spawn, execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { CLIP_FPS } from '@kettle/core/model';
import type { ClipFileKind } from '@kettle/core/clip';
import { ProblemError } from '../../floor/basics/problem-error.js';

// Videos are coded on the server by Debian's ffmpeg, where it is installed: a program of its own, so that nothing of it is
// shipped.

const FFMPEG = 'ffmpeg';
export const SOUND_RATE = 48_000;
/** Bits a pixel and frame: flat products need few. As in the browser. */
const BITS_PER_PIXEL = 0.14;
/** What it says at its end is kept for the log, letters. */
const MOST_SAID = 2000;
/** Longest that a question to it takes, ms. */
const MOST_ASKED = 10_000;

/**
 * Encoders that a kind of video is written with, and how each is asked to work: on two cores the next faster settings take
 * a quarter of the time of the careful ones, and lose a hundredth of their likeness (SSIM).
 */
const CODERS: Readonly<Partial<Record<ClipFileKind, { readonly name: string; readonly settings: readonly string[] }>>> =
  {
    webm: {
      name: 'libvpx-vp9',
      settings: ['-deadline', 'realtime', '-cpu-used', '5', '-row-mt', '1', '-tile-columns', '2'],
    },
    mp4: {
      name: 'libaom-av1',
      settings: ['-usage', 'realtime', '-cpu-used', '8', '-row-mt', '1', '-tiles', '2x1', '-movflags', '+faststart'],
    },
  };

/** Kinds of files that this machine can write. An animated WebP needs no encoder of video. */
export async function writableFiles(): Promise<ClipFileKind[]> {
  const said = await promisify(execFile)(FFMPEG, ['-hide_banner', '-loglevel', 'error', '-encoders'], {
    timeout: MOST_ASKED,
  }).then(
    ({ stdout }) => stdout,
    () => '',
  );
  const has = (name: string): boolean => new RegExp(`^ [VA]\\S+ ${name} `, 'm').test(said);
  const videos = (Object.keys(CODERS) as ClipFileKind[]).filter((kind) => has(CODERS[kind]!.name) && has('libopus'));
  return [...videos, 'webp'];
}

/** Runs it until it ends. @throws ProblemError with a sentence when it is not there or fails */
function started(args: readonly string[]) {
  const child = spawn(FFMPEG, ['-hide_banner', '-loglevel', 'error', '-nostdin', '-y', ...args], {
    stdio: ['pipe', 'pipe', 'pipe'],
  });
  let said = '';
  child.stderr.setEncoding('utf8').on('data', (text: string) => (said = (said + text).slice(-MOST_SAID)));
  // What it does not read any more is told by how it ends.
  child.stdin.on('error', () => undefined);
  const ended = new Promise<void>((resolve, reject) => {
    child.on('error', () =>
      reject(
        new ProblemError(
          409,
          'no-encoder',
          'This machine has no ffmpeg, so videos cannot be made on it. Install Debian’s package ffmpeg, or make the clip in the browser.',
        ),
      ),
    );
    child.on('close', (code) =>
      code === 0 ? resolve() : reject(new Error(`ffmpeg ended with ${code}: ${said.trim()}`)),
    );
  });
  ended.catch(() => undefined);
  return { child, ended };
}

/** Music as samples, left and right. @throws ProblemError with a sentence when it cannot be read */
export async function decodeMusic(path: string): Promise<Float32Array<ArrayBuffer>[]> {
  const { child, ended } = started(['-i', path, '-f', 'f32le', '-ac', '2', '-ar', String(SOUND_RATE), 'pipe:1']);
  const pieces: Buffer[] = [];
  child.stdout.on('data', (piece: Buffer) => pieces.push(piece));
  try {
    await ended;
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    throw new ProblemError(
      422,
      'not-playable',
      'The music of this clip cannot be read on the server. Choose other music, or take it away.',
    );
  }
  const bytes = Buffer.concat(pieces);
  const count = Math.floor(bytes.length / 8);
  const sound = [new Float32Array(count), new Float32Array(count)];
  for (let i = 0; i < count; i++) {
    sound[0][i] = bytes.readFloatLE(i * 8);
    sound[1][i] = bytes.readFloatLE(i * 8 + 4);
  }
  return sound;
}

/** A video that takes its frames one after the other. */
export interface Coding {
  /** Takes one frame, RGBA from top to bottom, and is done with it when it returns. */
  add(frame: Uint8Array): Promise<void>;
  end(): Promise<void>;
}

/**
 * Begins a video.
 * @param sound path of its samples, 32-bit floats of left and right in turn; null for none
 */
export function startVideo(
  file: ClipFileKind,
  { width, height }: { readonly width: number; readonly height: number },
  sound: string | null,
  out: string,
): Coding {
  const coder = CODERS[file]!;
  const bits = Math.round(width * height * CLIP_FPS * BITS_PER_PIXEL);
  const { child, ended } = started([
    ...['-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', `${width}x${height}`, '-r', String(CLIP_FPS), '-i', 'pipe:0'],
    ...(sound ? ['-f', 'f32le', '-ar', String(SOUND_RATE), '-ac', '2', '-i', sound] : []),
    ...[
      '-vf',
      'scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd,setparams=range=tv',
      '-pix_fmt',
      'yuv420p',
    ],
    ...['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709'],
    ...['-c:v', coder.name, '-b:v', String(bits), '-g', String(2 * CLIP_FPS), ...coder.settings],
    ...(sound ? ['-c:a', 'libopus', '-b:a', '128k'] : []),
    ...['-f', file, out],
  ]);
  return {
    async add(frame) {
      // Until all of it is written: whose pixels they are may use them again. When it has ended, that is told.
      await Promise.race([new Promise((resolve) => child.stdin.write(frame, resolve)), ended]);
    },
    async end() {
      child.stdin.end();
      await ended;
    },
  };
}
