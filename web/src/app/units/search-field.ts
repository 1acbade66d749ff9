import { ChangeDetectionStrategy, Component, ElementRef, input, model, viewChild } from '@angular/core';

/** Words by which a list is narrowed down while they are typed. */
@Component({
  selector: 'ks-search-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      #box
      type="search"
      [placeholder]="hint()"
      [attr.aria-label]="label()"
      [value]="words()"
      (input)="words.set(box.value)"
    />
  `,
  styles: `
    :host {
      display: block;
    }
    input {
      box-sizing: border-box;
      width: 100%;
      border: 1px solid var(--rule);
      border-radius: 99px;
      padding: 7px 14px;
      font: 13px var(--sans);
      background: var(--raised);
      color: var(--ink);
    }
  `,
})
export class SearchField {
  readonly label = input.required<string>();
  /** A few words that would find something. */
  readonly hint = input('');
  readonly words = model('');
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');

  focus(): void {
    this.box().nativeElement.focus();
  }
}
