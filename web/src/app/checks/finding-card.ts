import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import type { Box } from '@kettle/core/geometry';
import type { Finding, Fix } from '@kettle/core/checks';

const LOOK = {
  blocks: { icon: 'exclamation-mark', word: 'Needs work' },
  warns: { icon: 'alert-triangle', word: 'Look at this' },
  tells: { icon: 'info-circle', word: 'Good to know' },
} as const;

/** The icon of a finding's severity. */
export const findingIcon = ({ severity }: Finding): string => LOOK[severity].icon;

/** A finding: what, where, why, and the fix where one exists. */
@Component({
  selector: 'ks-finding-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule],
  template: `
    <mat-icon [svgIcon]="look().icon" aria-hidden="true" />
    <div>
      <b
        >{{ finding().title }} <span class="sr-only">({{ look().word }})</span></b
      >
      <p>{{ finding().sentence }}</p>
      @if (finding().accepted !== undefined) {
        <p>Accepted: {{ finding().accepted || 'without a reason' }}</p>
      }
      @if (finding().fix; as fix) {
        <button type="button" class="fix" (click)="mended.emit(finding())">{{ fix.label }}</button>
      }
      @if (finding().also; as other) {
        <button type="button" class="fix" (click)="mended.emit(otherWay(other))">{{ other.label }}</button>
      }
    </div>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 20px 1fr;
      gap: 8px;
      border: 1px solid color-mix(in srgb, var(--mend) 25%, transparent);
      background: var(--mend-ground);
      border-radius: 12px;
      padding: 10px 12px;
      margin-bottom: 10px;
    }
    :host(.warns) {
      background: var(--stale-ground);
      border-color: color-mix(in srgb, var(--stale) 25%, transparent);
    }
    :host(.tells) {
      background: var(--tells-ground);
      border-color: color-mix(in srgb, var(--tells) 22%, transparent);
    }
    mat-icon {
      color: var(--mend);
      margin-top: 1px;
    }
    :host(.warns) mat-icon {
      color: var(--stale);
    }
    :host(.tells) mat-icon {
      color: var(--tells);
    }
    b {
      font-weight: 650;
    }
    p {
      margin: 2px 0 0;
      font-size: 12.5px;
    }
    .fix {
      margin-top: 8px;
      border: 0;
      background: var(--night);
      color: #fff;
      font: 600 12px var(--sans);
      padding: 6px 11px;
      border-radius: 8px;
      cursor: pointer;
    }
    .fix + .fix {
      margin-left: 6px;
    }
  `,
  host: {
    '[class]': 'finding().severity',
    '(mouseenter)': 'pointed.emit(places())',
    '(focusin)': 'pointed.emit(places())',
    '(mouseleave)': 'pointed.emit([])',
    '(focusout)': 'pointed.emit([])',
  },
})
export class FindingCard {
  readonly finding = input.required<Finding>();
  readonly mended = output<Finding>();
  /** Where it is, canvas mm, while a hand or the keyboard is on it; nowhere after that. */
  readonly pointed = output<readonly Box[]>();
  protected readonly places = computed<readonly Box[]>(() => {
    const { places, where } = this.finding();
    return places ?? (where ? [where] : []);
  });
  /** The finding with its other way of mending in place of the first. */
  protected otherWay(fix: Fix): Finding {
    return { ...this.finding(), fix };
  }
  protected readonly look = computed(() => LOOK[this.finding().severity]);
}
