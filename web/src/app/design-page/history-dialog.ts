import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import type { RevisionRow } from '@kettle/contract';
import { Api } from '../data/api';
import { Notices } from '../data/notices';
import type { DesignDesk } from '../editor/design-desk';
import { ChipRow, chip } from '../units/chips';
import { TypedValue } from '../units/typed-value';
import { stepText } from '../units/clock';

/**
 * Every saved revision of the open design, with its picture, time and name. Bringing one back is a change like any
 * other: undo takes it away again.
 */
@Component({
  selector: 'ks-history-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, TypedValue, MatButtonModule, MatDialogModule, MatIconModule],
  template: `
    <header>
      <h2 mat-dialog-title>History</h2>
      <ks-chips [of]="ways()" />
    </header>
    <ol aria-label="Revisions, newest first">
      @for (row of shown(); track row.revision) {
        <li>
          <img
            [src]="'/api/designs/' + desk.id() + '/revisions/' + row.revision + '/miniature?size=160'"
            alt=""
            width="58"
            height="66"
            loading="lazy"
          />
          <span class="words"
            ><b>{{ when(row.savedAt) }}</b
            ><small>revision {{ row.revision }}{{ row.revision === newest() ? ', as it is now' : '' }}</small></span
          >
          <input
            #name
            maxlength="120"
            autocomplete="off"
            placeholder="Give it a name"
            [ksValue]="row.name ?? ''"
            [attr.aria-label]="'Name of revision ' + row.revision"
            (change)="call(row, name.value)"
          />
          <button
            mat-stroked-button
            type="button"
            [disabled]="row.revision === newest()"
            [attr.aria-label]="'Bring back revision ' + row.revision"
            (click)="bringBack(row)"
          >
            Bring back
          </button>
        </li>
      } @empty {
        <li class="quiet">
          {{ rows() ? 'No revision has a name yet. Type one beside a revision to find it again.' : 'Looking …' }}
        </li>
      }
    </ol>
  `,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      height: min(620px, 80vh);
      padding: 18px 22px 14px;
    }
    header {
      display: flex;
      align-items: center;
      justify-content: space-between;
      margin-bottom: 10px;
    }
    h2 {
      margin: 0;
      padding: 0;
      font: 600 20px var(--serif);
    }
    h2::before {
      display: none;
    }
    ol {
      list-style: none;
      margin: 0;
      padding: 2px;
      overflow: auto;
      flex: 1;
    }
    li {
      display: grid;
      grid-template-columns: 58px 132px 1fr auto;
      gap: 14px;
      align-items: center;
      padding: 7px 4px;
      border-bottom: 1px solid var(--rule);
      content-visibility: auto;
      contain-intrinsic-size: auto 80px;
    }
    li.quiet {
      display: block;
      padding: 16px 4px;
    }
    img {
      object-fit: contain;
      background: conic-gradient(#b9b4a8 25%, #cfcabd 0 50%, #b9b4a8 0 75%, #cfcabd 0) 0 0 / 12px 12px;
      border-radius: 6px;
      border: 1px solid var(--rule);
    }
    .words {
      display: flex;
      flex-direction: column;
    }
    input {
      border: 1px solid transparent;
      border-radius: 9px;
      padding: 6px 10px;
      font: 500 13.5px var(--sans);
      background: none;
      color: var(--ink);
      min-width: 0;
    }
    input:hover,
    input:focus {
      border-color: var(--rule);
      background: var(--paper);
    }
    input:focus {
      outline: 2.5px solid var(--plum);
    }
  `,
})
export class HistoryDialog {
  protected readonly desk = inject<DesignDesk>(MAT_DIALOG_DATA);
  private readonly dialog = inject<MatDialogRef<HistoryDialog>>(MatDialogRef);
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly rows = signal<readonly RevisionRow[] | null>(null);
  protected readonly named = signal(false);
  protected readonly ways = computed(() => [
    chip('Every revision', () => this.named.set(false), { on: !this.named() }),
    chip('With a name', () => this.named.set(true), { on: this.named() }),
  ]);
  protected readonly newest = computed(() => this.rows()?.[0]?.revision ?? 0);
  protected readonly shown = computed(() => (this.rows() ?? []).filter((row) => !this.named() || row.name));

  constructor() {
    const id = this.desk.id();
    if (id)
      this.api
        .ask('get /api/designs/{id}/revisions', { id })
        .subscribe({ next: (rows) => this.rows.set(rows), error: (error: unknown) => this.notices.complain(error) });
  }

  protected call(row: RevisionRow, name: string): void {
    this.api
      .ask('put /api/designs/{id}/revisions/{revision}/name', {
        id: this.desk.id()!,
        revision: String(row.revision),
        body: { name: name.trim() },
      })
      .subscribe({
        next: () =>
          this.rows.update(
            (rows) =>
              rows && rows.map((one) => (one.revision === row.revision ? { ...one, name: name.trim() || null } : one)),
          ),
        error: (error: unknown) => this.notices.complain(error),
      });
  }

  protected bringBack({ revision, savedAt }: RevisionRow): void {
    this.api
      .ask('get /api/designs/{id}/revisions/{revision}', { id: this.desk.id()!, revision: String(revision) })
      .subscribe({
        next: ({ document }) => {
          this.desk.edit(() => document);
          this.desk.settle();
          this.notices.say(`This is how it was at ${this.when(savedAt)}.`, {
            label: 'Undo',
            run: () => this.desk.undo(),
          });
          this.dialog.close();
        },
        error: (error: unknown) => this.notices.complain(error),
      });
  }

  protected readonly when = stepText;
}
