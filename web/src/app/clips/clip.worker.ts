/// <reference lib="webworker" />
import { CLIP_FPS } from '@kettle/core/model';
import { animatedWebp, framesEach, levelTrack, paintClip, picturesInFile } from '@kettle/core/clip';
import {
  AudioSample,
  AudioSampleSource,
  BufferTarget,
  canEncodeAudio,
  CanvasSource,
  getFirstEncodableVideoCodec,
  Mp4OutputFormat,
  Output,
  WebMOutputFormat,
} from '#libraries/mediabunny';
import type { ClipReply, ClipRequest, MakeClip, VideoCodec } from './clip-messages';
import { videoCodecs } from './encoders';
import { FrameSource } from './frame-source';
import { MadeScenes } from './made-scenes';

// Makes the file of a clip: every frame drawn as on the stage, coded by what the browser offers.

/** Bits a pixel and frame: flat products need few. */
const BITS_PER_PIXEL = 0.14;
const SOUND_BITS = 128_000;
/** Seconds of sound that are handed over at once. */
const SOUND_PIECE = 0.5;
const WEBP_QUALITY = 0.8;
const COVER_QUALITY = 0.92;

/** How often it is said how far it is, ms: the page draws itself anew each time, beside the encoder. */
const SAID_EVERY = 400;

/** Frame before which the sound is made loud: the encoder has the first ones by then. */
const SOUND_FRAME = 4;

/** Codecs that were asked for, by file and size: to ask takes as long as to draw ten frames. */
const asked = new Map<string, Promise<VideoCodec | null>>();

function codecFor({ file, width, height }: Pick<MakeClip, 'file' | 'width' | 'height'>): Promise<VideoCodec | null> {
  const key = `${file} ${width} ${height}`;
  const codec =
    asked.get(key) ?? (getFirstEncodableVideoCodec(videoCodecs(file), { width, height }) as Promise<VideoCodec | null>);
  asked.set(key, codec);
  codec.catch(() => asked.delete(key));
  return codec;
}

let scenes: MadeScenes | null = null;

const say = (reply: ClipReply, transfer: Transferable[] = []): void => postMessage(reply, transfer);

/** Says how far it is, from time to time. */
function progress(total: number): (done: number) => void {
  let said = -Infinity;
  return (done) => {
    const now = performance.now();
    if (done < total && now - said < SAID_EVERY) return;
    said = now;
    say({ kind: 'progress', done, total });
  };
}

/** Paints the frames of a clip on one canvas, and takes its cover on the way. */
class Painter {
  readonly canvas: OffscreenCanvas;
  private readonly context: OffscreenCanvasRenderingContext2D;
  private taken: Promise<Blob> | null = null;

  constructor(private readonly job: MakeClip) {
    this.canvas = new OffscreenCanvas(job.width, job.height);
    this.context = this.canvas.getContext('2d', { alpha: false })!;
  }

  async paint(frame: number): Promise<void> {
    await scenes!.demand(frame);
    const { clip, words, logo, beats, frames } = this.job;
    paintClip(this.context, { clip, scenes: scenes!.ready, words, logo, beats, frames }, frame);
    if (frame === this.job.cover)
      this.taken ??= this.canvas.convertToBlob({ type: 'image/jpeg', quality: COVER_QUALITY });
  }

  async cover(): Promise<ArrayBuffer> {
    if (!this.taken) await this.paint(this.job.cover);
    return (await this.taken!).arrayBuffer();
  }
}

async function video(job: MakeClip, painter: Painter): Promise<ArrayBuffer> {
  const { width, height, rate, file, frames: total } = job;
  const codec = await codecFor(job);
  if (!codec)
    throw new Error(
      'This browser cannot make clips: it has no encoder for VP9 or AV1. Open Kettle Sheet in a current Chromium or Firefox, or make an animated WebP.',
    );
  if (job.sound && !(await canEncodeAudio('opus')))
    throw new Error('This browser cannot make the sound of a clip. Take the music away, or use another browser.');
  const target = new BufferTarget();
  const output = new Output({ format: file === 'mp4' ? new Mp4OutputFormat() : new WebMOutputFormat(), target });
  const source = new CanvasSource(painter.canvas, {
    codec,
    bitrate: Math.round(width * height * CLIP_FPS * BITS_PER_PIXEL),
    keyFrameInterval: 2,
  });
  output.addVideoTrack(source, { frameRate: CLIP_FPS });
  const audio = job.sound && new AudioSampleSource({ codec: 'opus', bitrate: SOUND_BITS });
  if (audio) output.addAudioTrack(audio);
  await output.start();
  const done = progress(total);
  let sound: readonly Float32Array<ArrayBuffer>[] | null = null;
  let heard = 0;
  for (let frame = 0; frame < total; frame++) {
    await painter.paint(frame);
    await source.add(frame / CLIP_FPS, 1 / CLIP_FPS);
    if (job.sound && frame >= Math.min(SOUND_FRAME, total - 1)) {
      const { channels, track, music } = job.sound;
      sound ??= levelTrack(channels, rate, track, music, total / CLIP_FPS);
    }
    while (audio && sound && heard < sound[0].length && heard / rate <= (frame + 1) / CLIP_FPS) {
      const piece = sound.map((channel) => channel.subarray(heard, heard + SOUND_PIECE * rate));
      const data = new Float32Array(piece.length * piece[0].length);
      piece.forEach((channel, i) => data.set(channel, i * piece[0].length));
      const sample = new AudioSample({
        data,
        format: 'f32-planar',
        numberOfChannels: piece.length,
        sampleRate: rate,
        timestamp: heard / rate,
      });
      await audio.add(sample);
      sample.close();
      heard += piece[0].length;
    }
    done(frame + 1);
  }
  await output.finalize();
  return target.buffer!;
}

async function picture({ file, frames: total, width, height }: MakeClip, painter: Painter): Promise<ArrayBuffer> {
  const each = framesEach(file);
  const count = picturesInFile(file, total);
  const stills = [];
  const done = progress(count);
  for (let i = 0; i < count; i++) {
    await painter.paint(i * each);
    const still = await painter.canvas.convertToBlob({ type: 'image/webp', quality: WEBP_QUALITY });
    if (still.type !== 'image/webp')
      throw new Error('This browser cannot write WebP pictures. Make a video instead, or use another browser.');
    // What is left of the clip is shorter than one picture's time.
    const shown = Math.min(each, total - i * each);
    stills.push({ file: new Uint8Array(await still.arrayBuffer()), milliseconds: (shown / CLIP_FPS) * 1000 });
    done(i + 1);
  }
  return animatedWebp(width, height, stills).buffer;
}

async function make(job: MakeClip): Promise<void> {
  const painter = new Painter(job);
  const bytes = await (job.file === 'webp' ? picture(job, painter) : video(job, painter));
  const cover = await painter.cover();
  say({ kind: 'made', bytes, cover }, [bytes, cover]);
}

addEventListener('message', ({ data }: MessageEvent<ClipRequest>) => {
  if (data.kind === 'scene') {
    scenes?.arrive(data.index, data.scene);
    return;
  }
  if (data.kind === 'ready') {
    // That there is none is said when a file is made.
    if (videoCodecs(data.file).length) codecFor(data).catch(() => undefined);
    return;
  }
  scenes = new MadeScenes(data.clip, data.beats, data.framePort && new FrameSource(data.framePort));
  make(data).catch((error: unknown) =>
    say({ kind: 'failed', message: error instanceof Error ? error.message : 'The clip could not be made.' }),
  );
});
