import { DestroyRef, Injectable, effect, inject, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { FontFamily } from '@kettle/contract';
import type { LetteringSettings } from '@kettle/core/text';
import type { TextLayer } from '@kettle/core/model';
import { changeText, isUnset } from '@kettle/core/document';
import { EMPTY, Subject, catchError, debounceTime, groupBy, mergeMap, switchMap } from 'rxjs';
import { Api } from '../data/api';
import { Notices } from '../data/notices';
import { untilHeard } from '../data/waits';
import { Editor } from './editor';

type Setting = Pick<TextLayer, 'text' | 'fontId' | 'settings'>;

/** What a face could not set: the letters it does not have, and faces that have them. */
export interface Missing {
  readonly id: string;
  readonly letters: readonly string[];
  readonly instead: readonly FontFamily[];
}

/**
 * Sets lettering anew after each change: the server shapes it, and it comes back as outlines. Provided by the bench.
 */
@Injectable()
export class Typesetter {
  private readonly editor = inject(Editor);
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly wanted = new Subject<{ id: string; setting: Setting }>();
  /** What was asked for but not set yet, so that quick changes add up. */
  private readonly pending = signal<Readonly<Record<string, Setting | undefined>>>({});
  readonly missing = signal<Missing | null>(null);

  constructor() {
    // Each lettering by itself: a change of one must not take the other's away.
    this.wanted
      .pipe(
        groupBy(({ id }) => id),
        mergeMap((one) =>
          one.pipe(
            debounceTime(90),
            switchMap(({ id, setting }) =>
              this.api.ask('post /api/lettering', { body: setting }).pipe(
                untilHeard(),
                switchMap((answer) => {
                  this.missing.set(
                    answer.missing.length ? { id, letters: answer.missing, instead: answer.instead } : null,
                  );
                  // What could not be set is kept in mind: another face may have the letters.
                  if (!answer.outlines) return EMPTY;
                  // Only what was asked for last is done with: an older answer must not take back what was typed since.
                  this.pending.update((pending) => {
                    const { [id]: last, ...others } = pending;
                    return last === setting ? others : pending;
                  });
                  const isFirst = this.editor.layers().some((layer) => layer.id === id && isUnset(layer));
                  this.editor.editEverywhere(
                    changeText(id, { ...setting, missing: answer.missing.join('') || undefined }, answer.outlines),
                    this.stepOf(id),
                  );
                  // New lettering and its letters are one step; what is written over it is another.
                  if (isFirst) this.editor.desk.settle();
                  return EMPTY;
                }),
                catchError((error: unknown) => {
                  this.notices.complain(error);
                  return EMPTY;
                }),
              ),
            ),
          ),
        ),
        takeUntilDestroyed(inject(DestroyRef)),
      )
      .subscribe();
    // New lettering, and what a page left unset that was closed before the server answered.
    effect(() => {
      const unset = this.editor.layers().filter(isUnset);
      untracked(() => {
        for (const layer of unset) if (!this.pending()[layer.id]) this.set(layer, {});
      });
    });
  }

  /** What a run of changes of one lettering is one step back with. */
  readonly stepOf = (id: string): string => `text ${id}`;

  /** Words, face and setting as they will be once everything asked for is set. */
  settingOf(layer: TextLayer): Setting {
    return this.pending()[layer.id] ?? { text: layer.text, fontId: layer.fontId, settings: layer.settings };
  }

  set(layer: TextLayer, change: Partial<Omit<Setting, 'settings'>> & { settings?: Partial<LetteringSettings> }): void {
    // The layer as it is now: it may have been changed since it was last shown.
    const now = this.editor.layers().find((one) => one.id === layer.id);
    const before = this.settingOf(now?.kind === 'text' ? now : layer);
    const setting = { ...before, ...change, settings: { ...before.settings, ...change.settings } };
    this.pending.update((pending) => ({ ...pending, [layer.id]: setting }));
    this.wanted.next({ id: layer.id, setting });
  }
}
