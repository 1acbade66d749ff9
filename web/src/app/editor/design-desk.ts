import { Injectable, OnDestroy, computed, inject, signal } from '@angular/core';
import type { SavedDesign } from '@kettle/contract';
import { LARGE_DOCUMENT_BYTES, MAX_DOCUMENT_BYTES, type DesignDocument } from '@kettle/core/model';
import { record, redo, resume, settle, startHistory, undo, type Edit, type History } from '@kettle/core/document';
import { Subject, Subscription, debounceTime, type Observable } from 'rxjs';
import { DESIGN } from '../data/saved-kinds';
import { Saving } from '../data/saving';
import { UndoLog } from '../data/undo-log';

/** Quiet time before the way back is written down, ms. */
const LOG_AFTER_MS = 150;

/** The one design that is open: its document, undo and redo, and saving without being asked. Provided by the bench. */
@Injectable()
export class DesignDesk implements OnDestroy {
  private readonly log = inject(UndoLog);
  private readonly saving = new Saving(DESIGN);
  private readonly history = signal<History<DesignDocument> | null>(null);
  private readonly changed = new Subject<void>();
  private readonly logging: Subscription;
  private readonly leaving = (): void => this.keepHistory();

  readonly state = this.saving.state;
  /** Said long before a document becomes too large to be saved; empty otherwise. */
  readonly tooLargeSoon = computed(() => {
    const document = this.saving.thing()?.kept();
    const bytes = document ? bytesOf(document) : 0;
    return bytes < LARGE_DOCUMENT_BYTES
      ? ''
      : `This design takes ${megabytes(bytes)} of the ${megabytes(MAX_DOCUMENT_BYTES)} that a design can have. Begin a new design for what comes, or take off lines that are not needed.`;
  });
  /** Why saving was refused, in the server's words. */
  readonly complaint = this.saving.complaint;
  readonly document = computed(() => this.history()?.present ?? null);
  readonly id = this.saving.id;
  readonly revision = this.saving.revision;
  readonly savedAt = computed(() => this.saving.answer()?.savedAt ?? null);
  readonly canUndo = computed(() => (this.history()?.past.length ?? 0) > 0);
  readonly canRedo = computed(() => (this.history()?.future.length ?? 0) > 0);

  constructor() {
    this.logging = this.changed.pipe(debounceTime(LOG_AFTER_MS)).subscribe(() => this.keepHistory());
    window.addEventListener('pagehide', this.leaving);
  }

  ngOnDestroy(): void {
    window.removeEventListener('pagehide', this.leaving);
    this.logging.unsubscribe();
    this.keepHistory();
    this.saving.close();
  }

  /** The revision that holds everything done so far, once it is saved; an error when it cannot be. */
  whenSaved(): Observable<number> {
    return this.saving.whenSaved();
  }

  /** Opens a design. Changes that a closed page could not save are taken up again. */
  open(design: SavedDesign): void {
    this.saving.open(design.id, design);
    this.history.set(startHistory(design.document));
    const document = this.saving.value()!;
    if (document !== design.document) this.history.update((history) => record(history!, document));
    void this.takeHistory(design);
  }

  /** Takes up the way back that this browser kept, unless something was done in the meantime. */
  private async takeHistory(design: SavedDesign): Promise<void> {
    const before = this.history();
    const kept = await this.log.load(design.id).catch(() => null);
    if (!kept || !before || this.history() !== before || this.id() !== design.id) return;
    this.history.set(resume(kept, before.present, (a, b) => JSON.stringify(a) === JSON.stringify(b)));
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
    this.saving.takeNewer((newer) => {
      this.history.update((history) => record(history!, newer));
      this.changed.next();
    });
  }

  /** After a clash: one's own version is saved on top; the other one stays among the revisions. */
  keepMine(): void {
    this.saving.keepMine();
  }

  private become(next: History<DesignDocument>): void {
    this.history.set(next);
    this.changed.next();
    this.saving.change(() => next.present);
  }

  private keepHistory(): void {
    const [history, id] = [this.history(), this.id()];
    if (history && id) void this.log.save(id, history);
  }
}

const megabytes = (bytes: number): string => `${(bytes / 1024 / 1024).toFixed(1)} MB`;
const bytesOf = (document: DesignDocument): number => new Blob([JSON.stringify(document)]).size;
