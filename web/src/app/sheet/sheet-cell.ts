import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { SheetCell } from '@kettle/contract';
import { demandedCanvas, type Requirement } from '@kettle/core';
import { StateMark } from './state-mark';

/** One cell: the print file in its true shape on the colour it is sold on, with its state. Enter opens, Space selects. */
@Component({
  selector: 'ks-sheet-cell',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [StateMark],
  template: `
    <button type="button" class="cell" data-cell [attr.aria-label]="label()" [attr.aria-pressed]="selected()" [class.selected]="selected()" [class.unmade]="cell().state === 'not-made'" (click)="open($event)" (keydown)="keys($event)">
      <span class="paper" [style.background]="cell().garment" [style.width.px]="shape().width" [style.height.px]="shape().height">
        <img [src]="source()" alt="" loading="lazy" [width]="shape().width" [height]="shape().height">
      </span>
      <ks-state-mark [state]="cell().state" />
    </button>
    <input type="checkbox" class="pick" tabindex="-1" [checked]="selected()" [attr.aria-label]="'Select ' + label()" (click)="toggled.emit($event.shiftKey)">
  `,
  styles: `
    :host { position: relative; display: block; }
    .cell { border: 0; background: none; cursor: pointer; display: flex; flex-direction: column; align-items: center; gap: 6px; padding: 5px 8px; border-radius: 10px; }
    .cell.selected { background: var(--enamel-light); outline: 2px solid var(--enamel); }
    .paper { display: block; border: 1px solid rgb(0 0 0 / 15%); border-radius: 2px; box-shadow: 0 1px 2px rgb(0 0 0 / 16%); box-sizing: content-box; }
    .unmade .paper { opacity: .5; box-shadow: none; border: 1.5px dashed var(--line); }
    img { display: block; }
    .pick { position: absolute; left: -8px; top: 4px; opacity: 0; accent-color: var(--enamel); }
    :host(:hover) .pick, .pick:checked, .pick:focus-visible { opacity: 1; }
  `,
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
