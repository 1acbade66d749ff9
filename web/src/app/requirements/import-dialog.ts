import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { ImportPlan } from '@kettle/contract';
import { Api } from '../data/api';
import { Notices } from '../data/notices';

export interface ImportDialogData {
  readonly filename: string;
  readonly text: string;
}

/** Most rows and faults that are listed. */
const MOST_LISTED = 100;

/** What a file of requirements would change, shown before it does; faults by row and column. */
@Component({
  selector: 'ks-import-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>Take in {{ data.filename }}</h2>
    <mat-dialog-content>
      @if (plan(); as plan) {
        <p role="status">{{ summary() }}</p>
        @if (plan.faults.length) {
          <ul class="faults" aria-label="Faults" role="alert">
            @for (fault of faults(); track $index) {
              <li>
                <b>Row {{ fault.row }}, {{ fault.column }}</b> {{ fault.sentence }}
              </li>
            }
            @if (plan.faults.length > faults().length) {
              <li>and {{ plan.faults.length - faults().length }} more</li>
            }
          </ul>
        }
        <ul class="rows" aria-label="What would change">
          @for (row of rows(); track row.row) {
            <li>
              <b>{{ row.channel }}, {{ row.name }}</b>
              <em>{{ row.state === 'new' ? 'new' : 'changed' }}</em>
              @for (change of row.changes; track change.column) {
                <small
                  >{{ change.column }}: <s>{{ change.from || 'nothing' }}</s> → {{ change.to || 'nothing' }}</small
                >
              }
            </li>
          }
        </ul>
      } @else {
        <p role="status">{{ failed() ?? 'Reading …' }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-button type="button" mat-dialog-close>Leave it</button>
      <button mat-flat-button type="button" [disabled]="!able() || busy()" (click)="apply()">Take it in</button>
    </mat-dialog-actions>
  `,
  styles: `
    ul {
      list-style: none;
      margin: 8px 0;
      padding: 0;
      max-height: 260px;
      overflow: auto;
    }
    li {
      border-top: 1px solid var(--rule);
      padding: 6px 0;
      font-size: 13.5px;
    }
    .faults {
      background: var(--mend-ground);
      border-radius: 10px;
      padding: 4px 12px;
    }
    .faults li:first-child {
      border-top: 0;
    }
    em {
      font-style: normal;
      color: var(--enamel);
      margin-left: 8px;
    }
    small {
      display: block;
      color: var(--quiet);
    }
  `,
})
export class ImportDialog {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly own = inject<MatDialogRef<ImportDialog, boolean>>(MatDialogRef);
  protected readonly data = inject<ImportDialogData>(MAT_DIALOG_DATA);
  protected readonly plan = signal<ImportPlan | null>(null);
  protected readonly failed = signal<string | null>(null);
  protected readonly busy = signal(false);
  protected readonly faults = computed(() => this.plan()?.faults.slice(0, MOST_LISTED) ?? []);
  private readonly differing = computed(() => this.plan()?.rows.filter((row) => row.state !== 'same') ?? []);
  protected readonly rows = computed(() => this.differing().slice(0, MOST_LISTED));
  protected readonly able = computed(() => this.differing().length > 0 && !this.plan()?.faults.length);
  protected readonly summary = computed(() => {
    const plan = this.plan();
    if (!plan) return '';
    const count = (state: 'new' | 'changed' | 'same'): number => plan.rows.filter((row) => row.state === state).length;
    if (plan.faults.length)
      return `${plan.faults.length} ${plan.faults.length === 1 ? 'thing is' : 'things are'} wrong, so nothing is taken in. Mend the file and choose it again.`;
    return this.differing().length
      ? `${count('new')} new, ${count('changed')} changed, ${count('same')} the same. Print files of the changed ones become out of date.`
      : 'Everything in it is in the library already, as it is.';
  });

  constructor() {
    this.api.ask('post /api/requirements/import', { body: { text: this.data.text, apply: false } }).subscribe({
      next: (plan) => this.plan.set(plan),
      error: (error: unknown) => {
        this.failed.set('Nothing was taken in.');
        this.notices.complain(error);
      },
    });
  }

  protected apply(): void {
    this.busy.set(true);
    this.api.ask('post /api/requirements/import', { body: { text: this.data.text, apply: true } }).subscribe({
      next: () => {
        this.notices.say(`${this.differing().length} requirements are in the library.`);
        this.own.close(true);
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.notices.complain(error);
      },
    });
  }
}
