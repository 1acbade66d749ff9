import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import type { RevisionRow } from '@kettle/contract';
import { Api } from '../data/api';
import { Notices } from '../data/notices';
import { DesignDesk } from './design-desk';

/** Every saved revision of the open design. Bringing one back is a change like any other: undo takes it away again. */
@Component({
  selector: 'ks-history',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, MatMenuModule],
  template: `
    <button type="button" aria-label="History" title="History" [matMenuTriggerFor]="menu" (menuOpened)="load()"><mat-icon svgIcon="history" /></button>
    <mat-menu #menu>
      @for (row of rows(); track row.revision; let first = $first) {
        <button mat-menu-item type="button" [disabled]="first" (click)="bringBack(row)"><span class="row"><b>{{ when(row.savedAt) }}</b><small>{{ first ? 'as it is now' : 'revision ' + row.revision }}</small></span></button>
      } @empty { <span class="none quiet">Looking …</span> }
    </mat-menu>
  `,
  styles: `button[aria-label] { border: 0; background: none; cursor: pointer; padding: 6px; border-radius: 8px; display: flex; color: var(--ink); } .row { display: flex; justify-content: space-between; gap: 24px; align-items: baseline; width: 100%; } .none { display: block; padding: 8px 16px; }`,
})
export class HistoryMenu {
  private readonly api = inject(Api);
  private readonly desk = inject(DesignDesk);
  private readonly notices = inject(Notices);
  protected readonly rows = signal<readonly RevisionRow[]>([]);

  protected load(): void {
    const id = this.desk.id();
    if (id) this.api.revisions(id).subscribe({ next: (rows) => this.rows.set(rows.slice(0, 100)), error: (error: unknown) => this.notices.complain(error) });
  }

  protected bringBack({ revision, savedAt }: RevisionRow): void {
    const id = this.desk.id();
    if (!id) return;
    this.api.revision(id, revision).subscribe({
      next: ({ document }) => {
        this.desk.edit(() => document);
        this.notices.say(`This is how it was at ${this.when(savedAt)}.`, { label: 'Undo', run: () => this.desk.undo() });
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  protected readonly when = (savedAt: string): string => WHEN.format(new Date(savedAt));
}

const WHEN = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit', second: '2-digit' });
