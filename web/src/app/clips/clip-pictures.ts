import { Injectable, InjectionToken, OnDestroy, computed, effect, inject, signal, untracked } from '@angular/core';
import type { Box } from '@kettle/core/geometry';
import type { Clip, ClipScene } from '@kettle/core/model';
import { neededPictures, type Guise, type NeededPicture } from '@kettle/core/clip';
import { Subscription } from 'rxjs';
import { MockupEditor } from '../mockups/mockup-editor';
import { PREVIEW_SIZE } from '../mockups/scene-painter';
import { ClipScenes, keyOf, MIDDLE, placeKey, type StagedScene } from './clip-scenes';
import { closeLevels, levelsOf } from './levels';
import { MovingPainter } from './moving-painter';
import type { Levels, ReadyScene } from './bitmaps';

/** Pictures that are kept though nobody looks at them just now; each takes about 8 MB. */
const MOST_SPARE = 16;
/** Memory that the frames of moving blanks may take, bytes: with more of them each is smaller. */
const MOST_MOVING = 180e6;

/** Sizes that pictures are drawn at, px, those of moving blanks from the smallest. */
export const CLIP_SIZES = new InjectionToken<{ readonly still: number; readonly moving: readonly number[] }>(
  'sizes of the pictures of a clip',
  { factory: () => ({ still: PREVIEW_SIZE, moving: [360, 540, 600, 720] }) },
);

interface Shown extends StagedScene {
  readonly guise: Guise;
}

/** The frames of a scene on a moving blank. */
interface Turning {
  readonly one: ClipScene;
  readonly guises: readonly Guise[];
  readonly needed: readonly NeededPicture[];
}

/** Pictures that the stage shows of a clip, drawn one after the other, and again when the design has changed. */
@Injectable()
export class ClipPictures implements OnDestroy {
  private readonly mockup = inject(MockupEditor);
  private readonly scenes = inject(ClipScenes);
  private readonly moving = inject(MovingPainter);
  private readonly sizes = inject(CLIP_SIZES);
  private readonly drawn = signal<ReadonlyMap<string, Levels>>(new Map());
  /** Frames of moving blanks by scene and guise. */
  private readonly turned = signal<ReadonlyMap<string, ReadonlyMap<number, Levels>>>(new Map());
  private readonly focuses = signal<ReadonlyMap<string, Box>>(new Map());
  private readonly looked = signal<{ readonly clip: Pick<Clip, 'scenes'>; readonly beats: readonly number[] } | null>(
    null,
  );
  /** What is wanted on the stage, the most wanted first. Of a blank that moves one picture stands for all until they are there. */
  private readonly wanted = computed<readonly Shown[]>(
    () =>
      this.looked()?.clip.scenes.flatMap((one) => {
        const guises = this.scenes.guises(one);
        return (this.scenes.movingBlank(one.scene) ? guises.slice(-1) : guises).map((guise) => ({
          scene: one.scene,
          designId: one.designId,
          guise,
        }));
      }) ?? [],
  );
  private readonly turning = computed<readonly Turning[]>(() => {
    const looked = this.looked();
    if (!looked) return [];
    return looked.clip.scenes.flatMap((one, index) => {
      const motion = this.scenes.movingBlank(one.scene);
      if (!motion) return [];
      const guises = this.scenes.guises(one);
      return [{ one, guises, needed: neededPictures(motion, looked.clip, index, guises.length, looked.beats) }];
    });
  });
  /** Edition of the art that each was drawn with. */
  private readonly editions = new Map<string, number>();
  /** Grows when what is printed changes; changing a clip is none of that. */
  private edition = 0;
  private busy = false;
  private ended = false;
  private printing: Subscription | null = null;
  /** What the frames of moving blanks were printed for last. */
  private printedFor = '';

  constructor() {
    effect(() => {
      this.scenes.art();
      this.scenes.arrived();
      this.scenes.otherArt();
      this.edition++;
      untracked(() => void this.work());
    });
    effect(() => {
      this.wanted();
      this.turning();
      this.mockup.blanks();
      untracked(() => void this.work());
    });
  }

  ngOnDestroy(): void {
    this.ended = true;
    this.printing?.unsubscribe();
    for (const levels of this.drawn().values()) closeLevels(levels);
    for (const frames of this.turned().values()) for (const levels of frames.values()) closeLevels(levels);
  }

  /** Says which clip is looked at. */
  want(clip: Pick<Clip, 'scenes'>, beats: readonly number[]): void {
    this.looked.set({ clip, beats });
  }

  /** The scenes of a clip as far as they are drawn. */
  ready(clip: Pick<Clip, 'scenes'>): readonly ReadyScene[] {
    return clip.scenes.map((one) => {
      const guises = this.scenes.guises(one);
      const motion = this.scenes.movingBlank(one.scene);
      const focus = this.focuses().get(placeKey(one)) ?? MIDDLE;
      if (!motion)
        return {
          guises: guises.map((guise) => [this.drawn().get(keyOf({ ...one, guise })) ?? null]),
          motion: null,
          standIn: null,
          focus,
        };
      const standIn = this.drawn().get(keyOf({ ...one, guise: guises[guises.length - 1] })) ?? null;
      return {
        guises: guises.map((guise) => {
          const frames = this.turned().get(keyOf({ ...one, guise }));
          return Array.from({ length: motion.frames }, (_, frame) => frames?.get(frame) ?? null);
        }),
        motion,
        standIn,
        focus,
      };
    });
  }

