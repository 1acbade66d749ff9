import { createCanvas, ImageData, type Canvas } from '@napi-rs/canvas';
import sharp from 'sharp';
import type { Pixels } from '@kettle/core/geometry';
import type { Blank, Clip } from '@kettle/core/model';
import { asStill, isMovingBlank, viewOf, type MovingBlank, type PictureRecipe } from '@kettle/core/mockup';
import { levelSizes, momentAt, neededAt, needsLevels, startsOf, type Levels, type ReadyScene } from '@kettle/core/clip';
import { packFile, type DrawnScene } from './clip-recipe.js';
import { frameMaps, posterKernel, readyBlank, type PackFiles } from '../mockup/blank-pack.js';
import { drawScene } from '../mockup/picture.js';
import type { Files } from '../artwork/files.js';

/** Memory that printed frames of moving blanks may take, bytes: a product that turns back shows them again. */
const MOST_BYTES = 120e6;

interface Source extends ReadyScene<Canvas> {
  readonly guises: (Levels<Canvas> | null)[][];
}

/** Prints the frames of a moving blank. */
interface Press {
  draw(frame: number, guise: PictureRecipe): Promise<Canvas>;
}

/** The scenes of a clip on the server: drawn when the first frame shows them, and let go of after the last. */
export class ClipScenes {
  private readonly sources: Source[];
  private readonly starts: readonly number[];
  private readonly presses = new Map<number, Promise<Press>>();
  /** Printed frames, the one used last at the end. */
  private readonly printed = new Map<string, () => void>();
  private bytes = 0;

  constructor(
    private readonly clip: Clip,
    private readonly scenes: readonly DrawnScene[],
    private readonly blanks: Readonly<Record<string, Blank>>,
    private readonly files: Files,
    private readonly sourceFiles: Files,
    private readonly beats: readonly number[],
  ) {
    this.starts = startsOf(clip);
    this.sources = scenes.map(({ blankId, guises, focus }) => {
      const blank = blanks[blankId];
      const motion = isMovingBlank(blank) ? blank : null;
      return {
        focus,
        motion,
        guises: guises.map(() => Array.from({ length: motion?.frames ?? 1 }, () => null)),
      };
    });
  }

  get ready(): readonly ReadyScene<Canvas>[] {
    return this.sources;
  }

  /** Draws what a frame of the clip shows. */
  async demand(frame: number): Promise<void> {
    const moment = momentAt(this.clip, frame);
    if (!moment) return;
    const shown = [moment.now, ...(moment.next ? [moment.next.moment] : [])];
    for (const { index, frame: own } of shown) await this.draw(index, own);
    // Scenes come one after the other: those before are over.
    for (const [index, source] of this.sources.entries())
      if (index < moment.now.index) for (const guise of source.guises) guise.fill(null);
  }

  private async draw(index: number, frame: number): Promise<void> {
    const { motion, guises } = this.sources[index];
    const scene = this.clip.scenes[index];
    if (!motion) {
      for (const [at, recipe] of this.scenes[index].guises.entries())
        guises[at][0] ??= await this.still(index, recipe, needsLevels(scene));
      return;
    }
    for (const { guise, frame: at } of neededAt(motion, scene, guises.length, frame, this.starts[index], this.beats)) {
      const key = `${index} ${guise} ${at}`;
      const forget = this.printed.get(key);
      this.printed.delete(key);
      if (guises[guise][at] && forget) {
        this.printed.set(key, forget);
        continue;
      }
      const press = this.presses.get(index) ?? this.press(index);
      this.presses.set(index, press);
      const picture = await (await press).draw(at, this.scenes[index].guises[guise]);
      guises[guise][at] = [picture];
      const bytes = picture.width * picture.height * 4;
      this.bytes += bytes;
      this.printed.set(key, () => {
        guises[guise][at] = null;
        this.bytes -= bytes;
      });
      for (const [other, letGo] of this.printed) {
        if (this.bytes <= MOST_BYTES) break;
        if (other === key) continue;
        this.printed.delete(other);
        letGo();
      }
    }
  }

  private packOf(index: number): PackFiles {
    const own = packFile(this.scenes[index].blankId, '');
    return Object.fromEntries(
      Object.entries(this.files)
        .filter(([name]) => name.startsWith(own))
        .map(([name, path]) => [name.slice(own.length), path]),
    );
  }

  private async still(index: number, recipe: PictureRecipe, levels: boolean): Promise<Levels<Canvas>> {
    const blank = asStill(this.blanks[this.scenes[index].blankId]);
    const view = viewOf(blank, null, recipe.size);
    const kernel = await readyBlank(this.packOf(index), blank, recipe.prints, view);
    const pixels = await drawScene(kernel, recipe, this.sourceFiles);
    return levels ? levelsOf(pixels) : [canvasOf(pixels)];
  }

  private async press(index: number): Promise<Press> {
    const blank = this.blanks[this.scenes[index].blankId] as MovingBlank;
    const { prints, size } = this.scenes[index].guises[0];
    const pack = this.packOf(index);
    const view = viewOf(blank, null, size);
    const kernel = await posterKernel(pack, blank, prints, view);
    const { sourceFiles } = this;
    let shown = -1;
    return {
      async draw(frame, guise) {
        if (shown !== frame) {
          const { maps, areas } = await frameMaps(pack, blank, frame, prints, view, kernel);
          kernel.showFrame(maps, areas);
        }
        shown = frame;
        return canvasOf(await drawScene(kernel, guise, sourceFiles));
      },
    };
  }
}

function canvasOf({ width, height, data }: Pixels): Canvas {
  const canvas = createCanvas(width, height);
  canvas
    .getContext('2d')
    .putImageData(
      new ImageData(new Uint8ClampedArray(data.buffer, data.byteOffset, data.byteLength), width, height),
      0,
      0,
    );
  return canvas;
}

async function levelsOf(pixels: Pixels): Promise<Levels<Canvas>> {
  const { width, height, data } = pixels;
  const image = sharp(Buffer.from(data.buffer, data.byteOffset, data.byteLength), {
    raw: { width, height, channels: 4 },
  });
  const levels = [canvasOf(pixels)];
  for (const size of levelSizes(pixels)) {
    const reduced = await image.clone().resize(size.width, size.height, { fit: 'fill' }).raw().toBuffer();
    levels.push(canvasOf({ ...size, data: reduced }));
  }
  return levels;
}
