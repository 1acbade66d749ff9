import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { Notices } from '../data/notices';
import { exactTime } from '../units/clock';

/** Errors that were told, in the head of the page until they are dismissed: the bar that told them covers nothing for long. */
@Component({
  selector: 'ks-problem-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, MatMenuModule],
  template: `
    @if (notices.problems().length; as count) {
      <button type="button" class="stop" [matMenuTriggerFor]="menu">
        {{ count === 1 ? '1 message' : count + ' messages' }}
      </button>
    }
    <mat-menu #menu="matMenu" class="problems">
      @for (problem of notices.problems(); track problem.id) {
        <button
          mat-menu-item
          type="button"
          [attr.aria-label]="problem.sentence + ' Dismiss'"
          (click)="notices.dismiss(problem)"
        >
          <mat-icon svgIcon="x" />
          <small>{{ time(problem.at) }}</small> {{ problem.sentence }}
        </button>
      }
      @if (notices.problems().length > 1) {
        <button mat-menu-item type="button" (click)="notices.dismissAll()">Dismiss all</button>
      }
    </mat-menu>
  `,
  styles: `
    button.stop {
      border: 0;
      background: var(--mend-ground);
      font: 600 12px var(--sans);
      color: var(--mend);
      cursor: pointer;
      padding: 4px 9px;
      border-radius: 99px;
      white-space: nowrap;
    }
  `,
})
export class ProblemMenu {
  protected readonly notices = inject(Notices);
  protected readonly time = exactTime;
}
