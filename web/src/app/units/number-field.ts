import {
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { readNumber, refuseNumber } from '@kettle/core/units';
import { TypedValue } from './typed-value';

/** A number with its unit. Enter or leaving the field takes it; a wrong one is told and the old one stays. */
@Component({
  selector: 'ks-number-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TypedValue],
  template: `
    <label>
      @if (!bare()) {
        {{ label() }}
      }
      <span class="box" [class.wrong]="complaint()">
        <input
          #box
          inputmode="decimal"
          autocomplete="off"
          [ksValue]="shown()"
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
      @for (one of either(); track one) {
        <button type="button" class="chip" (click)="takeNumber(one)">{{ one }}</button>
      }
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
  readonly value = input.required<number | null>();
  readonly unit = input('');
  readonly step = input(1);
  readonly least = input(-100000);
  readonly most = input(100000);
  readonly disabled = input(false);
  /** Whether its name is read out alone, where the page says it beside. */
  readonly bare = input(false);
  readonly whole = input(false);
  /** Whether it may be empty, for none. */
  readonly optional = input(false);
  readonly cleared = output<void>();
  readonly changed = output<number>();
  protected readonly complaint = signal('');
  /** The numbers that an ambiguous text can be. */
  protected readonly either = signal<readonly number[]>([]);
  protected readonly shown = computed(() => String(this.value() ?? ''));
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');

  /** Takes what was typed. The field shows it until the value comes back, or until it is left. */
  protected take(text: string): void {
    this.either.set([]);
    if (this.optional() && text.trim() === '') {
      this.complaint.set('');
      if (this.value() !== null) this.cleared.emit();
      return;
    }
    const sentence = refuseNumber(text, this.label());
    if (sentence) {
      const read = readNumber(text);
      this.refuse(sentence);
      if (read.kind === 'either') this.either.set(read.values);
      return;
    }
    this.takeNumber((readNumber(text) as { readonly value: number }).value);
  }

  protected takeNumber(value: number): void {
    this.either.set([]);
    if (value < this.least() || value > this.most()) {
      this.refuse(
        value < this.least() ? `At least ${this.least()}${this.suffix()}.` : `At most ${this.most()}${this.suffix()}.`,
      );
      return;
    }
    if (this.whole() && !Number.isInteger(value)) {
      this.refuse(`${this.label()} must be a whole number.`);
      return;
    }
    this.complaint.set('');
    if (value !== this.value()) this.changed.emit(value);
  }

  private refuse(sentence: string): void {
    this.complaint.set(sentence);
    this.box().nativeElement.value = this.shown();
  }

  private suffix(): string {
    return this.unit() ? ` ${this.unit()}` : '';
  }

  protected keys(event: KeyboardEvent): void {
    const input = this.box().nativeElement;
    const way = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
    // The browser tells of the change itself, once.
    if (event.key === 'Enter') input.select();
    if (!way) return;
    event.preventDefault();
    const read = readNumber(input.value);
    const from = read.kind === 'number' ? read.value : (this.value() ?? 0);
    const to = Math.round((from + way * this.step() * (event.shiftKey ? 10 : 1)) * 1000) / 1000;
    input.value = String(to);
    this.take(input.value);
  }
}
