import { signal, type WritableSignal } from '@angular/core';
import { canonicalJson } from '@kettle/core/model';
import {
  Subject,
  catchError,
  concatMap,
  debounceTime,
  defer,
  filter,
  finalize,
  first,
  map,
  merge,
  of,
  retry,
  throwError,
  type Observable,
  type Subscription,
} from 'rxjs';
import type { Api } from './api';
import type { Drafts } from './drafts';
import type { Notices } from './notices';
import { NotSavedError, isAway, problemOf, sentenceOf } from './problems';
import type { SavedKind } from './saved-kinds';
import type { Waits } from './waits';

/** How safe the work is just now. */
export type SaveState = 'saved' | 'unsaved' | 'away' | 'stale' | 'refused';

/** Quiet time after the last change before it is saved, ms. */
const SAVE_AFTER_MS = 400;
/** Failures after which the wait between two tries does not grow any more: work that is not safe is soon tried again. */
const MOST_FAILURES = 2;
/**
 * Largest body that a browser lets outlive its page, with room for the rest of the request (Fetch standard, 64 KiB for
 * all of them together).
 */
const MOST_LAST_BYTES = 60_000;

/** What a saved thing works with. */
export interface SavingDeps {
  readonly api: Api;
  readonly drafts: Drafts;
  readonly waits: Waits;
  readonly notices: Notices;
  readonly savings: {
    /** Says to all tabs that it is being worked on, until `closed` resolves. */
    workOn(key: string, closed: Promise<void>): void;
    /** Takes over a save that outlives the page which began it. */
    follow(key: string, saved: Observable<unknown>): void;
  };
}

/**
 * One thing that is saved by itself: each change is a draft in this browser at once, is sent when changes rest, again
 * and again while the server is away, and by the next page where this one is gone. When somebody else changed it
 * meanwhile, the seller says which one stays.
 */
export class SavedThing<A, V> {
  /** As the server has it. */
  readonly answer: WritableSignal<A>;
  /** As it is changed here. */
  readonly value: WritableSignal<V>;
  readonly state = signal<SaveState>('saved');
  /** Why it is not saved. */
  readonly complaint = signal('');
  /** What the server has of it: the very value that was sent, so that only later ones count as unsaved. */
  readonly kept: WritableSignal<V>;
  readonly revision: WritableSignal<number>;
  private readonly key: string;
  private newer: A | null = null;
  private readonly touched = new Subject<void>();
  /** Saves at once. */
  private readonly pressed = new Subject<void>();
  /** Tells after each attempt whether all is saved now. */
  private readonly attempts = new Subject<boolean>();
  /** True while a save is on its way. */
  private sending = false;
  private isClosed = false;
  /** False when this browser had no room for the draft. */
  private hasDraft = true;
  private readonly saving: Subscription;
  private release: () => void = () => undefined;
  private readonly leaving = (): void => this.saveLast();
  readonly asking = (event: BeforeUnloadEvent): void => this.askToStay(event);

  /** Opens it. What a closed page could not save is taken up again. */
  constructor(
    private readonly kind: SavedKind<A, V>,
    readonly id: string,
    answer: A,
    private readonly deps: SavingDeps,
  ) {
    const { revision, value } = kind.read(answer);
    this.key = kind.prefix + id;
    this.answer = signal(answer);
    this.value = signal(value);
    this.kept = signal(value);
    this.revision = signal(revision);
    deps.savings.workOn(this.key, new Promise((resolve) => (this.release = resolve)));
    this.saving = merge(this.touched.pipe(debounceTime(SAVE_AFTER_MS)), this.pressed)
      .pipe(concatMap(() => this.save()))
      .subscribe(() => this.attempts.next(this.isSaved()));
    window.addEventListener('pagehide', this.leaving);
    window.addEventListener('beforeunload', this.asking);
    this.takeDraft();
  }

  private takeDraft(): void {
    const draft = this.deps.drafts.read(this.key);
    if (!draft) return;
    if (canonicalJson(draft.document) === canonicalJson(this.value())) {
      // It was sent, and only the answer was not heard.
      this.deps.drafts.drop(this.key);
      return;
    }
    this.value.set(draft.document as V);
    if (draft.revision === this.revision()) {
      this.state.set('unsaved');
      this.touched.next();
      return;
    }
    this.newer = this.answer();
    this.state.set('stale');
  }

  /** What the server says of it now. What is being changed here is not written over, nor is it by an older answer. */
  look(answer: A): void {
    const { revision, value } = this.kind.read(answer);
    if (revision < this.revision()) return;
    this.answer.set(answer);
    if (this.state() !== 'saved') return;
    this.revision.set(revision);
    this.kept.set(value);
    this.value.set(value);
  }

  change(value: V): void {
    if (value === this.value()) return;
    this.value.set(value);
    if (value === this.kept() && this.state() === 'unsaved' && !this.sending) {
      // Undone before it was ever sent: what the server has is what is seen.
      this.becomeSaved();
      return;
    }
    this.keepDraft();
    if (this.state() !== 'stale') this.state.set('unsaved');
    this.touched.next();
  }

  /** The revision that holds everything done so far, once it is saved; an error when it cannot be. */
  whenSaved(): Observable<number> {
    return defer(() => {
      if (this.isSaved()) return of(this.revision());
      const why = (): Error =>
        new NotSavedError(this.complaint() || 'The last change could not be saved, so nothing was made of it.');
      if (this.state() === 'stale') return throwError(why);
      this.pressed.next();
      return this.ends().pipe(
        map((all) => {
          if (!all) throw why();
          return this.revision();
        }),
      );
    });
  }

