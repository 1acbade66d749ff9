import type { Box } from '../geometry/affine.js';
import type { Clip } from '../model/clip.js';
import { guiseAt } from './guises.js';
import { levelsFor, type ClipPicture, type Levels } from './levels.js';
import { viewAt } from './movement.js';
import { momentAt, startsOf, type ShownMoment } from './timeline.js';
import { framesAround, turnAt, type Motion } from './turning.js';
import { wordsAt } from './words.js';

/**
 * What is used of a 2D canvas (HTML, 4.12.5.1): a page's own and one on the server alike, so that both draw a clip by the same
 * code.
 */
export interface ClipContext<P extends ClipPicture> {
  readonly canvas: { readonly width: number; readonly height: number };
  globalAlpha: number;
  imageSmoothingEnabled: boolean;
  imageSmoothingQuality: 'low' | 'medium' | 'high';
  fillStyle: unknown;
  setTransform(a: number, b: number, c: number, d: number, e: number, f: number): void;
  translate(x: number, y: number): void;
  clearRect(x: number, y: number, width: number, height: number): void;
  fillRect(x: number, y: number, width: number, height: number): void;
  save(): void;
  restore(): void;
  beginPath(): void;
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
  rect(x: number, y: number, width: number, height: number): void;
  closePath(): void;
  clip(): void;
  drawImage(picture: P, x: number, y: number): void;
  drawImage(picture: P, x: number, y: number, width: number, height: number): void;
}

/** A scene of a clip that is ready to be drawn. */
export interface ReadyScene<P extends ClipPicture> {
  /** Its guises, each with one picture for every frame of its blank; null while that is on its way. */
  readonly guises: readonly (readonly (Levels<P> | null)[])[];
  /** How its blank moves; null when it stands still and has one frame. */
  readonly motion: Motion | null;
  /** What is shown while a picture is on its way. */
  readonly standIn?: Levels<P> | null;
  /** Where the print is on them, shares. */
  readonly focus: Box;
}

/** Words as a picture, and where they stand, px of the clip. */
export interface ReadyWords<P extends ClipPicture> {
  readonly picture: P;
  readonly x: number;
  readonly y: number;
}

/** All that a frame of a clip is drawn from. */
export interface ReadyClip<P extends ClipPicture> {
  readonly clip: Clip;
  readonly scenes: readonly ReadyScene<P>[];
  readonly words: ReadyWords<P> | null;
  readonly logo: ReadyWords<P> | null;
  /** Frames on which a beat falls. */
  readonly beats: readonly number[];
  /** Frames of the whole clip. */
  readonly frames: number;
}

/** Draws one frame over all of a canvas: the same on the stage and in the file. */
export function paintClip<P extends ClipPicture>(
  context: ClipContext<NoInfer<P>>,
  ready: ReadyClip<P>,
  frame: number,
): void {
  const { width, height } = context.canvas;
  const moment = momentAt(ready.clip, frame);
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.globalAlpha = 1;
  context.imageSmoothingEnabled = true;
  // Levels are as fine as what is drawn: between four pixels is enough, and half the time of anything finer.
  context.imageSmoothingQuality = 'low';
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
  paintOver(context, ready, frame);
}

function paintScene<P extends ClipPicture>(
  context: ClipContext<P>,
  { clip, scenes, beats }: ReadyClip<P>,
  { index, t, frame }: ShownMoment,
): void {
  const { width, height } = context.canvas;
  const scene = clip.scenes[index];
  const { guises, motion, standIn, focus } = scenes[index];
  const shown = guiseAt(scene, guises.length, frame, startsOf(clip)[index], beats);
  const at = framesAround(motion ? turnAt(motion, scene, frame) : 0);
  const pictureOf = (guise: number, one: number): Levels<P> | null =>
    guises[guise]?.[one] ?? standIn ?? guises[0]?.[one] ?? null;
  const picture = pictureOf(shown.now, at.below);
  if (!picture) {
    context.fillStyle = scene.scene.backdrop;
    context.fillRect(0, 0, width, height);
    return;
  }
  const [{ width: full, height: tall }] = picture;
  const view = viewAt(scene.movement, t, focus, width / height, full / tall, scene.framings?.[clip.shape]);
  context.save();
  context.beginPath();
  context.rect(0, 0, width, height);
  context.clip();
  const over = (levels: Levels<P> | null, share: number): void => {
    if (!levels || share <= 0) return;
    context.save();
    context.globalAlpha *= share;
    paintPicture(context, levels, view);
    context.restore();
  };
  over(picture, 1);
  // Between two frames of a moving blank, and while a guise gives way to the next, both are seen.
  over(pictureOf(shown.now, at.above), at.share);
  if (shown.next) over(pictureOf(shown.next.guise, at.below), shown.next.share);
  context.restore();
}

/** Draws the part of a picture that is seen over all of a canvas. */
function paintPicture<P extends ClipPicture>(context: ClipContext<P>, levels: Levels<P>, view: Box): void {
  const { width, height } = context.canvas;
  const { below, above, share } = levelsFor(levels, width / view.width);
  // A source rectangle would be rounded to the picture's pixels; a transform is exact.
  const [w, h] = [width / view.width, height / view.height];
  context.translate(-view.x * w, -view.y * h);
  context.drawImage(below, 0, 0, w, h);
  if (above) {
    context.globalAlpha *= share;
    context.drawImage(above, 0, 0, w, h);
  }
}

/** Words and logo, each when it is seen. */
function paintOver<P extends ClipPicture>(
  context: ClipContext<P>,
  { clip, words, logo, frames }: ReadyClip<P>,
  frame: number,
): void {
  for (const [when, over] of [
    [clip.logo, logo],
    [clip.words, words],
  ] as const) {
    if (!when || !over) continue;
    const { opacity, below } = wordsAt(when, frame, frames);
    if (opacity === 0) continue;
    context.globalAlpha = opacity;
    context.drawImage(over.picture, over.x, over.y + below * over.picture.height);
  }
  context.globalAlpha = 1;
}
