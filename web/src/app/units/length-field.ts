import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { DECIMALS, lengthNumber, toMm, type LengthUnit } from '@kettle/core/units';
import { Preferences } from '../data/preferences';
import { NumberField } from './number-field';

/** A length in the seller's unit; mm inside. */
@Component({
  selector: 'ks-length-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NumberField],
  template: `<ks-number-field
    [label]="label()"
    [value]="shown()"
    [unit]="unit()"
    [step]="step()"
    [least]="least()"
    [disabled]="disabled()"
    (changed)="emit($event)"
  />`,
  styles: `
    :host {
      display: block;
      min-width: 0;
    }
  `,
})
export class LengthField {
  private readonly preferences = inject(Preferences);
  readonly label = input.required<string>();
  readonly mm = input.required<number>();
  readonly dpi = input(300);
  readonly positive = input(false);
  readonly disabled = input(false);
  readonly changed = output<number>();
  protected readonly unit = computed<LengthUnit>(() => this.preferences.unit());
  protected readonly shown = computed(() => lengthNumber(this.mm(), this.unit(), this.dpi()));
  protected readonly step = computed(() => 10 ** -DECIMALS[this.unit()] * (this.unit() === 'px' ? 1 : 10));
  protected readonly least = computed(() => (this.positive() ? 10 ** -DECIMALS[this.unit()] : -100000));

  protected emit(value: number): void {
    this.changed.emit(toMm(value, this.unit(), this.dpi()));
  }
}
