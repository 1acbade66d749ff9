import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { STRIP_BOX, type SheetCell } from '@kettle/contract';
import { demandedCanvas, type Requirement } from '@kettle/core/model';
import { WORDS } from '../parts/state-words';

/**
 * One cell: the print file in its true shape on the colour it is sold on, with its state. Enter opens, Space selects.
 */
@Component({
  selector: 'ks-sheet-cell',
  changeDetection: ChangeDetectionStrategy.OnPush,
  // A sheet shows thousands of cells: each is a button, its part of the row's one picture, and a word. The box to tick
  // is there once it is of use.
  template: `
    <button
      type="button"
      class="cell"
      data-cell
      [attr.aria-label]="label()"
      [attr.aria-pressed]="selected()"
      [class.selected]="selected()"
      (click)="open($event)"
      (keydown)="keys($event)"
    >
      <span
        class="art"
        [style.background-color]="cell().garment"
        [style.background-image]="strip()"
        [style.background-position]="position()"
        [style.width.px]="shape().width"
        [style.height.px]="shape().height"
      ></span>
      <span class="state">{{ word() }}</span>
    </button>
    @if (selected() || near()) {
      <input
        type="checkbox"
        class="pick"
        tabindex="-1"
        [checked]="selected()"
        [attr.aria-label]="'Select ' + label()"
        (click)="toggled.emit($event.shiftKey)"
      />
    }
  `,
  styleUrl: './sheet-cell.scss',
  host: { '[class]': 'cell().state', '(pointerenter)': 'near.set(true)', '(pointerleave)': 'near.set(false)' },
})
export class SheetCellView {
  readonly cell = input.required<SheetCell>();
  readonly requirement = input.required<Requirement>();
  /** CSS address of the small pictures of all targets of the design, and which of them is this cell's. */
  readonly strip = input.required<string>();
  readonly index = input.required<number>();
  readonly designName = input.required<string>();
  readonly selected = input(false);
  readonly opened = output<void>();
  /** True when Shift asks for all from the last one to this. */
  readonly toggled = output<boolean>();

  /** True while a pointer is over the cell. */
  protected readonly near = signal(false);
  protected readonly word = computed(() => {
    const { state, listing } = this.cell();
    return listing ? `${WORDS[state]} · ${listing}` : WORDS[state];
  });
  protected readonly shape = computed(() => {
    const { widthPx, heightPx } = demandedCanvas(this.requirement());
    const factor = Math.min(STRIP_BOX.width / widthPx, STRIP_BOX.height / heightPx);
    return { width: Math.round(widthPx * factor), height: Math.round(heightPx * factor) };
  });
  /** Where this target lies in the strip. */
  protected readonly position = computed(() => {
    const { width, height } = this.shape();
    return `${-(this.index() * STRIP_BOX.width + (STRIP_BOX.width - width) / 2)}px ${-(STRIP_BOX.height - height) / 2}px`;
  });
  protected readonly label = computed(() => {
    const { channel, name } = this.requirement();
    const { state, finding, listing } = this.cell();
    return `${this.designName()} for ${channel}, ${name}: ${state.replaceAll('-', ' ')}${finding ? `, ${finding.toLowerCase()}` : ''}${listing ? `, ${listing}` : ''}`;
  });

  protected open(event: MouseEvent): void {
    if (event.ctrlKey || event.metaKey || event.shiftKey) this.toggled.emit(event.shiftKey);
    else this.opened.emit();
  }

  protected keys(event: KeyboardEvent): void {
    if (event.key !== ' ') return;
    event.preventDefault();
    event.stopPropagation();
    this.toggled.emit(event.shiftKey);
  }
}
