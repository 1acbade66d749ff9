/// <reference lib="webworker" />
import { CLIP_FPS } from '@kettle/core';
import {
  AudioSample,
  AudioSampleSource,
  BufferTarget,
  canEncodeAudio,
  CanvasSource,
  getFirstEncodableVideoCodec,
  Output,
  WebMOutputFormat,
} from 'mediabunny';
import type { ClipReply, MakeClip } from './clip-messages';
import { paintClip } from './paint-clip';

// Makes the file of a clip: every frame drawn as on the stage, coded by what the browser offers.

/** Bits a pixel and frame: flat products need few. */
const BITS_PER_PIXEL = 0.14;
const SOUND_BITS = 128_000;
/** Seconds of sound that are handed over at once. */
const SOUND_PIECE = 0.5;

const say = (reply: ClipReply, transfer: Transferable[] = []): void => postMessage(reply, transfer);

async function make({ ready, width, height, sound, rate }: MakeClip): Promise<void> {
  const codec = await getFirstEncodableVideoCodec(['vp9', 'av1', 'vp8'], { width, height });
  if (!codec)
    throw new Error(
      'This browser cannot make clips: it has no encoder for VP9 or AV1. Open Kettle Sheet in a current Chromium or Firefox.',
    );
  if (sound && !(await canEncodeAudio('opus')))
    throw new Error('This browser cannot make the sound of a clip. Take the music away, or use another browser.');
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { alpha: false })!;
  const target = new BufferTarget();
  const output = new Output({ format: new WebMOutputFormat(), target });
  const video = new CanvasSource(canvas, {
    codec,
    bitrate: Math.round(width * height * CLIP_FPS * BITS_PER_PIXEL),
    keyFrameInterval: 2,
  });
  output.addVideoTrack(video, { frameRate: CLIP_FPS });
  const audio = sound && new AudioSampleSource({ codec: 'opus', bitrate: SOUND_BITS });
  if (audio) output.addAudioTrack(audio);
  await output.start();
  let heard = 0;
  const total = ready.frames;
  for (let frame = 0; frame < total; frame++) {
    paintClip(context, ready, frame);
    await video.add(frame / CLIP_FPS, 1 / CLIP_FPS);
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
    say({ kind: 'progress', done: frame + 1, total });
  }
  await output.finalize();
  const bytes = target.buffer!;
  say({ kind: 'made', bytes, type: 'video/webm' }, [bytes]);
}

addEventListener('message', ({ data }: MessageEvent<MakeClip>) => {
  make(data).catch((error: unknown) =>
    say({ kind: 'failed', message: error instanceof Error ? error.message : 'The clip could not be made.' }),
  );
});
