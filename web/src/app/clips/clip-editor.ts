import { Injectable, computed, effect, inject, signal } from '@angular/core';
import type { Clip, ClipScene, Framing } from '@kettle/core/model';
import {
  arranged,
  addClip,
  beatFrames,
  changeClip,
  changeClipScene,
  clipsOf,
  framesOf,
  LEAST_SCENE,
  moveClipScene,
  putClipScene,
  removeClip,
  removeClipScene,
  shotsOf,
  shownOf,
  trimmed,
  type Arrangement,
  type MusicTrack,
  type Shots,
} from '@kettle/core/clip';
import { Editor } from '../editor/editor';
import { Api } from '../data/api';
import { Loaded } from '../data/loaded';
import { newId } from '../data/new-id';
import { RequirementShelf } from '../data/requirement-shelf';
import { MockupEditor } from '../mockups/mockup-editor';

/** Which clip of the design is worked on, and its parts. Provided by the clips station. */
@Injectable()
export class ClipEditor {
  private readonly editor = inject(Editor);
  private readonly mockup = inject(MockupEditor);
  private readonly api = inject(Api);
  private readonly requirements = inject(RequirementShelf);
  private readonly music = new Loaded(() => this.api.ask('get /api/music'), { of: 'The music' });
  readonly tracks = computed(() => this.music.value() ?? []);
  private readonly chosen = signal<string | null>(null);
  private readonly chosenScene = signal<string | null>(null);
  /** Frame that is shown while nothing plays. */
  readonly frame = signal(0);
  /** Whether the stage plays it. */
  readonly playing = signal(false);

  readonly clips = computed(() => clipsOf(this.editor.desk.document() ?? {}));
  readonly clip = computed<Clip | null>(
    () => this.clips().find((one) => one.id === this.chosen()) ?? this.clips()[0] ?? null,
  );
  readonly scene = computed<ClipScene | null>(
    () => this.clip()?.scenes.find((one) => one.id === this.chosenScene()) ?? null,
  );
  readonly frames = computed(() => framesOf(this.clip() ?? { scenes: [] }));
  /** Music that a clip has though it is off the list. */
  private readonly offList = signal<ReadonlyMap<string, MusicTrack>>(new Map());
  private readonly asked = new Set<string>();
  readonly track = computed(() => {
    const id = this.clip()?.music?.trackId ?? '';
    return this.tracks().find((one) => one.id === id) ?? this.offList().get(id) ?? null;
  });
  readonly beats = computed(() => {
    const [clip, track, frames] = [this.clip(), this.track(), this.frames()];
    return clip?.music && track && frames ? beatFrames(track, clip.music.start, frames) : [];
  });

  constructor() {
    effect(() => {
      const id = this.clip()?.music?.trackId;
      if (!id || !this.tracks().length || this.track() || this.asked.has(id)) return;
      this.asked.add(id);
      this.api.ask('get /api/music/{id}', { id }).subscribe({
        next: (track) => this.offList.update((all) => new Map(all).set(id, track)),
        // eslint-disable-next-line no-restricted-syntax -- that it is gone is said where it is chosen
        error: () => undefined,
      });
    });
  }

  /** Asks for the music again: some was added or changed. */
  reloadTracks(): void {
    this.music.again();
  }

  choose(id: string): void {
    this.chosen.set(id);
    this.chosenScene.set(null);
    this.frame.set(0);
  }

  select(sceneId: string | null): void {
    this.chosenScene.set(sceneId);
  }

  /** Products that this design is shown on. */
  private shots(): Shots {
    const [design, now] = [this.editor.desk.document(), this.mockup.scene()];
    if (!design) return { shots: [], turns: [] };
    // What is looked at counts, though the document does not say it yet.
    const looked = { ...design, scene: design.scene ?? now ?? undefined };
    return shotsOf(looked, this.mockup.blanks(), this.requirements.all(), this.editor.current()?.garment);
  }

