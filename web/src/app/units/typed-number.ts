import { Directive, ElementRef, inject, input } from '@angular/core';
import {
  NG_VALIDATORS,
  NG_VALUE_ACCESSOR,
  type ControlValueAccessor,
  type ValidationErrors,
  type Validator,
} from '@angular/forms';
import { readNumber, refuseNumber } from '@kettle/core/units';

/**
 * A number in a form, typed with a point or a comma. An empty field is null. What is no number, or can be two, is NaN
 * for the form, and the sentence stands at the control as its error `number`.
 */
@Directive({
  selector: 'input[ksNumber]',
  host: {
    inputmode: 'decimal',
    autocomplete: 'off',
    '[disabled]': 'off',
    '(input)': 'typed()',
    '(blur)': 'touched()',
  },
  providers: [
    { provide: NG_VALUE_ACCESSOR, useExisting: TypedNumber, multi: true },
    { provide: NG_VALIDATORS, useExisting: TypedNumber, multi: true },
  ],
})
export class TypedNumber implements ControlValueAccessor, Validator {
  private readonly field = inject<ElementRef<HTMLInputElement>>(ElementRef).nativeElement;
  /** What the number is, for the sentence. */
  readonly ksNumber = input.required<string>();
  protected off = false;
  private changed: (value: number | null) => void = () => undefined;
  protected touched: () => void = () => undefined;

  writeValue(value: number | null): void {
    this.field.value = value === null || Number.isNaN(value) ? '' : String(value);
  }
  registerOnChange(changed: (value: number | null) => void): void {
    this.changed = changed;
  }
  registerOnTouched(touched: () => void): void {
    this.touched = touched;
  }
  setDisabledState(off: boolean): void {
    this.off = off;
  }
  validate(): ValidationErrors | null {
    const text = this.field.value.trim();
    const sentence = text && refuseNumber(text, this.ksNumber());
    return sentence ? { number: sentence } : null;
  }

  protected typed(): void {
    const text = this.field.value.trim();
    const read = readNumber(text);
    this.changed(text === '' ? null : read.kind === 'number' ? read.value : NaN);
  }
}
