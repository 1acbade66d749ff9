import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { Box, Point } from '@kettle/core/geometry';
import {
  cropOf,
  NEW_STROKES,
  NO_EDGE,
  NO_TONE,
  USUAL_SOFT_EDGE,
  type PictureLayer,
  type Treatment,
} from '@kettle/core/model';
import type { SeenThrough } from '@kettle/core/treatments';
import { kindOf } from '@kettle/core/layers';
import { treatOnTarget, treatPicture } from '@kettle/core/document';
import { Editor } from '../editor/editor';
import { newId } from '../data/new-id';
import { Notices } from '../data/notices';
import { TreatPainter, type TreatedPicture } from './treat-painter';
import type { ReadyPicture } from './treat-messages';

/** What a press on the picture means. */
export type Hand = 'colour' | 'strokes' | 'dissolve' | 'touch' | 'crop' | null;

/** Tolerance a clicked colour begins with when nothing is known of the picture's noise, levels. */
const USUAL_TOLERANCE = 10;
/** What counts as the ground's colour: as the noise of a picture asks for, where that is known. */
const toleranceOf = (guess: ReadyPicture['guess'] | undefined): number =>
  guess?.kind === 'colour' ? guess.tolerance : USUAL_TOLERANCE;
const MOST_BACK = 200;

const storageKey = (designId: string | null, layerId: string): string => `kettle.cutting.${designId}.${layerId}`;

/**
 * Work on one picture until it is kept or left: its treatments, what they make of it, and the way back. What is not kept
 * yet outlives a reload. Provided by the place where backgrounds are taken out.
 */
@Injectable()
export class Cutting {
  private readonly editor = inject(Editor);
  private readonly painter = inject(TreatPainter);
  private readonly notices = inject(Notices);

  readonly layer = signal<PictureLayer | null>(null);
  readonly ready = signal<ReadyPicture | null>(null);
  readonly failed = signal('');
  readonly treatments = signal<readonly Treatment[]>([]);
  readonly chosenId = signal<string | null>(null);
  /** True when the first guess stands and nothing was changed by hand yet. */
  readonly guessed = signal(false);
  /** A colour is to be clicked for a new step. */
  readonly asking = signal<'colour' | 'dissolve' | null>(null);
  /** What strokes do that are drawn now. */
  readonly keeping = signal(true);
  readonly brush = signal({ size: 0.02, hardness: 0.8 });
  readonly shown = signal<TreatedPicture | null>(null);
  /** What the cut made translucent inside, as far as it is known of what is shown. */
  readonly through = signal<SeenThrough | null>(null);
  /** True while it is marked on the picture. */
  readonly marking = signal(false);
  readonly working = signal(false);
  /** Milliseconds from the last change to its first answer on the screen. */
  readonly took = signal({ milliseconds: 0, worker: 0, answers: 0 });
  private changedAt = 0;
  private answered = false;
  private firstTook = 0;
  private base: readonly Treatment[] = [];
  private readonly back = signal<readonly (readonly Treatment[])[]>([]);
  private readonly forth = signal<readonly (readonly Treatment[])[]>([]);
  /** Changes under one key are one step back. */
  private mergeKey: string | null = null;

  readonly chosen = computed(() => this.treatments().find((one) => one.id === this.chosenId()) ?? null);
  readonly canUndo = computed(() => this.back().length > 0);
  readonly canRedo = computed(() => this.forth().length > 0);
  readonly changed = computed(() => JSON.stringify(this.treatments()) !== JSON.stringify(this.base));
  readonly crop = computed<Box>(() => cropOf(this.treatments()));
  readonly hand = computed<Hand>(() => {
    const [asking, chosen] = [this.asking(), this.chosen()];
    if (asking) return asking;
    if (!chosen || chosen.off) return null;
    return chosen.kind === 'edge' || chosen.kind === 'tone' ? null : chosen.kind;
  });
  /** Printed mm of one px of the picture. */
  readonly mmPerPixel = computed(() => {
    const [layer, ready, current] = [this.layer(), this.ready(), this.editor.current()];
    if (!layer || !ready) return 0;
    return (layer.place.width * (current?.layout.factor ?? 1)) / (ready.wholeWidth * cropOf(layer.treatments).width);
  });

