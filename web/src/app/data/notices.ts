import { Injectable, inject } from '@angular/core';
import { MatSnackBar } from '@angular/material/snack-bar';
import { sentenceOf } from './api';

/** Short words at the foot of the page, with one thing that can be done. */
@Injectable({ providedIn: 'root' })
export class Notices {
  private readonly bar = inject(MatSnackBar);

  say(sentence: string, action?: { label: string; run: () => void }): void {
    const shown = this.bar.open(sentence, action?.label ?? 'Close', { duration: action ? 9000 : 5000 });
    if (action) shown.onAction().subscribe(action.run);
  }

  /** Errors stay until they are read. */
  complain(error: unknown): void {
    this.bar.open(typeof error === 'string' ? error : sentenceOf(error), 'Close', { politeness: 'assertive' });
  }
}
