import { ChangeDetectionStrategy, Component, ElementRef, input, output, signal, viewChild } from '@angular/core';
import { TypedValue } from './typed-value';

/** A number with its unit. Enter or leaving the field takes it; a wrong one is told and the old one stays. */
@Component({
  selector: 'ks-number-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TypedValue],
  template: `
    <label
      >{{ label() }}
      <span class="box" [class.wrong]="complaint()">
        <input
          #box
          inputmode="decimal"
          autocomplete="off"
          [ksValue]="value()"
          [disabled]="disabled()"
          [attr.aria-invalid]="complaint() ? true : null"
          [attr.aria-label]="label() + (unit() ? ', ' + unit() : '')"
          (change)="take(box.value)"
          (keydown)="keys($event)"
          (focus)="box.select()"
        />
        <small aria-hidden="true">{{ unit() }}</small>
      </span>
    </label>
    @if (complaint()) {
      <small class="complaint" role="alert">{{ complaint() }}</small>
    }
  `,
  styles: `
    :host {
      display: block;
      min-width: 0;
    }
    label {
      display: block;
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
    }
    .box {
      display: flex;
      align-items: center;
      gap: 6px;
      border: 1px solid var(--rule);
      border-radius: 9px;
      padding: 0 10px;
      margin-top: 3px;
      background: var(--paper);
    }
    .box:focus-within {
      outline: 2.5px solid var(--plum);
    }
    input {
      border: 0;
      background: none;
      outline: none;
      width: 100%;
      min-width: 0;
      padding: 7px 0;
      font: 500 13.5px var(--sans);
      font-variant-numeric: tabular-nums;
      color: var(--ink);
    }
    input:disabled {
      color: var(--quiet);
    }
    .wrong {
      border-color: var(--alarm);
    }
    .complaint {
      color: var(--alarm);
      display: block;
      margin-top: 2px;
    }
  `,
})
export class NumberField {
  readonly label = input.required<string>();
  readonly value = input.required<number>();
  readonly unit = input('');
  readonly step = input(1);
  readonly least = input(-100000);
  readonly most = input(100000);
  readonly disabled = input(false);
  readonly changed = output<number>();
  protected readonly complaint = signal('');
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');

  protected take(text: string): void {
    const value = Number(text.trim().replace(',', '.'));
    if (text.trim() === '' || !Number.isFinite(value)) {
      this.refuse(`${this.label()} must be a number.`);
      return;
    }
    if (value < this.least() || value > this.most()) {
      this.refuse(
        value < this.least() ? `At least ${this.least()}${this.suffix()}.` : `At most ${this.most()}${this.suffix()}.`,
      );
      return;
    }
    this.complaint.set('');
    if (value !== this.value()) this.changed.emit(value);
    // The value may come back rounded or unchanged: show what is true.
    queueMicrotask(() => {
      this.box().nativeElement.value = String(this.value());
    });
  }

  private refuse(sentence: string): void {
    this.complaint.set(sentence);
    this.box().nativeElement.value = String(this.value());
  }

  private suffix(): string {
    return this.unit() ? ` ${this.unit()}` : '';
  }

  protected keys(event: KeyboardEvent): void {
    const input = this.box().nativeElement;
    const way = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
    if (event.key === 'Enter') {
      this.take(input.value);
      input.select();
    }
    if (!way) return;
    event.preventDefault();
    const from = Number(input.value.replace(',', '.'));
    this.take(
      String(
        Math.round(
          ((Number.isFinite(from) ? from : this.value()) + way * this.step() * (event.shiftKey ? 10 : 1)) * 1000,
        ) / 1000,
      ),
    );
  }
}
