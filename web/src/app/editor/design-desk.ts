import { Injectable, OnDestroy, computed, inject, signal } from '@angular/core';
import type { SavedDesign } from '@kettle/contract';
import { LARGE_DOCUMENT_BYTES, MAX_DOCUMENT_BYTES, type DesignDocument } from '@kettle/core/model';
import { record, redo, resume, settle, startHistory, undo, type Edit, type History } from '@kettle/core/document';
import {
  Subject,
  Subscription,
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
  timer,
  type Observable,
} from 'rxjs';
import { Api } from '../data/api';
import { isAway, problemOf, sentenceOf } from '../data/problems';
import { Drafts } from '../data/drafts';
import { LastSaves, workOn } from '../data/last-saves';
import { UndoLog } from '../data/undo-log';

/** How safe the work is just now. */
export type SaveState = 'saved' | 'unsaved' | 'away' | 'stale' | 'refused';

/** Quiet time after the last change before it is saved. */
const SAVE_AFTER_MS = 400;
const TRY_AGAIN_MS = 1500;
/** Quiet time before the way back is written down. */
const LOG_AFTER_MS = 150;
/**
 * Largest body that a browser lets outlive its page, with room for the rest of the request (Fetch standard, 64 KiB for
 * all of them together).
 */
const MOST_LAST_BYTES = 60_000;

/** The one design that is open: its document, undo and redo, and saving without being asked. Provided by the bench. */
@Injectable()
export class DesignDesk implements OnDestroy {
  private readonly api = inject(Api);
  private readonly log = inject(UndoLog);
  private readonly drafts = inject(Drafts);
  private readonly lastSaves = inject(LastSaves);
  private readonly history = signal<History<DesignDocument> | null>(null);
  private readonly saved = signal<SavedDesign | null>(null);
  private readonly newer = signal<SavedDesign | null>(null);
  private readonly touched = new Subject<void>();
  /** Saves at once. */
  private readonly pressed = new Subject<void>();
  private readonly changed = new Subject<void>();
  /** Tells after each attempt whether all is saved now. */
  private readonly attempts = new Subject<boolean>();
  private closed: () => void = () => undefined;
  /** True while a save is on its way. */
  private sending = false;
  private readonly saving: Subscription;
  private readonly leaving = (): void => this.saveLast();
  private readonly asking = (event: BeforeUnloadEvent): void => this.askToStay(event);

  readonly state = signal<SaveState>('saved');
  /** Size of what is saved, in bytes. */
  private readonly bytes = signal(0);
  /** Said long before a document becomes too large to be saved; empty otherwise. */
  readonly tooLargeSoon = computed(() =>
    this.bytes() < LARGE_DOCUMENT_BYTES
      ? ''
      : `This design takes ${megabytes(this.bytes())} of the ${megabytes(MAX_DOCUMENT_BYTES)} that a design can have. Begin a new design for what comes, or take off lines that are not needed.`,
  );
  /** Why saving was refused, in the server's words. */
  readonly complaint = signal('');
  readonly document = computed(() => this.history()?.present ?? null);
  readonly id = computed(() => this.saved()?.id ?? null);
  readonly revision = computed(() => this.saved()?.revision ?? 0);
  readonly savedAt = computed(() => this.saved()?.savedAt ?? null);
  readonly canUndo = computed(() => (this.history()?.past.length ?? 0) > 0);
  readonly canRedo = computed(() => (this.history()?.future.length ?? 0) > 0);

  constructor() {
    this.saving = merge(this.touched.pipe(debounceTime(SAVE_AFTER_MS)), this.pressed)
      .pipe(concatMap(() => this.save()))
      .subscribe(() => this.attempts.next(!this.isUnsaved()));
    this.saving.add(this.changed.pipe(debounceTime(LOG_AFTER_MS)).subscribe(() => this.keepHistory()));
    window.addEventListener('pagehide', this.leaving);
    window.addEventListener('beforeunload', this.asking);
  }

