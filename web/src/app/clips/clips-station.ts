import { CdkDrag, CdkDropList, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import type { ClipFile } from '@kettle/contract';
import {
  ARRANGEMENTS,
  CLIP_FPS,
  CLIP_SECONDS,
  CLIP_SHAPES,
  CLIP_SHAPE_WORDS,
  formatBytes,
  framesOf,
  MOVEMENTS,
  MOVEMENT_WORDS,
  onBeat,
  startsOf,
  TRANSITIONS,
  TRANSITION_WORDS,
  type Arrangement,
  type Clip,
  type ClipScene,
  type ClipShape,
  type ClipWords,
  type Movement,
  type TransitionKind,
} from '@kettle/core';
import { catchError, of, switchMap } from 'rxjs';
import { Bench } from '../bench/bench';
import { Api } from '../data/api';
import { MockupBench } from '../mockups/mockup-bench';
import { ScenePainter } from '../mockups/scene-painter';
import { TypedValue } from '../units/typed-value';
import { NumberField } from '../units/number-field';
import { SlideField } from '../units/slide-field';
import { ClipBench } from './clip-bench';
import { ClipMaker } from './clip-maker';
import { ClipPictures } from './clip-pictures';
import { ClipStage } from './clip-stage';
import { ClipThumb } from './clip-thumb';

const START_WORDS: ClipWords = { title: '', line: '', when: 'end', hex: '#1f2623' };
/** A transition that has just been chosen, frames. */
const USUAL_TRANSITION = 12;

/** Clips of the design: scenes in a row, with movement, music and words, played and made. */
@Component({
  selector: 'ks-clips-station',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CdkDrag,
    CdkDropList,
    MatButtonModule,
    MatIconModule,
    ClipStage,
    ClipThumb,
    TypedValue,
    NumberField,
    SlideField,
  ],
  providers: [MockupBench, ScenePainter, ClipPictures, ClipBench, ClipMaker],
  templateUrl: './clips-station.html',
  styleUrl: './clips-station.scss',
})
export class ClipsStation {
  private readonly desk = inject(Bench).desk;
  private readonly api = inject(Api);
  private readonly mockup = inject(MockupBench);
  protected readonly bench = inject(ClipBench);
  protected readonly maker = inject(ClipMaker);
  protected readonly fps = CLIP_FPS;
  protected readonly shapes = CLIP_SHAPES;
  protected readonly shapeWords = CLIP_SHAPE_WORDS;
  protected readonly movements = MOVEMENTS;
  protected readonly movementWords = MOVEMENT_WORDS;
  protected readonly transitions = TRANSITIONS;
  protected readonly transitionWords = TRANSITION_WORDS;
  protected readonly whens = [
    { id: 'start', label: 'at the start' },
    { id: 'end', label: 'at the end' },
    { id: 'all', label: 'all the time' },
  ] as const;
  protected readonly mood = signal<string | null>(null);
  protected readonly side = signal(1080);

  private readonly moodById = computed(() => new Map(this.bench.tracks().map(({ id, mood }) => [id, mood])));
  protected readonly moods = computed(() => {
    const counts = new Map<string, number>();
    for (const one of ARRANGEMENTS) counts.set(this.moodOf(one), (counts.get(this.moodOf(one)) ?? 0) + 1);
    return [...counts].filter(([mood]) => mood).map(([mood, count]) => ({ mood, count }));
  });
  protected readonly arrangements = computed(() => {
    const found = ARRANGEMENTS.filter((one) => !this.mood() || this.moodOf(one) === this.mood());
    return found.length ? found : ARRANGEMENTS;
  });
  protected readonly blanks = computed(() => this.mockup.blanks());
  protected readonly canStart = computed(
    () => this.blanks().length > 0 && !!this.desk.document()?.layers.length && this.bench.tracks().length > 0,
  );
  protected readonly colours = computed(() => {
    const id = this.bench.scene()?.scene.blankId;
    return this.blanks().find((one) => one.id === id)?.colourways ?? [];
  });
  /** Frames of a beat; null without music. */
  protected readonly beat = computed(() => {
    const track = this.bench.track();
    return track ? (60 / track.beats.bpm) * CLIP_FPS : null;
  });
  /** Why the clip cannot be made as long as it is; empty when it can. */
  protected readonly long = computed(() => {
    const seconds = this.bench.frames() / CLIP_FPS;
    return seconds > CLIP_SECONDS.most
      ? `A clip lasts at most ${CLIP_SECONDS.most} s; this one ${seconds.toFixed(1)} s.`
      : seconds < CLIP_SECONDS.least
        ? `A clip lasts at least ${CLIP_SECONDS.least} s. Give it a scene, or a longer one.`
        : '';
  });
  protected readonly canMake = computed(() => this.long() === '');
  private readonly made = toSignal(
    toObservable(computed(() => [this.desk.id(), this.desk.revision(), this.maker.kept()] as const)).pipe(
      switchMap(([id]) => (id ? this.api.clips(id).pipe(catchError(() => of([]))) : of([]))),
    ),
    { initialValue: [] as ClipFile[] },
  );
  protected readonly files = computed(() => this.made().filter(({ clipId }) => clipId === this.bench.clip()?.id));

