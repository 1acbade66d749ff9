import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { DesignDesk } from '../editor/design-desk';
import { HistoryDialog } from './history-dialog';

/** Opens the list of saved revisions. */
@Component({
  selector: 'ks-history',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule],
  template: `<button
    mat-icon-button
    type="button"
    aria-label="History"
    title="History"
    aria-haspopup="dialog"
    (click)="open()"
  >
    <mat-icon svgIcon="history" />
  </button>`,
  styles: `
    :host {
      --mat-icon-button-state-layer-size: 36px;
    }
    button {
      padding: 6px;
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
