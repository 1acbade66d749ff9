import { DestroyRef, computed, inject, signal, type Signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { filter, pairwise, throwError, type Observable } from 'rxjs';
import { NotSavedError } from './problems';
import type { SavedKind } from './saved-kinds';
import type { SavedThing, SaveState } from './saved-thing';
import { Savings } from './savings';

/**
 * What is open of a kind that is saved by itself, one at a time. Made where things are injected; what is left is saved
 * to its end.
 * @example private readonly saving = new Saving(LISTING);
 */
export class Saving<A, V> {
  private readonly savings = inject(Savings);
  readonly thing = signal<SavedThing<A, V> | null>(null);
  readonly id = computed(() => this.thing()?.id ?? null);
  readonly answer = computed(() => this.thing()?.answer() ?? null);
  readonly value = computed(() => this.thing()?.value() ?? null);
  readonly revision = computed(() => this.thing()?.revision() ?? 0);
  readonly state = computed<SaveState>(() => this.thing()?.state() ?? 'saved');
  readonly complaint = computed(() => this.thing()?.complaint() ?? '');

  constructor(private readonly kind: SavedKind<A, V>) {
    inject(DestroyRef).onDestroy(() => this.close());
  }

  open(id: string, answer: A): void {
    this.close();
    this.thing.set(this.savings.open(this.kind, id, answer));
  }

  /** What the server says of a thing: it is opened, or looked at again. */
  look(id: string, answer: A): void {
    if (this.id() === id) this.thing()!.look(answer);
    else this.open(id, answer);
  }

  change(change: (value: V) => V): void {
    const thing = this.thing();
    thing?.change(change(thing.value()));
  }

  become(value: V): void {
    this.thing()?.change(value);
  }

  whenSaved(): Observable<number> {
    return this.thing()?.whenSaved() ?? throwError(() => new NotSavedError('Nothing is open that could be saved.'));
  }

  takeNewer(then?: (value: V) => void): void {
    this.thing()?.takeNewer(then);
  }

  keepMine(): void {
    this.thing()?.keepMine();
  }

  close(): void {
    this.thing()?.close();
  }
}

/** A thing as the server has it with what is changed of it here, where it is the one that is open. */
export function asChanged<T extends V & { readonly id: string }, V extends object>(
  one: T | null,
  saving: { id(): string | null; value(): V | null },
): T | null {
  return one && saving.id() === one.id ? { ...one, ...saving.value() } : one;
}

/** Each time that what is open is saved: what hangs on it is asked for again. Made where things are injected. */
export const savesOf = (saving: {
  readonly id: Signal<string | null>;
  readonly revision: Signal<number | null>;
}): Observable<unknown> =>
  toObservable(computed(() => ({ id: saving.id(), revision: saving.revision() }))).pipe(
    pairwise(),
    filter(([before, now]) => now.id !== null && before.id === now.id),
  );
