import { Injectable, inject } from '@angular/core';
import { ReplaySubject, defaultIfEmpty, firstValueFrom, from, of, type Observable } from 'rxjs';
import { Api } from './api';
import { Drafts } from './drafts';

/** Saves that outlive the bench that began them. Whoever needs a design as it was left waits for its last one. */
@Injectable({ providedIn: 'root' })
export class LastSaves {
  private readonly api = inject(Api);
  private readonly drafts = inject(Drafts);
  private readonly pending = new Map<string, Promise<void>>();
  private left: Promise<void> | null = null;

  /** Takes a save over from a bench that closes. */
  follow(designId: string, saved: Observable<unknown>): void {
    const end = new ReplaySubject<void>(1);
    const wait = firstValueFrom(end.pipe(defaultIfEmpty(undefined)));
    const own = Promise.all([this.pending.get(designId), wait])
      .then(
        () => undefined,
        () => undefined,
      )
      .finally(() => {
        if (this.pending.get(designId) === own) this.pending.delete(designId);
      });
    this.pending.set(designId, own);
    saved.subscribe({ complete: () => end.complete(), error: () => end.complete() });
  }

  /** Emits once nothing of this design, or of any, is on its way. */
  settled(designId?: string): Observable<void> {
    const waits = [
      this.left,
      ...(designId === undefined ? this.pending.values() : [this.pending.get(designId)]),
    ].filter((one): one is Promise<void> => Boolean(one));
    return waits.length ? from(Promise.all(waits).then(() => undefined)) : of(undefined);
  }

  /**
   * Sends what a closed page could not: drafts that no open bench, in this tab or another, still works on. One that
   * the server has overtaken is kept; the
   * bench asks what to do with it when the design is opened.
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
    for (const { designId, draft } of this.drafts.all()) {
      await ifNobodyWorksOn(designId, async () => {
        try {
          await firstValueFrom(
            this.api.ask('put /api/designs/{id}', { id: designId, ifMatch: draft.revision, body: draft.document }),
          );
          this.drafts.drop(designId);
        } catch {
          // Away, or overtaken: it stays where it is.
        }
      });
    }
  }
}

const lockName = (designId: string): string => `kettle.design.${designId}`;

/** Says to all tabs that a design is being worked on, until `closed` resolves. */
export function workOn(designId: string, closed: Promise<void>): void {
  void navigator.locks?.request(lockName(designId), { mode: 'shared' }, () => closed);
}

async function ifNobodyWorksOn(designId: string, act: () => Promise<void>): Promise<void> {
  if (!navigator.locks) return;
  await navigator.locks.request(lockName(designId), { ifAvailable: true }, async (lock) => {
    if (lock) await act();
  });
}
