import {
  clipColours,
  clipColourAt,
  momentAt,
  startsOf,
  viewAt,
  wordsAt,
  type Box,
  type Clip,
  type ShownMoment,
} from '@kettle/core';

import { levelsFor, type Levels } from './levels';

type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/** A scene of a clip that is ready to be drawn. */
export interface ReadyScene {
  /** One for each of its colours; null while it is on its way. */
  readonly pictures: readonly (Levels | null)[];
  /** Where the print is on them, shares. */
  readonly focus: Box;
}

/** Words as a picture, and where they stand, px of the clip. */
export interface ReadyWords {
  readonly picture: ImageBitmap;
  readonly x: number;
  readonly y: number;
}

/** All that a frame of a clip is drawn from. */
export interface ReadyClip {
  readonly clip: Clip;
  readonly scenes: readonly ReadyScene[];
  readonly words: ReadyWords | null;
  /** Frames on which a beat falls. */
  readonly beats: readonly number[];
  /** Frames of the whole clip. */
  readonly frames: number;
}

/** Draws one frame over all of a canvas: the same on the stage and in the file. */
export function paintClip(context: Context, ready: ReadyClip, frame: number): void {
  const { width, height } = context.canvas;
  const moment = momentAt(ready.clip, frame);
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.globalAlpha = 1;
  context.imageSmoothingEnabled = true;
  context.imageSmoothingQuality = 'high';
  if (!moment) {
    context.clearRect(0, 0, width, height);
    return;
  }
  const { now, next } = moment;
  if (!next) paintScene(context, ready, now);
  else {
    const { kind, mix } = next;
    context.save();
    switch (kind) {
      case 'slide':
        context.translate(-mix * width, 0);
        paintScene(context, ready, now);
        context.translate(width, 0);
        paintScene(context, ready, next.moment);
        break;
      case 'wipe': {
        paintScene(context, ready, now);
        // A slanted edge runs from the upper left, where the light comes from, to the lower right.
        const reach = mix * (width + height);
        context.beginPath();
        context.moveTo(0, 0);
        context.lineTo(reach, 0);
        context.lineTo(reach - height, height);
        context.lineTo(0, height);
        context.closePath();
        context.clip();
        paintScene(context, ready, next.moment);
        break;
      }
      default:
        paintScene(context, ready, now);
        context.globalAlpha = mix;
        paintScene(context, ready, next.moment);
    }
    context.restore();
  }
  paintWords(context, ready, frame);
}

function paintScene(context: Context, { clip, scenes, beats }: ReadyClip, { index, t, frame }: ShownMoment): void {
  const { width, height } = context.canvas;
  const scene = clip.scenes[index];
  const { pictures, focus } = scenes[index];
  const colour = clipColourAt(scene, frame, startsOf(clip)[index], beats);
  const picture = pictures[Math.min(colour, clipColours(scene).length - 1)] ?? pictures[0];
  if (!picture) {
    context.fillStyle = scene.scene.backdrop;
    context.fillRect(0, 0, width, height);
    return;
  }
  const [{ width: full, height: tall }] = picture;
  const view = viewAt(scene.movement, t, focus, width / height, full / tall);
  const { below, above, share } = levelsFor(picture, width / view.width);
  context.save();
  context.beginPath();
  context.rect(0, 0, width, height);
  context.clip();
  // A source rectangle would be rounded to the picture's pixels; a transform is exact.
  const [w, h] = [width / view.width, height / view.height];
  context.translate(-view.x * w, -view.y * h);
  context.drawImage(below, 0, 0, w, h);
  if (above) {
    context.globalAlpha *= share;
    context.drawImage(above, 0, 0, w, h);
  }
  context.restore();
}

function paintWords(context: Context, { clip, words, frames }: ReadyClip, frame: number): void {
  if (!clip.words || !words) return;
  const { opacity, below } = wordsAt(clip.words, frame, frames);
  if (opacity === 0) return;
  context.globalAlpha = opacity;
  context.drawImage(words.picture, words.x, words.y + below * words.picture.height);
  context.globalAlpha = 1;
}