  /** True when each picture that the clip that is looked at needs is there. */
  readonly isReady = computed(
    () =>
      this.wanted().every((one) => this.drawn().has(keyOf(one))) &&
      this.turning().every(({ one, guises, needed }) => {
        const keys = guises.map((guise) => keyOf({ ...one, guise }));
        return needed.every(({ guise, frame }) => this.turned().get(keys[guise])?.has(frame));
      }),
  );

  /** A scene in its own colour, or null while that is on its way. */
  of(one: ClipScene): ImageBitmap | null {
    const guises = this.scenes.guises(one);
    const guise = one.movement === 'layers' ? guises[guises.length - 1] : guises[0];
    const found = this.drawn().get(keyOf({ ...one, guise })) ?? this.anyOf(one);
    return found?.at(-1) ?? null;
  }

  private anyOf(scene: StagedScene): Levels | undefined {
    const place = placeKey(scene);
    return [...this.drawn()].find(([key]) => key.startsWith(place))?.[1];
  }

  private async work(): Promise<void> {
    if (this.busy || this.ended) return;
    this.busy = true;
    try {
      for (;;) {
        const next = this.wanted().find((one) => this.editions.get(keyOf(one)) !== this.edition);
        if (!next || this.ended || !this.scenes.blank(next.scene)) break;
        this.editions.set(keyOf(next), this.edition);
        // One that cannot be drawn shows its backdrop until the art changes.
        await this.show(next).catch(() => undefined);
      }
    } finally {
      this.busy = false;
    }
    if (!this.ended) this.print();
  }

  private async show(one: Shown): Promise<void> {
    const levels = await levelsOf((await this.scenes.still(one, one.guise, this.sizes.still)).picture);
    const focus = await this.scenes.focus(one).catch(() => MIDDLE);
    if (this.ended) {
      closeLevels(levels);
      return;
    }
    this.focuses.update((all) => new Map(all).set(placeKey(one), focus));
    const before = this.drawn().get(keyOf(one));
    this.drawn.update((all) => new Map(all).set(keyOf(one), levels));
    if (before) closeLater(before);
    this.forgetSpare();
  }

  /** What is looked at stays, and a few that were; more would fill the memory. */
  private forgetSpare(): void {
    const wanted = new Set(this.wanted().map(keyOf));
    const spare = [...this.drawn()].filter(([key]) => !wanted.has(key));
    const gone = spare.slice(0, Math.max(0, spare.length - MOST_SPARE));
    if (!gone.length) return;
    this.drawn.update((all) => new Map([...all].filter(([key]) => !gone.some(([other]) => other === key))));
    for (const [key, levels] of gone) {
      this.editions.delete(key);
      closeLater(levels);
    }
  }

  /** Prints the frames of moving blanks that are missing or older than the art. */
  private print(): void {
    const scenes = this.turning().map((one) => ({
      ...one,
      keys: one.guises.map((guise) => keyOf({ ...one.one, guise })),
    }));
    const names = new Set(
      scenes.flatMap(({ keys, needed }) => needed.map(({ guise, frame }) => nameOf(keys[guise], frame))),
    );
    const wanted = `${this.edition} ${[...names].join()}`;
    if (wanted === this.printedFor) return;
    this.printedFor = wanted;
    this.printing?.unsubscribe();
    this.forgetTurned(names);
    const most = Math.sqrt(MOST_MOVING / 4 / Math.max(1, names.size));
    const size = this.sizes.moving.findLast((one) => one <= most) ?? this.sizes.moving[0];
    this.printing = new Subscription();
    void this.printAll(scenes, size, this.printing);
  }

  private async printAll(
    scenes: readonly (Turning & { readonly keys: readonly string[] })[],
    size: number,
    run: Subscription,
  ): Promise<void> {
    const { edition } = this;
    for (const { one, guises, needed, keys } of scenes) {
      const missing = needed.filter(({ guise, frame }) => this.editions.get(nameOf(keys[guise], frame)) !== edition);
      if (!missing.length) continue;
      const drawn = await this.scenes.pressed(one, guises, size).catch(() => null);
      if (run.closed) return;
      if (!drawn) continue;
      await new Promise<void>((resolve) => {
        run.add(() => resolve());
        run.add(
          this.moving.draw(drawn.pressed.seen, drawn.pressed.guises, missing).subscribe({
            next: ({ needed: { guise, frame }, picture }) => this.keep(keys[guise], frame, [picture], edition),
            // What could not be printed shows the picture that stands in for it.
            error: () => resolve(),
            complete: () => resolve(),
          }),
        );
      });
      if (run.closed) return;
    }
  }

  private keep(key: string, frame: number, levels: Levels, edition: number): void {
    const before = this.turned().get(key)?.get(frame);
    this.editions.set(nameOf(key, frame), edition);
    this.turned.update((all) => new Map(all).set(key, new Map(all.get(key)).set(frame, levels)));
    if (before) closeLater(before);
  }

  private forgetTurned(wanted: ReadonlySet<string>): void {
    const left = new Map<string, ReadonlyMap<number, Levels>>();
    for (const [key, frames] of this.turned()) {
      for (const [frame, levels] of frames)
        if (!wanted.has(nameOf(key, frame))) {
          this.editions.delete(nameOf(key, frame));
          closeLater(levels);
        }
      const kept = [...frames].filter(([frame]) => wanted.has(nameOf(key, frame)));
      if (kept.length) left.set(key, new Map(kept));
    }
    this.turned.set(left);
  }
}

/** The stage may be painting with it just now. */
const closeLater = (levels: Levels): unknown => setTimeout(() => closeLevels(levels), 1000);
const nameOf = (key: string, frame: number): string => `${frame} ${key}`;
