import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatSliderModule } from '@angular/material/slider';
import {
  colourAt,
  mainColour,
  MAX_STOPS,
  twoColours,
  type Gradient,
  type GradientStop,
  type Paint,
} from '@kettle/core/model';
import { ChipRow, chip, choices, type Chip } from '../units/chips';
import { Settings, amount, row, type Setting } from '../units/settings';
import { ColourField } from './colour-field';

type Kind = 'none' | 'plain' | 'linear' | 'radial';
const KINDS: readonly { id: Kind; label: string; hint: string }[] = [
  { id: 'none', label: 'None', hint: 'Nothing inside' },
  { id: 'plain', label: 'Plain', hint: 'One colour' },
  { id: 'linear', label: 'Linear', hint: 'Colours along a line' },
  { id: 'radial', label: 'Radial', hint: 'Colours from the middle outwards' },
];

/** A fill: none, one colour, or a gradient whose stops have a place, a colour and an opacity each. */
@Component({
  selector: 'ks-paint-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, MatIconModule, MatSliderModule, ColourField, Settings],
  template: `
    <div class="row">
      <span class="label">{{ label() }}</span><ks-chips class="tight" [label]="label()" [of]="ways()" />
    </div>
    @if (plain(); as hex) {
      <ks-colour-field [label]="label()" [bare]="true" [hex]="hex" (changed)="$event && changed.emit($event)" />
    }
    @if (gradient(); as gradient) {
      <div class="run" [style.background-image]="css()">
        @for (stop of gradient.stops; track $index; let i = $index) {
          <button
            type="button"
            class="stop"
            [style.left.%]="stop.at * 100"
            [style.background]="stop.hex"
            [attr.aria-pressed]="i === at()"
            [attr.aria-label]="
              'Stop ' + (i + 1) + ' at ' + percent(stop.at) + ' %. Left and right move it, Delete removes it.'
            "
            (click)="at.set(i)"
            (keydown)="keys($event, i)"
            (pointerdown)="grab($event, i)"
          ></button>
        }
      </div>
      <ks-chips class="acts" [of]="acts(gradient)" />
      @if (stop(); as stop) {
        <ks-colour-field
          [label]="'Stop ' + (at() + 1)"
          [hex]="stop.hex"
          (changed)="$event && change({ hex: $event })"
        />
        <ks-settings [of]="numbers(gradient, stop)" />
      }
    }
  `,
  styles: `
    :host {
      display: block;
      margin-bottom: 10px;
    }
    .row {
      display: flex;
      justify-content: space-between;
      align-items: center;
      gap: 4px;
      margin-bottom: 5px;
    }
    .label {
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
      white-space: nowrap;
    }
    .run {
      position: relative;
      height: 22px;
      border-radius: 8px;
      border: 1px solid var(--rule);
      margin: 8px 8px 14px;
    }
    .stop {
      position: absolute;
      top: 11px;
      width: 15px;
      height: 19px;
      margin-left: -7px;
      border-radius: 4px;
      border: 2px solid #fff;
      box-shadow: 0 0 0 1px var(--line);
      cursor: ew-resize;
      padding: 0;
      touch-action: none;
    }
    .stop[aria-pressed='true'] {
      box-shadow: 0 0 0 2.5px var(--plum);
      z-index: 1;
    }
    .acts {
      margin-bottom: 8px;
    }
    ks-colour-field {
      margin-bottom: 6px;
    }
  `,
})
export class PaintField {
  readonly label = input.required<string>();
  readonly paint = input.required<Paint | null>();
  readonly changed = output<Paint | null>();
  protected readonly plain = computed(() => {
    const paint = this.paint();
    return typeof paint === 'string' ? paint : null;
  });
  protected readonly gradient = computed<Gradient | null>(() => {
    const paint = this.paint();
    return typeof paint === 'object' ? paint : null;
  });
  protected readonly kind = computed<Kind>(() => (this.paint() === null ? 'none' : (this.gradient()?.kind ?? 'plain')));
  protected readonly ways = computed(() => choices(KINDS, this.kind(), (kind) => this.turnInto(kind)));
  protected acts({ stops }: Gradient): readonly Chip[] {
    return [
      chip('Add a stop', () => this.add(), { disabled: stops.length >= MAX_STOPS }),
      chip('Remove', () => this.remove(this.at()), { disabled: stops.length < 3 }),
      chip('Turn round', () => this.reverse()),
      chip('Fade out', () => this.fade(), { title: 'The last stop runs into nothing' }),
    ];
  }
  /** Index of the chosen stop. */
  protected readonly at = linkedSignal<number, number>({
    source: () => this.gradient()?.stops.length ?? 0,
    computation: (count, before) => Math.min(before?.value ?? 0, Math.max(0, count - 1)),
  });
  protected readonly stop = computed<GradientStop | undefined>(() => this.gradient()?.stops[this.at()]);
  protected readonly css = computed(
    () =>
      `linear-gradient(to right, ${(this.gradient()?.stops ?? [])
        .map(
          ({ hex, opacity, at }) =>
            `${hex}${Math.round(opacity * 255)
              .toString(16)
              .padStart(2, '0')} ${at * 100}%`,
        )
        .join(', ')}), conic-gradient(#ddd 25%, #fff 0 50%, #ddd 0 75%, #fff 0)`,
  );