  /**
   * A bench that closes does not take its last change along: what is on its way is followed to its end, and what is
   * not goes at once.
   */
  ngOnDestroy(): void {
    window.removeEventListener('pagehide', this.leaving);
    window.removeEventListener('beforeunload', this.asking);
    this.keepHistory();
    const id = this.id();
    const done = (): void => {
      this.saving.unsubscribe();
      this.closed();
    };
    if (!id || !this.isUnsaved()) {
      done();
      return;
    }
    const end = this.attempts.pipe(
      filter((all) => all || this.isStuck()),
      first(),
    );
    this.lastSaves.follow(id, end.pipe(finalize(done)));
    this.pressed.next();
  }

  /** The revision that holds everything done so far, once it is saved; an error when it cannot be. */
  whenSaved(): Observable<number> {
    return defer(() => {
      if (!this.isUnsaved() && this.state() === 'saved') return of(this.revision());
      this.pressed.next();
      return this.attempts.pipe(
        filter((all) => all || this.isStuck()),
        first(),
        map((all) => {
          if (!all)
            throw new Error(this.complaint() || 'The last change could not be saved, so nothing was made of it.');
          return this.revision();
        }),
      );
    });
  }

  /** True when trying again alone does not help. */
  private isStuck(): boolean {
    return this.state() === 'stale' || this.state() === 'refused';
  }

  /** Opens a design. Changes that a closed page could not save are taken up again. */
  open(design: SavedDesign): void {
    this.closed();
    workOn(
      design.id,
      new Promise((resolve) => {
        this.closed = resolve;
      }),
    );
    this.saved.set(design);
    this.bytes.set(bytesOf(design.document));
    this.newer.set(null);
    this.history.set(startHistory(design.document));
    this.state.set('saved');
    this.takeDraft(design);
    void this.takeHistory(design);
  }

  /** Takes up the way back that this browser kept, unless something was done in the meantime. */
  private async takeHistory(design: SavedDesign): Promise<void> {
    const before = this.history();
    const kept = await this.log.load(design.id).catch(() => null);
    if (!kept || !before || this.history() !== before || this.saved()?.id !== design.id) return;
    this.history.set(resume(kept, before.present, (a, b) => JSON.stringify(a) === JSON.stringify(b)));
  }

  private takeDraft(design: SavedDesign): void {
    const draft = this.drafts.read(design.id);
    if (!draft) return;
    this.history.update((history) => record(history!, draft.document));
    if (draft.revision === design.revision) {
      this.state.set('unsaved');
      this.touched.next();
      return;
    }
    this.newer.set(design);
    this.state.set('stale');
  }

  /** Makes a change. Changes with the same merge key that follow each other undo as one. */
  edit(edit: Edit, mergeKey: string | null = null): void {
    const history = this.history();
    if (!history) return;
    const next = record(history, edit(history.present), mergeKey);
    if (next !== history) this.become(next);
  }

  /** Ends a drag or a run of key presses. */
  settle(): void {
    this.history.update((history) => history && settle(history));
  }

  undo(): void {
    const history = this.history();
    if (history?.past.length) this.become(undo(history));
  }
  redo(): void {
    const history = this.history();
    if (history?.future.length) this.become(redo(history));
  }

  /** After a clash: the other tab's version becomes the present; one's own stays one undo away. */
  takeNewer(): void {
    const newer = this.newer();
    if (!newer) return;
    this.saved.set(newer);
    this.newer.set(null);
    this.history.update((history) => record(history!, newer.document));
    this.changed.next();
    this.state.set('saved');
    this.drafts.drop(newer.id);
  }

  /** After a clash: one's own version is saved on top; the other one stays among the revisions. */
  keepMine(): void {
    const newer = this.newer();
    if (!newer) return;
    this.saved.set(newer);
    this.newer.set(null);
    this.state.set('unsaved');
    this.touched.next();
  }

