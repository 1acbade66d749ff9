import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

export interface PickChoice {
  readonly id: string;
  readonly words: string;
  readonly disabled?: boolean;
  readonly title?: string;
}

/** One of several in a list that unfolds. */
@Component({
  selector: 'ks-pick-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label
      >{{ bare() ? '' : label() }}
      <select
        #box
        [attr.aria-label]="spoken() || label()"
        [attr.title]="note() || null"
        [disabled]="disabled()"
        (change)="take(box)"
      >
        @for (choice of of(); track choice.id) {
          <option
            [value]="choice.id"
            [selected]="choice.id === value()"
            [disabled]="choice.disabled ?? false"
            [attr.title]="choice.title ?? null"
          >
            {{ choice.words }}
          </option>
        }
      </select>
    </label>
  `,
  styles: `
    :host {
      display: block;
      min-width: 0;
    }
    label {
      display: grid;
      gap: 3px;
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
    }
    select {
      box-sizing: border-box;
      width: 100%;
      height: 34px;
      min-width: 0;
      border: 1px solid var(--rule);
      border-radius: 9px;
      padding: 7px 9px;
      font: 500 13px var(--sans);
      background: var(--paper);
      color: var(--ink);
    }
    :host(.beside) label {
      display: flex;
      align-items: center;
      gap: 5px;
      white-space: nowrap;
    }
    :host(.small) select {
      height: auto;
      padding: 5px 8px;
      font-size: 12px;
    }
  `,
})
export class PickField {
  readonly label = input.required<string>();
  readonly of = input.required<readonly PickChoice[]>();
  readonly value = input('');
  /** What is read out where the label alone does not tell. */
  readonly spoken = input('');
  readonly note = input('');
  /** True where its label is read out and not shown. */
  readonly bare = input(false);
  readonly disabled = input(false);
  readonly chosen = output<string>();

  /** A list that only does something stands on its first line again. */
  protected take(box: HTMLSelectElement): void {
    this.chosen.emit(box.value);
    if (this.of().some(({ id }) => id === '') && this.value() === '') queueMicrotask(() => (box.value = this.value()));
  }
}