  protected percent(share: number): number {
    return Math.round(share * 100);
  }

  protected numbers({ kind, turn }: Gradient, stop: GradientStop): readonly Setting[] {
    const share = (label: string, key: 'at' | 'opacity'): Setting =>
      amount(label, this.percent(stop[key]), {
        unit: '%',
        least: 0,
        most: 100,
        set: (percent) => this.change({ [key]: percent / 100 }),
      });
    return [
      row(share('At', 'at'), share('Opacity of stop', 'opacity')),
      ...(kind === 'linear'
        ? [
            row(
              amount('Direction', turn, {
                unit: '°',
                least: -360,
                most: 360,
                set: (degrees) => this.emit({ turn: degrees }),
              }),
            ),
          ]
        : []),
    ];
  }

  private turnInto(kind: Kind): void {
    const [paint, gradient] = [this.paint(), this.gradient()];
    if (kind === this.kind()) return;
    if (kind === 'none') this.changed.emit(null);
    else if (kind === 'plain') this.changed.emit(mainColour(paint) ?? '#f2bd4b');
    else
      this.changed.emit(gradient ? { ...gradient, kind } : twoColours(mainColour(paint) ?? '#f2bd4b', '#ffffff', kind));
  }

  private emit(change: Partial<Gradient>): void {
    const gradient = this.gradient();
    if (gradient) this.changed.emit({ ...gradient, ...change });
  }
  private put(stops: readonly GradientStop[], chosen: GradientStop | null = null): void {
    const sorted = [...stops].sort((a, b) => a.at - b.at);
    this.emit({ stops: sorted });
    if (chosen) this.at.set(sorted.indexOf(chosen));
  }

  protected change(change: Partial<GradientStop>): void {
    const [stops, at] = [this.gradient()?.stops ?? [], this.at()];
    const changed = { ...stops[at], ...change };
    this.put(
      stops.map((stop, i) => (i === at ? changed : stop)),
      changed,
    );
  }

  /** A new stop in the middle of the widest gap, in the colour the gradient has there. */
  private add(): void {
    const gradient = this.gradient();
    if (!gradient) return;
    const { stops } = gradient;
    const widest = stops
      .slice(1)
      .reduce((best, stop, i) => (stop.at - stops[i].at > stops[best + 1].at - stops[best].at ? i : best), 0);
    const stop = colourAt(gradient, (stops[widest].at + stops[widest + 1].at) / 2);
    this.put([...stops, stop], stop);
  }

  protected remove(index: number): void {
    const stops = this.gradient()?.stops ?? [];
    if (stops.length > 2) this.put(stops.filter((_, i) => i !== index));
  }

  private reverse(): void {
    this.put((this.gradient()?.stops ?? []).map((stop) => ({ ...stop, at: 1 - stop.at })).reverse());
  }
  private fade(): void {
    const stops = this.gradient()?.stops ?? [];
    this.put(stops.map((stop, i) => (i === stops.length - 1 ? { ...stop, opacity: 0 } : stop)));
  }

  protected keys(event: KeyboardEvent, index: number): void {
    const stop = this.gradient()?.stops[index];
    const way = event.key === 'ArrowLeft' ? -0.01 : event.key === 'ArrowRight' ? 0.01 : 0;
    if (!stop || (!way && event.key !== 'Delete')) return;
    event.preventDefault();
    event.stopPropagation();
    this.at.set(index);
    if (way)
      this.change({
        at: Math.min(1, Math.max(0, Math.round((stop.at + way * (event.shiftKey ? 10 : 1)) * 100) / 100)),
      });
    else this.remove(index);
  }

  /** Drags a stop along the run. */
  protected grab(event: PointerEvent, index: number): void {
    this.at.set(index);
    const handle = event.currentTarget as HTMLElement;
    const run = handle.parentElement!.getBoundingClientRect();
    handle.setPointerCapture(event.pointerId);
    const move = (moved: PointerEvent): void =>
      this.change({ at: Math.round(Math.min(1, Math.max(0, (moved.clientX - run.left) / run.width)) * 100) / 100 });
    const end = (): void => {
      handle.removeEventListener('pointermove', move);
      handle.removeEventListener('pointerup', end);
    };
    handle.addEventListener('pointermove', move);
    handle.addEventListener('pointerup', end);
  }
}
