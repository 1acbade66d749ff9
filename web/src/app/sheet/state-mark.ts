import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import type { CellState } from '@kettle/contract';

const MARKS: Readonly<Record<CellState, { word: string; icon: string }>> = {
  ready: { word: 'ready', icon: 'check' }, 'needs-work': { word: 'needs work', icon: 'exclamation-mark' },
  'not-made': { word: 'not made', icon: 'minus' }, 'out-of-date': { word: 'out of date', icon: 'clock' },
};

/** A state by mark, word and colour, never by colour alone. */
@Component({
  selector: 'ks-state-mark',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule],
  template: `<mat-icon [svgIcon]="mark().icon" aria-hidden="true" /> {{ mark().word }}`,
  styles: `
    :host { display: inline-flex; align-items: center; gap: 5px; font: 600 11px var(--sans); white-space: nowrap; }
    mat-icon.mat-icon { width: 14px; height: 14px; padding: 1px; border-radius: 50%; stroke-width: 3; }
    :host(.ready) { color: var(--ready); } :host(.ready) mat-icon { background: var(--ready-ground); }
    :host(.needs-work) { color: var(--mend); } :host(.needs-work) mat-icon { background: var(--mend-ground); border-radius: 3px; }
    :host(.out-of-date) { color: var(--stale); } :host(.out-of-date) mat-icon { background: var(--stale-ground); }
    :host(.not-made) { color: var(--quiet); font-weight: 500; }
  `,
  host: { '[class]': 'state()' },
})
export class StateMark {
  readonly state = input.required<CellState>();
  protected readonly mark = computed(() => MARKS[this.state()]);
}
