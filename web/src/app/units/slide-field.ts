import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatSliderModule } from '@angular/material/slider';

/** A slider with its name, its value, and a word for the moving and for the letting go. */
@Component({
  selector: 'ks-slide-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '[class.long]': 'label().length > 16' },
  imports: [MatSliderModule],
  template: `
    <span class="name">{{ label() }}</span>
    <mat-slider [min]="least()" [max]="most()" [step]="step()" [displayWith]="said">
      <input
        matSliderThumb
        [attr.aria-label]="label()"
        [value]="value()"
        (valueChange)="moved.emit($event)"
        (change)="settled.emit()"
      />
    </mat-slider>
    <b>{{ said(value()) }}</b>
    @if (note()) {
      <small>{{ note() }}</small>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 92px minmax(0, 1fr) 58px;
      align-items: center;
      gap: 4px;
      font-size: 12.5px;
    }
    mat-slider {
      min-width: 0;
    }
    b {
      text-align: right;
      font-weight: 600;
      font-variant-numeric: tabular-nums;
    }
    :host(.long) {
      grid-template-columns: minmax(0, 1fr) 58px;
    }
    :host(.long) .name {
      grid-column: 1 / 3;
      margin-bottom: -10px;
    }
    :host(.long) small {
      grid-column: 1 / 3;
    }
    small {
      grid-column: 2 / 4;
      color: var(--quiet);
      margin-top: -8px;
    }
  `,
})
export class SlideField {
  readonly label = input.required<string>();
  readonly value = input.required<number>();
  readonly least = input(0);
  readonly most = input(100);
  readonly step = input(1);
  readonly unit = input('');
  /** Decimals that mean something. */
  readonly digits = input(0);
  readonly note = input('');
  readonly moved = output<number>();
  readonly settled = output<void>();
  /** A word for a value that is more than its number, such as that of nothing. */
  readonly word = input<(value: number) => string | undefined>();
  /** What is shown and what is read out. */
  protected readonly said = (value: number): string =>
    this.word()?.(value) ?? `${value.toFixed(this.digits())}${this.unit() && ` ${this.unit()}`}`;
}
