import { Injectable, OnDestroy, computed, inject, signal } from '@angular/core';
import type { SavedDesign } from '@kettle/contract';
import { record, redo, resume, settle, startHistory, undo, type DesignDocument, type Edit, type History } from '@kettle/core';
import { Subject, Subscription, catchError, concatMap, debounceTime, defer, finalize, of, retry, throwError, timer, type Observable } from 'rxjs';
import { Api, isAway, problemOf, sentenceOf } from '../data/api';
import { UndoLog } from '../data/undo-log';

/** How safe the work is just now. */
export type SaveState = 'saved' | 'unsaved' | 'away' | 'stale' | 'refused';

interface Draft { readonly revision: number; readonly document: DesignDocument }

/** Quiet time after the last change before it is saved. */
const SAVE_AFTER_MS = 400;
const TRY_AGAIN_MS = 1500;
/** Quiet time before the way back is written down. */
const LOG_AFTER_MS = 150;

/** The one design that is open: its document, undo and redo, and saving without being asked. Provided by the bench. */
@Injectable()
export class DesignDesk implements OnDestroy {
  private readonly api = inject(Api);
  private readonly log = inject(UndoLog);
  private readonly history = signal<History<DesignDocument> | null>(null);
  private readonly saved = signal<SavedDesign | null>(null);
  private readonly newer = signal<SavedDesign | null>(null);
  private readonly touched = new Subject<void>();
  private readonly changed = new Subject<void>();
  /** True while a save is on its way. */
  private sending = false;
  private readonly saving: Subscription;
  private readonly leaving = (): void => this.saveLast();

  readonly state = signal<SaveState>('saved');
  /** Why saving was refused, in the server's words. */
  readonly complaint = signal('');
  readonly document = computed(() => this.history()?.present ?? null);
  readonly id = computed(() => this.saved()?.id ?? null);
  readonly revision = computed(() => this.saved()?.revision ?? 0);
  readonly savedAt = computed(() => this.saved()?.savedAt ?? null);
  readonly canUndo = computed(() => (this.history()?.past.length ?? 0) > 0);
  readonly canRedo = computed(() => (this.history()?.future.length ?? 0) > 0);

  constructor() {
    this.saving = this.touched.pipe(debounceTime(SAVE_AFTER_MS), concatMap(() => this.save())).subscribe();
    this.saving.add(this.changed.pipe(debounceTime(LOG_AFTER_MS)).subscribe(() => this.keepHistory()));
    window.addEventListener('pagehide', this.leaving);
  }

  ngOnDestroy(): void {
    window.removeEventListener('pagehide', this.leaving);
    this.saving.unsubscribe();
    if (this.isUnsaved()) this.saveLast();
  }

  /** Opens a design. Changes that a closed page could not save are taken up again. */
  open(design: SavedDesign): void {
    this.saved.set(design);
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
    const draft = readDraft(design.id);
    if (!draft) return;
    this.history.update((history) => record(history!, draft.document));
    if (draft.revision === design.revision) { this.state.set('unsaved'); this.touched.next(); return; }
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
  settle(): void { this.history.update((history) => history && settle(history)); }

  undo(): void { const history = this.history(); if (history?.past.length) this.become(undo(history)); }
  redo(): void { const history = this.history(); if (history?.future.length) this.become(redo(history)); }

  /** After a clash: the other tab's version becomes the present; one's own stays one undo away. */
  takeNewer(): void {
    const newer = this.newer();
    if (!newer) return;
    this.saved.set(newer);
    this.newer.set(null);
    this.history.update((history) => record(history!, newer.document));
    this.changed.next();
    this.state.set('saved');
    dropDraft(newer.id);
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
      dropDraft(saved.id);
      this.state.set('saved');
      return;
    }
    writeDraft(saved.id, { revision: saved.revision, document: next.present });
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
      return saved && document && this.isUnsaved() ? this.api.saveDesign(saved.id, saved.revision, document) : of(null);
    }).pipe(
      retry({ delay: (error: unknown) => {
        if (!isAway(error)) return throwError(() => error);
        this.state.set('away');
        this.complaint.set(sentenceOf(error));
        return timer(TRY_AGAIN_MS);
      } }),
      concatMap((saved) => { if (saved) this.wasSaved(saved); return of(null); }),
      catchError((error: unknown) => this.clashed(error)),
      finalize(() => { this.sending = false; }),
    );
  }

  private wasSaved(saved: SavedDesign): void {
    const present = this.document()!;
    // The document in hand is the one that was sent, or a later one: keep its identity, so that only later changes count as unsaved.
    const same = JSON.stringify(present) === JSON.stringify(saved.document);
    this.saved.set({ ...saved, document: same ? present : saved.document });
    if (same) { this.state.set('saved'); dropDraft(saved.id); } else { writeDraft(saved.id, { revision: saved.revision, document: present }); this.touched.next(); }
  }

  private clashed(error: unknown): Observable<unknown> {
    this.complaint.set(sentenceOf(error));
    if (problemOf(error)?.code !== 'stale-revision') { this.state.set('refused'); return of(null); }
    this.state.set('stale');
    return this.api.design(this.saved()!.id).pipe(
      concatMap((newer) => { this.newer.set(newer); return of(null); }), catchError(() => of(null)),
    );
  }

  private keepHistory(): void {
    const [history, id] = [this.history(), this.id()];
    if (history && id) void this.log.save(id, history);
  }

  private saveLast(): void {
    this.keepHistory();
    const [saved, document] = [this.saved(), this.document()];
    if (saved && document && this.isUnsaved()) this.api.saveDesign(saved.id, saved.revision, document, true).subscribe({ next: () => dropDraft(saved.id), error: () => undefined });
  }
}

const draftKey = (id: string): string => `kettle.draft.${id}`;

function readDraft(id: string): Draft | null {
  try { return JSON.parse(localStorage.getItem(draftKey(id)) ?? 'null') as Draft | null; } catch { return null; }
}

function writeDraft(id: string, draft: Draft): void {
  // A full store must not stop the work: the server has every change a moment later anyway.
  try { localStorage.setItem(draftKey(id), JSON.stringify(draft)); } catch { /* nothing to do */ }
}

const dropDraft = (id: string): void => localStorage.removeItem(draftKey(id));