  constructor() {
    this.painter.treated.pipe(takeUntilDestroyed()).subscribe((result) => {
      if (result instanceof Error) {
        this.working.set(false);
        this.notices.complain(result.message);
        return;
      }
      // A quick answer knows nothing of it: what was said stands until a fine one comes.
      if (!result.quick) {
        this.working.set(false);
        this.through.set(result.through);
      }
      if (!this.answered) this.firstTook = Math.round(result.milliseconds);
      this.answered = true;
      this.shown.set(result);
    });
    effect(() => {
      const [layer, ready, treatments] = [this.layer(), this.ready(), this.treatments()];
      if (!layer || !ready) return;
      untracked(() => {
        this.working.set(true);
        this.changedAt = performance.now();
        this.answered = false;
        this.painter.treat(layer.assetId, treatments);
        this.remember(layer);
      });
    });
  }

  open(layer: PictureLayer): void {
    this.layer.set(layer);
    this.base = kindOf(layer).treatmentsOf(layer) ?? [];
    this.treatments.set(this.remembered(layer) ?? this.base);
    this.failed.set('');
    this.shown.set(null);
    this.through.set(null);
    this.marking.set(false);
    this.ready.set(null);
    this.painter.load(layer.assetId).subscribe({
      next: (ready) => {
        this.ready.set(ready);
        // A flat ground is taken out without a click; the seller sees it and corrects.
        if (!this.treatments().length && ready.guess) {
          this.change(() => [{ ...ready.guess!, id: newId('t') }]);
          this.guessed.set(true);
          this.chosenId.set(this.treatments()[0].id);
        }
      },
      error: (error: Error) => this.failed.set(error.message),
    });
  }

  private remember(layer: PictureLayer): void {
    const key = storageKey(this.editor.desk.id(), layer.id);
    try {
      if (this.changed()) sessionStorage.setItem(key, JSON.stringify({ base: this.base, draft: this.treatments() }));
      else sessionStorage.removeItem(key);
    } catch {
      // A full store costs the draft of a reload, nothing else.
    }
  }

  private remembered(layer: PictureLayer): readonly Treatment[] | null {
    try {
      const text = sessionStorage.getItem(storageKey(this.editor.desk.id(), layer.id));
      const kept = text && (JSON.parse(text) as { base: unknown; draft: readonly Treatment[] });
      return kept && JSON.stringify(kept.base) === JSON.stringify(this.base) ? kept.draft : null;
    } catch {
      return null;
    }
  }

  private forget(): void {
    const layer = this.layer();
    if (layer) sessionStorage.removeItem(storageKey(this.editor.desk.id(), layer.id));
  }

  /** Changes the list. Changes under the same key are undone as one. */
  private change(edit: (now: readonly Treatment[]) => readonly Treatment[], mergeKey: string | null = null): void {
    const before = this.treatments();
    const after = edit(before);
    if (after === before) return;
    if (mergeKey === null || mergeKey !== this.mergeKey) this.back.update((all) => [...all, before].slice(-MOST_BACK));
    this.mergeKey = mergeKey;
    this.forth.set([]);
    this.guessed.set(false);
    this.treatments.set(after);
  }

  /** Ends a run of changes that are undone as one. */
  settle(): void {
    this.mergeKey = null;
  }

  undo(): void {
    const before = this.back().at(-1);
    if (!before) return;
    this.forth.update((all) => [...all, this.treatments()]);
    this.back.update((all) => all.slice(0, -1));
    this.treatments.set(before);
    this.settle();
  }

  redo(): void {
    const after = this.forth().at(-1);
    if (!after) return;
    this.back.update((all) => [...all, this.treatments()]);
    this.forth.update((all) => all.slice(0, -1));
    this.treatments.set(after);
    this.settle();
  }

  choose(id: string | null): void {
    this.asking.set(null);
    this.chosenId.set(id);
  }

  /** Changes fields of one step. */
  set<T extends Treatment>(step: T, change: Partial<Omit<T, 'id' | 'kind'>>, mergeKey: string | null = null): void {
    this.change((all) => all.map((one) => (one.id === step.id ? { ...one, ...change } : one)), mergeKey);
  }

  /** Keeps the inside of the art whole: no colour that is taken out goes deeper than a clean edge. */
  keepWhole(): void {
    this.change((all) => all.map((one) => (one.kind === 'colour' ? { ...one, soft: 0 } : one)));
  }

  toggle(step: Treatment): void {
    this.change((all) =>
      all.map((one) => {
        if (one.id !== step.id) return one;
        const { off, ...rest } = one;
        return (off ? rest : { ...rest, off: true }) as Treatment;
      }),
    );
  }