  /** A clip after an arrangement, not kept yet; null while there is nothing to show. */
  arrange(arrangement: Arrangement): Clip | null {
    const [{ shots, turns }, design] = [this.shots(), this.editor.desk.document()];
    if (!shots.length || !design) return null;
    const first = arrangement.steps[0]?.turns && turns.length ? turns[0] : shots[0];
    const colours = this.mockup.blanks().find((one) => one.id === first.blankId)?.colourways ?? [];
    return arranged(
      arrangement,
      shots,
      turns,
      colours.map(({ hex }) => hex),
      this.tracks(),
      design.name,
      () => newId('c'),
    );
  }

  /** Begins a clip after an arrangement, or an empty one. */
  start(arrangement: Arrangement | null): void {
    const clip: Clip | null = arrangement
      ? this.arrange(arrangement)
      : { id: newId('c'), name: 'Clip', shape: '1:1', scenes: [] };
    if (!clip) return;
    this.editor.edit(addClip({ ...clip, name: this.freeName(clip.name) }));
    this.editor.desk.settle();
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
      this.editor.edit(
        changeClip(clip.id, (before) => ({ ...before, ...change })),
        mergeKey,
      );
    if (mergeKey === null) this.editor.desk.settle();
  }

  changeScene(change: Partial<ClipScene>, mergeKey: string | null = null): void {
    const [clip, scene] = [this.clip(), this.scene()];
    if (clip && scene) this.editor.edit(changeClipScene(clip.id, scene.id, change), mergeKey);
    if (mergeKey === null) this.editor.desk.settle();
  }

  /** Gives a scene a length, its end on a beat that is near. @param mergeKey joins what one hand does in one step to undo */
  trim(sceneId: string, frames: number, mergeKey: string | null = null): void {
    const clip = this.clip();
    const index = clip?.scenes.findIndex(({ id }) => id === sceneId) ?? -1;
    if (!clip || index < 0) return;
    this.editor.edit(
      changeClipScene(clip.id, sceneId, { frames: trimmed(clip, index, frames, this.beats()) }),
      mergeKey,
    );
    if (mergeKey === null) this.settle();
  }

  /** Gives a scene exactly so many frames. */
  setFrames(sceneId: string, frames: number): void {
    const clip = this.clip();
    if (clip)
      this.editor.edit(changeClipScene(clip.id, sceneId, { frames: Math.max(LEAST_SCENE, Math.round(frames)) }));
    this.settle();
  }

  /** Frames the chosen scene otherwise in the shape that is shown; null for as it is proposed. Merges with what was set just before. */
  frameScene(framing: Framing | null): void {
    const [clip, scene] = [this.clip(), this.scene()];
    if (!clip || !scene) return;
    const { [clip.shape]: _own, ...others } = scene.framings ?? {};
    const framings = framing ? { ...others, [clip.shape]: framing } : others;
    this.changeScene({ framings: Object.keys(framings).length ? framings : undefined }, `framing ${scene.id}`);
  }

  settle(): void {
    this.editor.desk.settle();
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
    const [shot] = this.shots().shots;
    const added: ClipScene | null = scene
      ? { ...scene, id: newId('c') }
      : shot && { id: newId('c'), scene: shot, frames: 48, movement: 'push' };
    if (!added) return;
    this.editor.edit(putClipScene(clip.id, added, at));
    this.editor.desk.settle();
    this.select(added.id);
  }

  moveScene(sceneId: string, to: number): void {
    const clip = this.clip();
    if (clip) this.editor.edit(moveClipScene(clip.id, sceneId, to));
    this.editor.desk.settle();
  }

  removeScene(sceneId: string): void {
    const clip = this.clip();
    if (clip) this.editor.edit(removeClipScene(clip.id, sceneId));
    this.editor.desk.settle();
  }

  remove(id: string): void {
    this.editor.edit(removeClip(id));
    this.editor.desk.settle();
  }
}
