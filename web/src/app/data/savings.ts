import { Injectable, inject } from '@angular/core';
import { ReplaySubject, defaultIfEmpty, firstValueFrom, from, of, type Observable } from 'rxjs';
import { Api } from './api';
import { Drafts } from './drafts';
import { Notices } from './notices';
import { kindOfDraft, type SavedKind } from './saved-kinds';
import { SavedThing } from './saved-thing';
import { Waits } from './waits';

/** Opens what is saved by itself, and knows of saves that outlive the page that began them. */
@Injectable({ providedIn: 'root' })
export class Savings {
  private readonly api = inject(Api);
  private readonly drafts = inject(Drafts);
  private readonly waits = inject(Waits);
  private readonly notices = inject(Notices);
  private readonly pending = new Map<string, Promise<void>>();
  private left: Promise<void> | null = null;

  open<A, V>(kind: SavedKind<A, V>, id: string, answer: A): SavedThing<A, V> {
    const { api, drafts, waits, notices } = this;
    return new SavedThing(kind, id, answer, { api, drafts, waits, notices, savings: this });
  }

  /** Takes a save over from a thing that closes. */
  follow(key: string, saved: Observable<unknown>): void {
    const end = new ReplaySubject<void>(1);
    const wait = firstValueFrom(end.pipe(defaultIfEmpty(undefined)));
    const own = Promise.all([this.pending.get(key), wait])
      .then(
        () => undefined,
        () => undefined,
      )
      .finally(() => {
        if (this.pending.get(key) === own) this.pending.delete(key);
      });
    this.pending.set(key, own);
    saved.subscribe({ complete: () => end.complete(), error: () => end.complete() });
  }

  /** Emits once nothing of this thing, or of any, is on its way. */
  settled(key?: string): Observable<void> {
    const waits = [this.left, ...(key === undefined ? this.pending.values() : [this.pending.get(key)])].filter(
      (one): one is Promise<void> => Boolean(one),
    );
    return waits.length ? from(Promise.all(waits).then(() => undefined)) : of(undefined);
  }

  /**
   * Sends what a closed page could not: drafts that no open page, in this tab or another, still works on. One that the
   * server has overtaken is kept; what to do with it is asked when it is opened.
   */
  sendLeft(): void {
    if (this.drafts.all().length)
      this.left = this.sendAllLeft()
        .catch(() => undefined)
        .finally(() => {
          this.left = null;
        });
  }

  private async sendAllLeft(): Promise<void> {
    for (const { key, draft } of this.drafts.all()) {
      const { kind, id } = kindOfDraft(key);
      await ifNobodyWorksOn(key, async () => {
        try {
          await firstValueFrom(kind.put(this.api.ask.bind(this.api), id, draft.revision, draft.document));
          this.drafts.drop(key);
        } catch (error) {
          // Away, or overtaken: it stays where it is. What was taken off for good has no use for it.
          if (kind.isGoneForGood && (error as { status?: number }).status === 404) this.drafts.drop(key);
        }
      });
    }
  }

  /** Says to all tabs that a thing is being worked on, until `closed` resolves. */
  workOn(key: string, closed: Promise<void>): void {
    void navigator.locks?.request(lockName(key), { mode: 'shared' }, () => closed);
  }
}

const lockName = (key: string): string => `kettle.saving.${key}`;

async function ifNobodyWorksOn(key: string, act: () => Promise<void>): Promise<void> {
  if (!navigator.locks) return;
  await navigator.locks.request(lockName(key), { ifAvailable: true }, async (lock) => {
    if (lock) await act();
  });
}
