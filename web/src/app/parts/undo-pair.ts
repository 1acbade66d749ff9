import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';

/** What can be taken back, and done again. */
export interface Undoable {
  canUndo(): boolean;
  canRedo(): boolean;
  undo(): void;
  redo(): void;
}

/** The two buttons that take the last change back and do it again. */
@Component({
  selector: 'ks-undo-pair',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule],
  template: `
    <button
      mat-icon-button
      type="button"
      aria-label="Undo"
      title="Undo (Ctrl Z)"
      [disabled]="!of().canUndo()"
      (click)="of().undo()"
    >
      <mat-icon svgIcon="arrow-back-up" />
    </button>
    <button
      mat-icon-button
      type="button"
      aria-label="Redo"
      title="Redo (Ctrl Shift Z)"
      [disabled]="!of().canRedo()"
      (click)="of().redo()"
    >
      <mat-icon svgIcon="arrow-forward-up" />
    </button>
  `,
  styles: `
    :host {
      display: flex;
      --mat-icon-button-state-layer-size: 36px;
    }
    button {
      padding: 6px;
    }
  `,
})
export class UndoPair {
  readonly of = input.required<Undoable>();
}
