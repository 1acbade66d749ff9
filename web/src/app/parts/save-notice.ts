import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { SaveState } from '../data/saved-thing';

/** What it tells of: a thing that is saved by itself. */
export interface SavedByItself {
  state(): SaveState;
  complaint(): string;
  takeNewer(): void;
  keepMine(): void;
}

/** Says why something that is saved by itself is not saved, and lets one choose when somebody else changed it. */
@Component({
  selector: 'ks-save-notice',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `
    @switch (of().state()) {
      @case ('stale') {
        <div role="alert">
          <b>Changed elsewhere.</b> {{ of().complaint() || 'A newer version was saved elsewhere.' }}
          <button mat-button type="button" (click)="of().takeNewer()">Take the newer one</button
          ><button mat-button type="button" (click)="of().keepMine()">Keep mine as the newest</button>
        </div>
      }
      @case ('away') {
        <div role="alert">
          <b>Not saved yet.</b> The server does not answer. What you changed is kept in this browser and is saved when
          it does.
        </div>
      }
      @case ('refused') {
        <div role="alert"><b>Not saved.</b> {{ of().complaint() }}</div>
      }
    }
  `,
  styles: `
    div {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px;
      padding: 6px 22px;
      background: var(--stale-ground);
      color: var(--ink);
    }
  `,
})
export class SaveNotice {
  readonly of = input.required<SavedByItself>();
}