  remove(id: string): void {
    this.change((all) => all.filter((one) => one.id !== id));
    if (this.chosenId() === id) this.choose(null);
  }

  /** Moves a step one place towards the beginning or the end. */
  move(id: string, by: -1 | 1): void {
    this.change((all) => {
      const at = all.findIndex((one) => one.id === id);
      const to = at + by;
      if (at < 0 || to < 0 || to >= all.length) return all;
      const list = [...all];
      [list[at], list[to]] = [list[to], list[at]];
      return list;
    });
  }

  /** Begins a step, or goes on with the one of its kind that stands last. */
  begin(kind: Treatment['kind']): void {
    this.asking.set(null);
    if (kind === 'colour' || kind === 'dissolve') {
      this.chosenId.set(null);
      this.asking.set(kind);
      return;
    }
    const there = this.treatments().findLast((one) => one.kind === kind && !one.off);
    if (there) {
      this.chosenId.set(there.id);
      return;
    }
    this.add(
      kind === 'edge'
        ? NO_EDGE
        : kind === 'tone'
          ? NO_TONE
          : kind === 'crop'
            ? { kind, box: { x: 0, y: 0, width: 1, height: 1 } }
            : kind === 'strokes'
              ? NEW_STROKES
              : { kind: 'touch', strokes: [] },
    );
  }

  private add(step: Treatment extends infer T ? (T extends Treatment ? Omit<T, 'id'> : never) : never): void {
    const id = newId('t');
    this.change((all) => [...all, { ...step, id } as Treatment]);
    this.chosenId.set(id);
    this.asking.set(null);
  }

  /** A colour was clicked, or chosen from those that the picture has. */
  pick(hex: string, at: Point | null): void {
    const [asking, chosen] = [this.asking(), this.chosen()];
    if (asking === 'dissolve') this.add({ kind: 'dissolve', hex, clean: 0 });
    else if (asking === 'colour')
      this.add({
        kind: 'colour',
        hex,
        tolerance: toleranceOf(this.ready()?.guess),
        soft: USUAL_SOFT_EDGE,
        ...(at ? { from: 'point', at } : { from: 'border' }),
      });
    else if (chosen?.kind === 'dissolve') this.set(chosen, { hex });
    else if (chosen?.kind === 'colour') this.set(chosen, at && chosen.from === 'point' ? { hex, at } : { hex });
  }

  /** Another part is shown: what a hand drags over is one step back. */
  cropTo(box: Box): void {
    const chosen = this.chosen();
    if (chosen?.kind === 'crop') this.set(chosen, { box: rounded(box) }, 'crop');
  }

  /** A stroke was drawn; points are shares of the picture. */
  stroke(points: readonly number[]): void {
    const chosen = this.chosen();
    const { size, hardness } = this.brush();
    if (chosen?.kind === 'strokes')
      this.set(chosen, { strokes: [...chosen.strokes, { keep: this.keeping(), points, size }] });
    else if (chosen?.kind === 'touch')
      this.set(chosen, { strokes: [...chosen.strokes, { back: this.keeping(), points, size, hardness }] });
  }

  /** The picture on the screen is another one. */
  painted(): void {
    if (this.changedAt && this.answered) {
      const milliseconds = Math.round(performance.now() - this.changedAt);
      this.took.update(({ answers }) => ({ milliseconds, worker: this.firstTook, answers: answers + 1 }));
      this.changedAt = 0;
    }
  }

  /** Keeps what was done: on every target, or on the chosen one where changes reach no other. One step back. */
  keep(): void {
    const layer = this.layer();
    const current = this.editor.current();
    if (layer && this.changed()) {
      const list = this.treatments();
      this.editor.edit(
        this.editor.alone() && current
          ? treatOnTarget(current.requirement.id, layer.id, list, current.cloth)
          : treatPicture(layer.id, list),
      );
      this.editor.desk.settle();
    }
    this.leave();
  }

  /** Leaves the picture as it was. */
  leave(): void {
    this.forget();
    this.layer.set(null);
    this.editor.place.set(null);
  }
}

/** Six decimals are far below a pixel and keep noise out of names. */
const rounded = (box: Box): Box => {
  const round = (value: number): number => Math.round(value * 1e6) / 1e6;
  return { x: round(box.x), y: round(box.y), width: round(box.width), height: round(box.height) };
};
