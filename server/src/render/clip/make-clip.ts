import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { createCanvas, loadImage, type Canvas } from '@napi-rs/canvas';
import sharp from 'sharp';
import { CLIP_FPS, clipSize, coverOf, type Clip } from '@kettle/core/model';
import {
  animatedWebp,
  beatFrames,
  CLIP_FILES,
  framesEach,
  framesOf,
  logoBox,
  mixTrack,
  paintClip,
  picturesInFile,
  sideOfFile,
  type ReadyWords,
  type WebpFrame,
} from '@kettle/core/clip';
import { MUSIC_FILE, type ClipFacts, type ClipMore, type ClipRecipe } from './clip-recipe.js';
import { letGo } from '../../floor/processes/let-go.js';
import type { Files } from '../artwork/files.js';
import { makeRendition } from '../print/rendition.js';
import { ClipScenes } from './clip-scenes.js';
import { drawWords } from './clip-words.js';
import { decodeMusic, SOUND_RATE, startVideo } from './encoder.js';
import { readClip } from './read-clip.js';

const WEBP_QUALITY = 80;
const COVER_QUALITY = 92;
/** Size at which a logo is drawn before it is brought to its own, px. */
const LOGO_SIZE = 1024;
/** Frames after which what nobody names any more is let go of. */
const LET_GO = 6;
/** Share of the time that is left when all frames are drawn. */
const READING = 0.03;

/** Makes a clip's file at `out` and its cover beside it, by the same painter as the stage, and reads it back. */
export async function makeClip(
  recipe: ClipRecipe,
  { blanks, track, logo }: ClipMore,
  files: Files,
  sources: Files,
  out: string,
  progress: (share: number) => void,
): Promise<ClipFacts> {
  const { clip, file } = recipe;
  const size = clipSize(clip.shape, sideOfFile(file, recipe.side));
  const frames = framesOf(clip);
  const beats = clip.music && track ? beatFrames(track, clip.music.start, frames) : [];
  const scenes = new ClipScenes(clip, recipe.scenes, blanks, files, sources, beats);
  const words = await drawWords(clip.words, clip.shape, size);
  const mark = logo ? await drawLogo(clip, logo, sources[logo], size, `${out}.logo.png`) : null;
  const canvas = createCanvas(size.width, size.height);
  const context = canvas.getContext('2d');
  let drawn = 0;
  const painted = async (frame: number): Promise<Buffer> => {
    await scenes.demand(frame);
    // Frames are large, and nobody tells the collector of what they hold.
    if (++drawn % LET_GO === 0) await letGo();
    paintClip(context, { clip, scenes: scenes.ready, words, logo: mark, beats, frames }, frame);
    // RGBA, opaque. Reading it also has the canvas forget how it was drawn, which it would keep for ever.
    return canvas.data();
  };
  const cover = Math.min(frames - 1, coverOf(clip));
  let coverPixels: Buffer | null = null;
  const shown = (share: number): void => progress(share * (1 - READING));

  if (CLIP_FILES[file].hasSound) {
    const sound = clip.music && track ? `${out}.sound` : null;
    if (sound) await writeFile(sound, await mixed(files[MUSIC_FILE], recipe.clip, track!, frames / CLIP_FPS));
    const video = startVideo(file, size, sound, out);
    for (let frame = 0; frame < frames; frame++) {
      const pixels = await painted(frame);
      // The canvas may write the next frame over this one.
      if (frame === cover) coverPixels = Buffer.from(pixels);
      await video.add(pixels);
      shown((frame + 1) / frames);
    }
    await video.end();
  } else {
    const [each, count] = [framesEach(file), picturesInFile(file, frames)];
    const stills: WebpFrame[] = [];
    for (let i = 0; i < count; i++) {
      const pixels = await painted(i * each);
      const still = await image(pixels, size).webp({ quality: WEBP_QUALITY }).toBuffer();
      // What is left of the clip is shorter than one picture's time.
      stills.push({ file: still, milliseconds: (Math.min(each, frames - i * each) / CLIP_FPS) * 1000 });
      shown((i + 1) / count);
    }
    await writeFile(out, animatedWebp(size.width, size.height, stills));
  }
  coverPixels ??= await painted(cover);
  await image(coverPixels, size).jpeg({ quality: COVER_QUALITY, chromaSubsampling: '4:4:4' }).toFile(`${out}.cover`);
  const sha256 = createHash('sha256');
  await pipeline(createReadStream(out), sha256);
  return { read: await readClip(out), sha256: sha256.digest('hex'), cover: `${out}.cover` };
}

const image = (pixels: Buffer, { width, height }: { readonly width: number; readonly height: number }) =>
  sharp(pixels, { raw: { width, height, channels: 4 } }).removeAlpha();

/** The sound of a clip: samples of left and right in turn. */
async function mixed(
  path: string,
  { music }: Pick<Clip, 'music'>,
  track: NonNullable<ClipMore['track']>,
  seconds: number,
): Promise<Float32Array> {
  const [left, right] = mixTrack(await decodeMusic(path), SOUND_RATE, track, music!, seconds);
  const both = new Float32Array(left.length * 2);
  for (let i = 0; i < left.length; i++) {
    both[i * 2] = left[i];
    both[i * 2 + 1] = right[i];
  }
  return both;
}

/** A logo at its place in a clip of a size. */
async function drawLogo(
  { logo, shape }: Clip,
  sha256: string,
  path: string,
  size: { readonly width: number; readonly height: number },
  out: string,
): Promise<ReadyWords<Canvas>> {
  await makeRendition({ sha256 }, path, LOGO_SIZE, out);
  const { width = 1, height = 1 } = await sharp(out).metadata();
  const box = logoBox(logo!, shape, width / height, size);
  const [w, h] = [Math.max(1, Math.round(box.width)), Math.max(1, Math.round(box.height))];
  const picture = createCanvas(w, h);
  picture
    .getContext('2d')
    .drawImage(await loadImage(await sharp(out).resize(w, h, { fit: 'fill' }).png().toBuffer()), 0, 0);
  return { picture, x: Math.round(box.x), y: Math.round(box.y) };
}
