import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

export interface Swatch {
  readonly hex: string;
  /** What the colour is called; its hex where it has no name. */
  readonly name?: string;
}

/** Colours to choose from; the one that is chosen has a ring. */
@Component({
  selector: 'ks-swatches',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'group', '[attr.aria-label]': 'label()' },
  template: `
    <ng-content select="[first]" />
    @for (one of of(); track $index) {
      <button
        type="button"
        class="swatch"
        [style.background]="one.hex"
        [title]="one.name ?? one.hex"
        [attr.aria-label]="one.name ?? one.hex"
        [attr.aria-pressed]="value() === undefined ? null : one.hex.toLowerCase() === value()?.toLowerCase()"
        (click)="chosen.emit(one.hex)"
      ></button>
    }
    <ng-content />
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      gap: 7px;
    }
    :host(.squares) .swatch {
      width: 21px;
      height: 21px;
      border-radius: 6px;
    }
    :host(.small) {
      gap: 5px;
    }
    :host(.small) .swatch {
      width: 19px;
      height: 19px;
      border-radius: 50%;
    }
  `,
})
export class Swatches {
  readonly label = input.required<string>();
  /** A colour without a name is its hex alone. */
  readonly of = input.required<readonly Swatch[], readonly (Swatch | string)[]>({
    transform: (all) => all.map((one) => (typeof one === 'string' ? { hex: one } : one)),
  });
  /** Hex of the chosen one; null where it is none of them, undefined where they are only taken from. */
  readonly value = input<string | null>();
  readonly chosen = output<string>();
}
