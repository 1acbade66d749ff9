import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { isHex } from '@kettle/core';
import { Bench } from '../bench/bench';

/** A colour by picker, by hex, or from those the design and its garments already have. */
@Component({
  selector: 'ks-colour-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      <span class="label">{{ label() }}</span>
      @if (optional()) { <button type="button" class="chip" [attr.aria-pressed]="hex() === null" (click)="changed.emit(hex() === null ? '#f2bd4b' : null)">none</button> }
    </div>
    @if (hex(); as hex) {
      <span class="box" [class.wrong]="wrong()">
        <input #pick type="color" [value]="hex" [attr.aria-label]="label() + ', colour picker'" (input)="take(pick.value)">
        <input #text class="hex" maxlength="7" spellcheck="false" [value]="hex" [attr.aria-label]="label() + ', hex'" (change)="take(text.value); text.value = this.hex() ?? ''">
      </span>
      @if (wrong()) { <small role="alert">Write a colour like #1f2b4d.</small> }
      <div class="known" role="group" [attr.aria-label]="label() + ' from this design'">
        @for (one of known(); track one) { <button type="button" class="swatch" [style.background]="one" [attr.aria-label]="one" [title]="one" [attr.aria-pressed]="one === hex.toLowerCase()" (click)="take(one)"></button> }
      </div>
    }
  `,
  styles: `
    :host { display: block; margin-bottom: 10px; } .row { display: flex; justify-content: space-between; align-items: center; } .label { font-size: 12px; font-weight: 550; color: var(--quiet); }
    .box { display: flex; align-items: center; gap: 8px; border: 1px solid var(--rule); border-radius: 9px; padding: 4px 10px; margin-top: 3px; background: var(--paper); } .box.wrong { border-color: var(--alarm); } .box:focus-within { outline: 2.5px solid var(--plum); }
    input[type='color'] { width: 24px; height: 24px; padding: 0; border: 0; background: none; flex: none; } .hex { border: 0; background: none; outline: none; width: 100%; font: 500 13px var(--sans); color: var(--ink); } small { color: var(--alarm); }
    .known { display: flex; flex-wrap: wrap; gap: 5px; margin-top: 6px; } .known .swatch { width: 19px; height: 19px; border-radius: 50%; }
  `,
})
export class ColourField {
  private readonly bench = inject(Bench);
  readonly label = input.required<string>();
  readonly hex = input.required<string | null>();
  readonly optional = input(false);
  readonly changed = output<string | null>();
  protected readonly wrong = signal(false);
  protected readonly known = computed(() => [...new Set([...this.bench.colours(), ...(this.bench.current()?.requirement.colourways.map((one) => one.hex.toLowerCase()) ?? [])])].slice(0, 18));

  protected take(text: string): void {
    const hex = text.trim().startsWith('#') ? text.trim() : `#${text.trim()}`;
    this.wrong.set(!isHex(hex));
    if (isHex(hex)) this.changed.emit(hex.toLowerCase());
  }
}
