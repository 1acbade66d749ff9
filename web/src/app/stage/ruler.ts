import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { fromMm } from '@kettle/core/units';
import { Preferences } from '../data/preferences';

/** A ruler in the seller's unit along one edge of the stage. */
@Component({
  selector: 'ks-ruler',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.width]="across() ? length() : 26" [attr.height]="across() ? 20 : length()" aria-hidden="true">
      @for (tick of ticks(); track tick.at) {
        @if (across()) {
          <line [attr.x1]="tick.at" [attr.x2]="tick.at" [attr.y1]="tick.label === null ? 14 : 4" y2="20" />
          @if (tick.label !== null) {
            <text [attr.x]="tick.at + 4" y="12">{{ tick.label }}</text>
          }
        } @else {
          <line [attr.y1]="tick.at" [attr.y2]="tick.at" [attr.x1]="tick.label === null ? 20 : 6" x2="26" />
          @if (tick.label !== null) {
            <text [attr.transform]="'translate(10 ' + (tick.at + 4) + ') rotate(90)'">{{ tick.label }}</text>
          }
        }
      }
    </svg>
  `,
  styles: `
    :host {
      display: block;
      line-height: 0;
      overflow: hidden;
      background: var(--paper);
    }
    line {
      stroke: var(--line);
      stroke-width: 1;
      shape-rendering: crispEdges;
      opacity: 0.7;
    }
    text {
      font: 10px var(--sans);
      fill: var(--quiet);
    }
  `,
})
export class Ruler {
  private readonly preferences = inject(Preferences);
  readonly across = input(true);
  /** Length in px, px a mm, and where the canvas begins. */
  readonly length = input.required<number>();
  readonly scale = input.required<number>();
  readonly origin = input.required<number>();
  readonly dpi = input.required<number>();

  protected readonly ticks = computed(() => {
    const unitPx = this.scale() / fromMm(1, this.preferences.unit(), this.dpi());
    // Labels at a round number of units, at least 55 px apart, with five marks between.
    const wanted = 55 / unitPx;
    const power = 10 ** Math.floor(Math.log10(wanted));
    const step = [1, 2, 5, 10].map((n) => n * power).find((n) => n >= wanted) ?? 10 * power;
    const first = Math.ceil(-this.origin() / unitPx / step) * step;
    const ticks: { at: number; label: number | null }[] = [];
    for (let i = 0; first + (i * step) / 5 <= (this.length() - this.origin()) / unitPx; i++) {
      const value = first + (i * step) / 5;
      ticks.push({
        at: Math.round(this.origin() + value * unitPx),
        label: i % 5 === 0 ? Math.round(value * 100) / 100 : null,
      });
    }
    return ticks;
  });
}
