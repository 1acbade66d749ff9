import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import type { SheetCell } from '@kettle/contract';
import { demandedCanvas, type Requirement } from '@kettle/core';
import { WORDS } from './state-words';

/** One cell: the print file in its true shape on the colour it is sold on, with its state. Enter opens, Space selects. */
@Component({
  selector: 'ks-sheet-cell',
  changeDetection: ChangeDetectionStrategy.OnPush,
  // A sheet shows thousands of cells: each is a button, a picture and a word, and the box to tick is there once it is of use.
  template: `
    <button type="button" class="cell" data-cell [attr.aria-label]="label()" [attr.aria-pressed]="selected()" [class.selected]="selected()" (click)="open($event)" (keydown)="keys($event)">
      <img [src]="source()" alt="" decoding="async" [style.background]="cell().garment" [width]="shape().width" [height]="shape().height">
      <span class="state">{{ word() }}</span>
    </button>
    @if (selected() || near()) {
      <input type="checkbox" class="pick" tabindex="-1" [checked]="selected()" [attr.aria-label]="'Select ' + label()" (click)="toggled.emit($event.shiftKey)">
    }
  `,
  styleUrl: './sheet-cell.scss',
  host: { '[class]': 'cell().state', '(pointerenter)': 'near.set(true)', '(pointerleave)': 'near.set(false)' },
})
export class SheetCellView {
  readonly cell = input.required<SheetCell>();
  readonly requirement = input.required<Requirement>();
  readonly designId = input.required<string>();
  readonly designName = input.required<string>();
  readonly selected = input(false);
  readonly opened = output<void>();
  /** True when Shift asks for all from the last one to this. */
  readonly toggled = output<boolean>();

  /** True while a pointer is over the cell. */
  protected readonly near = signal(false);
  protected readonly word = computed(() => WORDS[this.cell().state]);
  protected readonly shape = computed(() => {
    const { widthPx, heightPx } = demandedCanvas(this.requirement());
    const factor = Math.min(74 / widthPx, 58 / heightPx);
    return { width: Math.round(widthPx * factor), height: Math.round(heightPx * factor) };
  });
  protected readonly source = computed(() => `/api/designs/${this.designId()}/miniature?requirement=${this.requirement().id}&size=160&r=${this.cell().miniature}`);
  protected readonly label = computed(() => {
    const { channel, name } = this.requirement();
    const { state, finding } = this.cell();
    return `${this.designName()} for ${channel}, ${name}: ${state.replaceAll('-', ' ')}${finding ? `, ${finding.toLowerCase()}` : ''}`;
  });

  protected open(event: MouseEvent): void {
    if (event.ctrlKey || event.metaKey || event.shiftKey) this.toggled.emit(event.shiftKey); else this.opened.emit();
  }

  protected keys(event: KeyboardEvent): void {
    if (event.key !== ' ') return;
    event.preventDefault();
    event.stopPropagation();
    this.toggled.emit(event.shiftKey);
  }
}