  protected moodOf({ trackId }: Arrangement): string {
    return this.moodById().get(trackId) ?? '';
  }

  protected readonly seconds = (clip: Clip): string => (framesOf(clip) / CLIP_FPS).toFixed(1);
  protected readonly percent = (share: number): number => Math.round(share * 100);
  protected readonly rounded = (value: number): number => Math.round(value * 100) / 100;
  protected readonly tenths = (value: number): number => Math.round(value * 10) / 10;
  protected readonly size = formatBytes;

  protected nameOf({ scene }: ClipScene): string {
    return this.blanks().find((one) => one.id === scene.blankId)?.name ?? 'a product that is gone';
  }

  protected choose(scene: ClipScene, at: number): void {
    this.bench.select(scene.id);
    const clip = this.bench.clip();
    if (clip) this.bench.frame.set(startsOf(clip)[at]);
  }

  protected drop({ item, currentIndex, previousIndex }: CdkDragDrop<unknown>): void {
    const scene = this.bench.clip()?.scenes[previousIndex];
    if (item && scene && currentIndex !== previousIndex) this.bench.moveScene(scene.id, currentIndex);
  }

  protected shift(event: Event, scene: ClipScene, to: number): void {
    event.preventDefault();
    this.bench.moveScene(scene.id, to);
  }

  protected move(scene: ClipScene, movement: string): void {
    const others = this.colours()
      .map(({ hex }) => hex)
      .filter((hex) => hex !== scene.scene.garment);
    this.bench.changeScene({
      movement: movement as Movement,
      colours: movement === 'colours' ? (scene.colours ?? others.slice(0, 7)) : scene.colours,
    });
  }

  /** A length in seconds; with music its end falls on the nearest beat. */
  protected setSeconds(seconds: number): void {
    this.setFrames(seconds * CLIP_FPS);
  }

  protected setFrames(frames: number): void {
    const [clip, scene, beats] = [this.bench.clip(), this.bench.scene(), this.bench.beats()];
    if (!clip || !scene) return;
    const start = startsOf(clip)[clip.scenes.indexOf(scene)];
    const wanted = Math.max(6, Math.round(frames));
    const end = onBeat(start + wanted, beats);
    // Only a beat that is nearly there pulls: half a second and more away, the number that was typed counts.
    const snapped = beats.length && Math.abs(end - start - wanted) <= 6 && end > start ? end - start : wanted;
    this.bench.changeScene({ frames: Math.min(CLIP_SECONDS.most * CLIP_FPS, snapped) });
  }

  protected setTransition({ transition }: ClipScene, kind: string): void {
    this.bench.changeScene({
      transition:
        kind === 'cut' ? undefined : { kind: kind as TransitionKind, frames: transition?.frames ?? USUAL_TRANSITION },
    });
  }

  protected setTransitionSeconds({ transition }: ClipScene, seconds: number): void {
    if (transition)
      this.bench.changeScene({ transition: { ...transition, frames: Math.max(1, Math.round(seconds * CLIP_FPS)) } });
  }

  protected rename(name: string): void {
    if (name.trim()) this.bench.change({ name: name.trim() });
  }

  protected setTrack(trackId: string): void {
    const before = this.bench.clip()?.music;
    this.bench.change({ music: trackId ? { trackId, start: 0, volume: before?.volume ?? 1 } : undefined });
  }

  protected setWords(change: Partial<ClipWords>, mergeKey: string | null = null): void {
    this.bench.change({ words: { ...START_WORDS, ...this.bench.clip()?.words, ...change } }, mergeKey);
  }

  protected setWhen(when: string): void {
    this.setWords({ when: when as ClipWords['when'] });
  }

  protected settle(): void {
    this.desk.settle();
  }

  protected make(shapes: readonly ClipShape[]): void {
    const clip = this.bench.clip();
    if (clip) void this.maker.make(clip, this.bench.track(), shapes, this.side());
  }
}