  private become(next: History<DesignDocument>): void {
    this.history.set(next);
    const saved = this.saved()!;
    this.changed.next();
    if (next.present === saved.document && this.state() === 'unsaved' && !this.sending) {
      // Undone before it was ever sent: what the server has is what is seen.
      this.drafts.drop(saved.id);
      this.state.set('saved');
      return;
    }
    this.drafts.write(saved.id, { revision: saved.revision, document: next.present });
    if (this.state() !== 'stale') this.state.set('unsaved');
    this.touched.next();
  }

  private isUnsaved(): boolean {
    const [saved, document] = [this.saved(), this.document()];
    return saved !== null && document !== null && document !== saved.document && this.state() !== 'stale';
  }

  private save(): Observable<unknown> {
    return defer(() => {
      const [saved, document] = [this.saved(), this.document()];
      this.sending = true;
      return saved && document && this.isUnsaved()
        ? this.api.ask('put /api/designs/{id}', { id: saved.id, ifMatch: saved.revision, body: document })
        : of(null);
    }).pipe(
      retry({
        delay: (error: unknown) => {
          if (!isAway(error)) return throwError(() => error);
          this.state.set('away');
          this.complaint.set(sentenceOf(error));
          return timer(TRY_AGAIN_MS);
        },
      }),
      concatMap((saved) => {
        if (saved) this.wasSaved(saved);
        return of(null);
      }),
      catchError((error: unknown) => this.clashed(error)),
      finalize(() => {
        this.sending = false;
      }),
    );
  }

  private wasSaved(saved: SavedDesign): void {
    const present = this.document()!;
    this.bytes.set(bytesOf(present));
    // The document in hand is the one that was sent, or a later one: keep its identity, so that only later changes
    // count as unsaved.
    const same = JSON.stringify(present) === JSON.stringify(saved.document);
    this.saved.set({ ...saved, document: same ? present : saved.document });
    if (same) {
      this.state.set('saved');
      this.drafts.drop(saved.id);
    } else {
      this.drafts.write(saved.id, { revision: saved.revision, document: present });
      this.touched.next();
    }
  }

  private clashed(error: unknown): Observable<unknown> {
    this.complaint.set(sentenceOf(error));
    if (problemOf(error)?.code !== 'stale-revision') {
      this.state.set('refused');
      return of(null);
    }
    this.state.set('stale');
    return this.api.ask('get /api/designs/{id}', { id: this.saved()!.id }).pipe(
      concatMap((newer) => {
        this.newer.set(newer);
        return of(null);
      }),
      // eslint-disable-next-line no-restricted-syntax -- that there is a newer one is said; which, once it is chosen
      catchError(() => of(null)),
    );
  }

  private keepHistory(): void {
    const [history, id] = [this.history(), this.id()];
    if (history && id) void this.log.save(id, history);
  }

  /**
   * The page goes: a small document is handed to the browser, which sends it though the page is gone. A large one
   * stays as a draft, and is sent by the next page.
   */
  private saveLast(): void {
    this.keepHistory();
    const [saved, document] = [this.saved(), this.document()];
    if (saved && document && this.isUnsaved() && bytesOf(document) <= MOST_LAST_BYTES)
      this.api
        .askLast('put /api/designs/{id}', { id: saved.id, ifMatch: saved.revision, body: document })
        // eslint-disable-next-line no-restricted-syntax -- the page is gone; the draft stays for the next one
        .subscribe({ next: () => this.drafts.drop(saved.id), error: () => undefined });
  }

  /** A document too large for the browser to send after the page is gone is worth a question. */
  private askToStay(event: BeforeUnloadEvent): void {
    const document = this.document();
    if (!document || !this.isUnsaved() || (this.state() === 'unsaved' && bytesOf(document) <= MOST_LAST_BYTES)) return;
    this.pressed.next();
    event.preventDefault();
  }
}

const megabytes = (bytes: number): string => `${(bytes / 1024 / 1024).toFixed(1)} MB`;
const bytesOf = (document: DesignDocument): number => new Blob([JSON.stringify(document)]).size;
