import { Injectable, signal, type WritableSignal } from '@angular/core';

const KEY = 'kettle.unsent';
/** Forms that are remembered; the one that was typed in longest ago goes first. */
const MOST_FORMS = 60;
/** What is never written down. */
const SECRET = 'passPhrase';

type Forms = Readonly<Record<string, unknown>>;

/**
 * What is typed in forms and not sent yet, kept in this browser: it is still there when one comes back from another
 * station, or from a page that was closed.
 */
@Injectable({ providedIn: 'root' })
export class Unsent {
  private readonly open = new Map<string, WritableSignal<unknown>>();

  /** @param form names the form and what it is about */
  of<T>(form: string, start: T): WritableSignal<T> {
    let typed = this.open.get(form) as WritableSignal<T> | undefined;
    if (!typed) {
      typed = this.kept(form, signal((read()[form] as T | undefined) ?? start), start);
      this.open.set(form, typed as WritableSignal<unknown>);
    }
    return typed;
  }

  /** A signal that is written down whenever it is set. */
  private kept<T>(form: string, typed: WritableSignal<T>, start: T): WritableSignal<T> {
    const set = typed.set.bind(typed);
    typed.set = (value) => {
      set(value);
      write(form, JSON.stringify(value) === JSON.stringify(start) ? undefined : value);
    };
    typed.update = (change) => typed.set(change(typed()));
    return typed;
  }
}

function read(): Forms {
  try {
    return (JSON.parse(localStorage.getItem(KEY) ?? '{}') as Forms | null) ?? {};
  } catch {
    return {};
  }
}

function write(form: string, value: unknown): void {
  // Others may have written since.
  const { [form]: _before, ...others } = read();
  const forms = Object.entries(value === undefined ? others : { ...others, [form]: value }).slice(-MOST_FORMS);
  try {
    localStorage.setItem(
      KEY,
      JSON.stringify(Object.fromEntries(forms), (key, one: unknown) => (key === SECRET ? undefined : one)),
    );
  } catch {
    // No room: it is there as long as the page is.
  }
}
