import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import { DesignDesk } from '../editor/design-desk';
import { HistoryDialog } from './history-dialog';

/** Opens the list of saved revisions. */
@Component({
  selector: 'ks-history',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule],
  template: `<button type="button" aria-label="History" title="History" aria-haspopup="dialog" (click)="open()">
    <mat-icon svgIcon="history" />
  </button>`,
  styles: `
    button {
      border: 0;
      background: none;
      cursor: pointer;
      padding: 6px;
      border-radius: 8px;
      display: flex;
      color: var(--ink);
    }
  `,
})
export class HistoryMenu {
  private readonly dialog = inject(MatDialog);
  private readonly desk = inject(DesignDesk);

  protected open(): void {
    this.dialog.open(HistoryDialog, { width: '640px', maxWidth: '94vw', data: this.desk });
  }
}
