import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { TargetState } from '@kettle/core/checks';
import { WORDS } from './state-words';

/** Mark of each state, drawn in place. */
const MARKS: Readonly<Record<TargetState, string>> = {
  ready: 'M4 8.5l3 3 5.5-6.5',
  'needs-work': 'M8 3.5v5.5M8 12.4v.1',
  'not-begun': 'M5 8a3 3 0 1 0 6 0a3 3 0 1 0-6 0',
  'not-made': 'M4 8h8',
  'out-of-date': 'M8 4.5V8l2.5 1.5M8 2.6a5.4 5.4 0 1 0 .1 0',
};

/** A state by mark, word and colour, never by colour alone. */
@Component({
  selector: 'ks-state-mark',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg viewBox="0 0 16 16" width="14" height="14" aria-hidden="true"><path [attr.d]="mark()" /></svg>
    {{ word() }}`,
  styles: `
    :host {
      display: inline-flex;
      align-items: center;
      gap: 5px;
      font: 600 11px var(--sans);
      white-space: nowrap;
    }
    svg {
      border-radius: 50%;
      flex: none;
    }
    path {
      fill: none;
      stroke: currentColor;
      stroke-width: 1.9;
      stroke-linecap: round;
      stroke-linejoin: round;
    }
    :host(.ready) {
      color: var(--ready);
    }
    :host(.ready) svg {
      background: var(--ready-ground);
    }
    :host(.needs-work) {
      color: var(--mend);
    }
    :host(.needs-work) svg {
      background: var(--mend-ground);
      border-radius: 3px;
    }
    :host(.out-of-date) {
      color: var(--stale);
    }
    :host(.out-of-date) svg {
      background: var(--stale-ground);
    }
    :host(.not-made),
    :host(.not-begun) {
      color: var(--quiet);
      font-weight: 500;
    }
  `,
  host: { '[class]': 'state()' },
})
export class StateMark {
  readonly state = input.required<TargetState>();
  protected readonly mark = computed(() => MARKS[this.state()]);
  protected readonly word = computed(() => WORDS[this.state()]);
}
