import { Injectable, signal } from '@angular/core';
import type { Problem } from '@kettle/contract';
import { sentenceOf } from '../data/problems';
import { Notices, type KeptProblem } from '../data/notices';

/** Stands for the words at the foot of the page, and keeps what was said there. */
@Injectable()
export class Heard implements Pick<Notices, 'say' | 'complain' | 'warn' | 'problems'> {
  /** None is kept: the head of the page shows nothing of them. */
  readonly problems = signal<readonly KeptProblem[]>([]).asReadonly();
  readonly sentences: string[] = [];
  private offered: (() => void) | null = null;

  get last(): string {
    return this.sentences.at(-1) ?? '';
  }

  say(sentence: string, action?: { label: string; run: () => void }): void {
    this.sentences.push(sentence);
    this.offered = action?.run ?? null;
  }

  warn(sentence: string): void {
    this.say(sentence);
  }

  complain(error: unknown): void {
    this.say(typeof error === 'string' ? error : sentenceOf(error));
  }

  /** Presses what was offered with the last sentence. */
  takeUp(): void {
    if (!this.offered) throw new Error(`Nothing was offered with “${this.last}”`);
    this.offered();
  }
}

export const HEARD = [Heard, { provide: Notices, useExisting: Heard }];

/** What the server answers when it does not do what it is asked. @param detail its sentence */
export const refusal = (
  detail: string,
  status = 422,
): [Problem, { readonly status: number; readonly statusText: string }] => [
  { type: 'about:blank', title: 'Refused', status, detail, code: 'refused' } as Problem,
  { status, statusText: 'Refused' },
];
