import { Injectable, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import {
  arranged,
  addClip,
  beatFrames,
  changeClip,
  changeClipScene,
  clipsOf,
  framesOf,
  moveClipScene,
  putClipScene,
  removeClip,
  removeClipScene,
  type Arrangement,
  type Clip,
  type ClipScene,
  type Scene,
  type ShownScene,
} from '@kettle/core';
import { catchError, of } from 'rxjs';
import { Bench } from '../bench/bench';
import { Api } from '../data/api';
import { newId } from '../data/new-id';
import { MockupBench } from '../mockups/mockup-bench';

/** Which clip of the design is worked on, and its parts. Provided by the clips station. */
@Injectable()
export class ClipBench {
  private readonly bench = inject(Bench);
  private readonly mockup = inject(MockupBench);
  private readonly api = inject(Api);
  readonly tracks = toSignal(this.api.tracks().pipe(catchError(() => of([]))), { initialValue: [] });
  private readonly chosen = signal<string | null>(null);
  private readonly chosenScene = signal<string | null>(null);
  /** Frame that is shown while nothing plays. */
  readonly frame = signal(0);

  readonly clips = computed(() => clipsOf(this.bench.desk.document() ?? {}));
  readonly clip = computed<Clip | null>(
    () => this.clips().find((one) => one.id === this.chosen()) ?? this.clips()[0] ?? null,
  );
  readonly scene = computed<ClipScene | null>(
    () => this.clip()?.scenes.find((one) => one.id === this.chosenScene()) ?? null,
  );
  readonly frames = computed(() => framesOf(this.clip() ?? { scenes: [] }));
  readonly track = computed(() => {
    const id = this.clip()?.music?.trackId;
    return this.tracks().find((one) => one.id === id) ?? null;
  });
  readonly beats = computed(() => {
    const [clip, track, frames] = [this.clip(), this.track(), this.frames()];
    return clip?.music && track && frames ? beatFrames(track, clip.music.start, frames) : [];
  });

  choose(id: string): void {
    this.chosen.set(id);
    this.chosenScene.set(null);
    this.frame.set(0);
  }

  select(sceneId: string | null): void {
    this.chosenScene.set(sceneId);
  }

  /** Products that this design is shown on: the one that is looked at, those that are kept, then others it fits. */
  private shots(): ShownScene[] {
    const [design, now] = [this.bench.desk.document(), this.mockup.scene()];
    if (!design) return [];
    const kept = design.scenes ?? [];
    const others = this.mockup
      .blanks()
      .filter(({ category }) => category === this.mockup.blank()?.category)
      .map((blank) => this.mockup.sceneOn(blank));
    const all = [...(now ? [now] : []), ...kept, ...others].map(shownOf);
    const blanks = new Set<string>();
    return all.filter(({ blankId }) => !blanks.has(blankId) && blanks.add(blankId)).slice(0, 6);
  }

  /** Begins a clip after an arrangement. */
  start(arrangement: Arrangement): void {
    const [shots, design] = [this.shots(), this.bench.desk.document()];
    if (!shots.length || !design) return;
    const colours = this.mockup.blanks().find((one) => one.id === shots[0].blankId)?.colourways ?? [];
    const clip = arranged(
      arrangement,
      shots,
      colours.map(({ hex }) => hex),
      this.tracks(),
      design.name,
      () => newId('c'),
    );
    this.bench.edit(addClip({ ...clip, name: this.freeName(clip.name) }));
    this.bench.desk.settle();
    this.choose(clip.id);
  }

  private freeName(name: string): string {
    const taken = new Set(this.clips().map((one) => one.name));
    for (let n = 1; ; n++) {
      const free = n === 1 ? name : `${name} ${n}`;
      if (!taken.has(free)) return free;
    }
  }

  change(change: Partial<Clip>, mergeKey: string | null = null): void {
    const clip = this.clip();
    if (clip)
      this.bench.edit(
        changeClip(clip.id, (before) => ({ ...before, ...change })),
        mergeKey,
      );
    if (mergeKey === null) this.bench.desk.settle();
  }

  changeScene(change: Partial<ClipScene>, mergeKey: string | null = null): void {
    const [clip, scene] = [this.clip(), this.scene()];
    if (clip && scene) this.bench.edit(changeClipScene(clip.id, scene.id, change), mergeKey);
    if (mergeKey === null) this.bench.desk.settle();
  }

  /** Shows another product in the chosen scene, in its own way. */
  showBlank(blankId: string): void {
    const blank = this.mockup.blanks().find((one) => one.id === blankId);
    if (blank) this.changeScene({ scene: shownOf(this.mockup.sceneOn(blank)) });
  }

  /** Adds a copy of the chosen scene after it, or the product that is looked at. */
  addScene(): void {
    const clip = this.clip();
    if (!clip) return;
    const scene = this.scene();
    const at = scene ? clip.scenes.indexOf(scene) + 1 : clip.scenes.length;
    const shot = this.shots()[0];
    const added: ClipScene | null = scene
      ? { ...scene, id: newId('c') }
      : shot && { id: newId('c'), scene: shot, frames: 48, movement: 'push' };
    if (!added) return;
    this.bench.edit(putClipScene(clip.id, added, at));
    this.bench.desk.settle();
    this.select(added.id);
  }

  moveScene(sceneId: string, to: number): void {
    const clip = this.clip();
    if (clip) this.bench.edit(moveClipScene(clip.id, sceneId, to));
    this.bench.desk.settle();
  }

  removeScene(sceneId: string): void {
    const clip = this.clip();
    if (clip) this.bench.edit(removeClipScene(clip.id, sceneId));
    this.bench.desk.settle();
  }

  remove(id: string): void {
    this.bench.edit(removeClip(id));
    this.bench.desk.settle();
  }
}

const shownOf = (scene: Scene | ShownScene): ShownScene => {
  const { blankId, areaId, requirementId, garment, backdrop, inkOpacity, shadow, look, also } = scene;
  return {
    blankId,
    areaId,
    requirementId,
    garment,
    backdrop,
    inkOpacity,
    shadow,
    ...(look ? { look } : {}),
    ...(also ? { also } : {}),
  };
};
