import { Injectable, inject, signal } from '@angular/core';
import { MatSnackBar } from '@angular/material/snack-bar';
import { sentenceOf } from './problems';

/** How long words stand at the foot of the page, ms: those that only tell, those with something to do, errors. */
const [TELL_MS, DO_MS, ERROR_MS] = [5000, 9000, 12_000];
/** Most errors that are kept until they are dismissed. */
const MOST_KEPT = 20;

/** An error as it was told. */
export interface KeptProblem {
  readonly id: number;
  readonly sentence: string;
  /** ISO time. */
  readonly at: string;
}

/** Short words at the foot of the page, with one thing that can be done. They go by themselves. */
@Injectable({ providedIn: 'root' })
export class Notices {
  private readonly bar = inject(MatSnackBar);
  private readonly kept = signal<readonly KeptProblem[]>([]);
  private told = 0;
  /** Errors that were told and not dismissed, newest first. */
  readonly problems = this.kept.asReadonly();

  say(sentence: string, action?: { label: string; run: () => void }): void {
    const shown = this.bar.open(sentence, action?.label ?? 'Close', { duration: action ? DO_MS : TELL_MS });
    if (action) shown.onAction().subscribe(action.run);
  }

  /** An error: the bar goes by itself, the sentence stays in the head of the page until it is dismissed. */
  complain(error: unknown): void {
    const sentence = typeof error === 'string' ? error : sentenceOf(error);
    const one: KeptProblem = { id: ++this.told, sentence, at: new Date().toISOString() };
    // Told twice it is one error that still stands.
    this.kept.update((all) => [one, ...all.filter((other) => other.sentence !== sentence)].slice(0, MOST_KEPT));
    this.bar
      .open(sentence, 'Close', { politeness: 'assertive', duration: ERROR_MS })
      .onAction()
      .subscribe(() => this.dismiss(one));
  }

  /** An error that stands where it belongs already, so that it is only told here. */
  warn(sentence: string): void {
    this.bar.open(sentence, 'Close', { politeness: 'assertive', duration: ERROR_MS });
  }

  dismiss({ id }: KeptProblem): void {
    this.kept.update((all) => all.filter((one) => one.id !== id));
  }

  dismissAll(): void {
    this.kept.set([]);
  }
}