  /** After a clash: the newer one becomes what is seen, and is handed to `then`. */
  takeNewer(then: (value: V) => void = () => undefined): void {
    this.withNewer((newer) => {
      this.adopt(newer);
      const { value } = this.kind.read(newer);
      this.kept.set(value);
      this.value.set(value);
      this.becomeSaved();
      then(value);
    });
  }

  /** After a clash: one’s own is saved on top of the newer one. */
  keepMine(): void {
    this.withNewer((newer) => {
      this.adopt(newer);
      this.state.set('unsaved');
      this.keepDraft();
      this.touched.next();
    });
  }

  /**
   * Leaves it. Its last change is not taken along: what is on its way is followed to its end, and what is not goes at
   * once.
   */
  close(): void {
    if (this.isClosed) return;
    this.isClosed = true;
    window.removeEventListener('pagehide', this.leaving);
    window.removeEventListener('beforeunload', this.asking);
    const done = (): void => {
      this.saving.unsubscribe();
      this.release();
    };
    if (!this.isUnsaved()) {
      done();
      return;
    }
    this.deps.savings.follow(this.key, this.ends().pipe(finalize(done)));
    this.pressed.next();
  }

  /** The end of trying: true when all is saved, false where trying again alone does not help. */
  private ends(): Observable<boolean> {
    return this.attempts.pipe(
      filter((all) => all || this.state() === 'stale' || this.state() === 'refused'),
      first(),
    );
  }

  private isSaved(): boolean {
    return this.state() === 'saved';
  }

  private isUnsaved(): boolean {
    return this.state() !== 'saved' && this.state() !== 'stale';
  }

  private becomeSaved(): void {
    this.state.set('saved');
    this.deps.drafts.drop(this.key);
  }

  private keepDraft(): void {
    this.hasDraft = this.deps.drafts.write(this.key, { revision: this.revision(), document: this.value() });
  }

  private adopt(answer: A): void {
    this.answer.set(answer);
    this.revision.set(this.kind.read(answer).revision);
    this.newer = null;
    this.complaint.set('');
  }

  private withNewer(then: (newer: A) => void): void {
    (this.newer ? of(this.newer) : this.kind.get(this.deps.api, this.id)).subscribe({
      next: (newer) => {
        if (newer) then(newer);
      },
      error: (error: unknown) => this.deps.notices.complain(error),
    });
  }

  private save(): Observable<unknown> {
    let sent = this.value();
    return defer(() => {
      if (!this.isUnsaved()) return of(null);
      if (this.value() === this.kept()) {
        this.becomeSaved();
        return of(null);
      }
      this.sending = true;
      sent = this.value();
      const { api } = this.deps;
      return this.kind.put(api.ask.bind(api), this.id, this.revision(), sent);
    }).pipe(
      retry({
        delay: (error: unknown, times) => {
          if (!isAway(error)) return throwError(() => error);
          this.state.set('away');
          this.complaint.set(sentenceOf(error));
          return this.deps.waits.next(Math.min(times - 1, MOST_FAILURES));
        },
      }),
      concatMap((answer) => {
        if (answer) this.wasSaved(answer, sent);
        return of(null);
      }),
      catchError((error: unknown) => this.wasNotSaved(error, sent)),
      finalize(() => {
        this.sending = false;
      }),
    );
  }

  private wasSaved(answer: A, sent: V): void {
    this.adopt(answer);
    this.kept.set(sent);
    if (this.value() === sent) {
      this.becomeSaved();
      return;
    }
    this.state.set('unsaved');
    this.keepDraft();
    this.touched.next();
  }

  private wasNotSaved(error: unknown, sent: V): Observable<unknown> {
    const isStale = problemOf(error)?.code === 'stale-revision';
    this.complaint.set(sentenceOf(error));
    if (!isStale) {
      this.state.set('refused');
      return of(null);
    }
    this.state.set('stale');
    return this.kind.get(this.deps.api, this.id).pipe(
      map((newer) => {
        if (!newer) return;
        // What the server has may be what was sent before, whose answer was lost on its way.
        if (canonicalJson(this.kind.read(newer).value) === canonicalJson(sent)) this.wasSaved(newer, sent);
        else this.newer = newer;
      }),
      // eslint-disable-next-line no-restricted-syntax -- that there is a newer one is said; it is asked for again when it is chosen
      catchError(() => of(null)),
    );
  }

  /**
   * The page goes: what is small is handed to the browser, which sends it though the page is gone. What is large stays
   * as a draft, and is sent by the next page.
   */
  private saveLast(): void {
    const { api, drafts } = this.deps;
    if (this.isUnsaved() && this.isSmall())
      this.kind
        .put(api.askLast.bind(api), this.id, this.revision(), this.value())
        // eslint-disable-next-line no-restricted-syntax -- the page is gone; the draft stays for the next one
        .subscribe({ next: () => drafts.drop(this.key), error: () => undefined });
  }

  /** What the browser cannot send after the page is gone, or has no draft of, is worth a question. */
  private askToStay(event: BeforeUnloadEvent): void {
    if (!this.isUnsaved() || (this.state() === 'unsaved' && this.hasDraft && this.isSmall())) return;
    this.pressed.next();
    event.preventDefault();
  }

  private isSmall(): boolean {
    return new Blob([JSON.stringify(this.value())]).size <= MOST_LAST_BYTES;
  }
}
