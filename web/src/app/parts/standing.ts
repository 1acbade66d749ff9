import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';

/** How something stands with those it was sent to: in words and an icon, and how good that is. */
export interface StandsAs {
  readonly words: string;
  readonly icon: string;
  /** `live` is good, `refused` and `failed` ask for something, the rest waits. */
  readonly mark: string;
}

/** How something stands, by mark and word; colour comes on top. */
@Component({
  selector: 'ks-standing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule],
  host: { '[class]': 'of().mark' },
  template: `<mat-icon [svgIcon]="of().icon" aria-hidden="true" />{{ of().words }}<ng-content />`,
  styles: `
    :host {
      display: flex;
      align-items: center;
      gap: 5px;
      font-size: 12px;
      font-weight: 600;
      color: var(--quiet);
    }
    mat-icon {
      width: 15px;
      height: 15px;
      flex: none;
    }
    :host(.live) {
      color: var(--enamel);
    }
    :host(.refused),
    :host(.failed) {
      color: var(--copper);
    }
  `,
})
export class Standing {
  readonly of = input.required<StandsAs>();
}
