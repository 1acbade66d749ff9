import type { Clip } from '@kettle/core/model';
import { momentAt, neededAt, startsOf, type NeededPicture } from '@kettle/core/clip';
import type { FrameSource } from './frame-source';
import type { MadeScene } from './clip-messages';
import { nameOfSeen, type SeenMoving } from './moving-messages';
import { MovingPress } from './moving-press';
import type { Levels, ReadyScene } from './bitmaps';

/** Memory that printed frames may take while a file is made, bytes: a product that turns back shows them again. */
const MOST_BYTES = 120e6;

/** A scene as it is painted; its frames come and go. */
interface Source extends ReadyScene {
  readonly guises: (Levels | null)[][];
  readonly made: MadeScene;
  press: Promise<MovingPress> | null;
}

/** The scenes of a clip while its file is made: they come one after the other, and frames of moving blanks as they are needed. */
export class MadeScenes {
  private readonly sources: (Source | undefined)[];
  private readonly arrivals: (() => void)[] = [];
  private readonly starts: readonly number[];
  /** Scenes on the same blank share its press. */
  private readonly presses = new Map<string, Promise<MovingPress>>();
  /** Printed frames, the one used last at the end. */
  private readonly printed = new Map<string, { bytes: number; forget: () => void }>();
  private bytes = 0;

  constructor(
    private readonly clip: Clip,
    private readonly beats: readonly number[],
    private readonly source: FrameSource | null,
  ) {
    this.sources = clip.scenes.map(() => undefined);
    this.starts = startsOf(clip);
  }

  get ready(): readonly ReadyScene[] {
    return this.sources as readonly ReadyScene[];
  }

  arrive(index: number, made: MadeScene): void {
    const moving = 'pressed' in made;
    this.sources[index] = {
      made,
      focus: made.focus,
      motion: moving ? made.motion : null,
      guises: moving
        ? made.pressed.guises.map(() => Array.from({ length: made.motion.frames }, () => null))
        : made.guises.map((levels) => [levels]),
      press: moving ? this.pressOf(made.pressed.seen) : null,
    };
    // It is said where it is needed.
    this.sources[index].press?.catch(() => undefined);
    for (const arrived of this.arrivals.splice(0)) arrived();
  }

  private pressOf(seen: SeenMoving): Promise<MovingPress> {
    if (!this.source) throw new Error('Nobody reads the frames of this moving product.');
    const press = this.presses.get(nameOfSeen(seen)) ?? MovingPress.open(seen, this.source);
    this.presses.set(nameOfSeen(seen), press);
    return press;
  }

  /** Waits until everything that a frame of the clip shows is there. @throws Error with a sentence */
  async demand(frame: number): Promise<void> {
    const moment = momentAt(this.clip, frame);
    if (!moment) return;
    const shown = [moment.now, ...(moment.next ? [moment.next.moment] : [])];
    for (const { index, frame: own } of shown) {
      while (!this.sources[index]) await new Promise<void>((resolve) => this.arrivals.push(resolve));
      await this.print(index, own);
    }
    this.forget(
      new Set(
        shown.flatMap(({ index, frame: own }) =>
          this.needed(index, own).map(({ guise, frame: at }) => `${index} ${guise} ${at}`),
        ),
      ),
    );
  }

  /** Lets pictures go that were used longest ago, but none of those that are shown. */
  private forget(shown: ReadonlySet<string>): void {
    for (const [key, { bytes, forget }] of this.printed) {
      if (this.bytes <= MOST_BYTES) break;
      if (shown.has(key)) continue;
      this.printed.delete(key);
      this.bytes -= bytes;
      forget();
    }
  }

  private needed(index: number, frame: number): NeededPicture[] {
    const { motion, guises } = this.sources[index]!;
    return motion
      ? neededAt(motion, this.clip.scenes[index], guises.length, frame, this.starts[index], this.beats)
      : [];
  }

  private async print(index: number, frame: number): Promise<void> {
    const { made, press, guises } = this.sources[index]!;
    if (!('pressed' in made) || !press) return;
    const open = await press;
    for (const { guise, frame: at } of this.needed(index, frame)) {
      const key = `${index} ${guise} ${at}`;
      const known = this.printed.get(key);
      if (known) {
        this.printed.delete(key);
        this.printed.set(key, known);
        continue;
      }
      const picture = await open.draw(at, made.pressed.guises[guise]);
      guises[guise][at] = [picture];
      const bytes = picture.width * picture.height * 4;
      this.bytes += bytes;
      this.printed.set(key, {
        bytes,
        forget: () => {
          guises[guise][at] = null;
          picture.close();
        },
      });
    }
    // The next ones are decoded while this frame is coded.
    const scene = this.clip.scenes[index];
    for (let next = frame + 1; next < Math.min(scene.frames, frame + 4); next++) {
      const coming = this.needed(index, next).find(({ guise, frame: at }) => !guises[guise][at]);
      if (!coming) continue;
      open.ahead(coming.frame);
      break;
    }
  }
}
