import { Injectable, signal, type WritableSignal } from '@angular/core';

/** What is typed in forms and not sent yet: it is still there when one comes back from another station. */
@Injectable({ providedIn: 'root' })
export class Unsent {
  private readonly kept = new Map<string, WritableSignal<unknown>>();

  /** @param form names the form and what it is about */
  of<T>(form: string, start: T): WritableSignal<T> {
    const found = this.kept.get(form) ?? signal<unknown>(start);
    this.kept.set(form, found);
    return found as WritableSignal<T>;
  }
}
