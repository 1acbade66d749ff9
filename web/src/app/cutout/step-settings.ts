import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import type { Box } from '@kettle/core/geometry';
import { MOST_SOFT_EDGE, SOME_HAZE, type ColourCut, type Treatment } from '@kettle/core/model';
import { ColourField } from '../artwork/colour-field';
import { Editor } from '../editor/editor';
import { Settings, amount, chips, oneOf, row, slide, type Chips, type Setting } from '../units/settings';
import { Swatches } from '../units/swatches';
import { Cutting } from './cutting';
import { titleOf } from '../editor/treatment-words';

/** Alpha from which a pixel counts as ink for a crop. */
const INK = 8;

/** Share of the art that becomes see-through inside before it is worth a word: less is a shadow or a shine. */
const WORTH_A_WORD = 0.03;

const TONES = [
  { key: 'lightness', label: 'Lightness', most: 100, factor: 100, unit: '%' },
  { key: 'contrast', label: 'Contrast', most: 100, factor: 100, unit: '%' },
  { key: 'saturation', label: 'Saturation', most: 100, factor: 100, unit: '%' },
  { key: 'hue', label: 'Hue', most: 180, factor: 1, unit: '°' },
  { key: 'warmth', label: 'Warmth', most: 100, factor: 100, unit: '%' },
] as const;

/** What the chosen step is set to, or which colour is asked for. */
@Component({
  selector: 'ks-step-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, ColourField, Settings, Swatches],
  templateUrl: './step-settings.html',
  styleUrl: './step-settings.scss',
})
export class StepSettings {
  protected readonly editor = inject(Editor);
  protected readonly cutting = inject(Cutting);
  protected readonly titleOf = titleOf;
  protected readonly offered = computed(() => [
    ...new Set([...(this.cutting.ready()?.colours ?? []), '#ffffff', '#000000']),
  ]);

  /** Percent of the art that became see-through inside, or null where that is little. */
  protected readonly through = computed(() => {
    const share = this.cutting.through()?.share ?? 0;
    return share < WORTH_A_WORD ? null : Math.round(share * 100);
  });

  /** What the chosen step is set to, field by field. */
  protected readonly fields = computed<readonly Setting[]>(() => {
    const step = this.cutting.chosen();
    return step ? this.fieldsOf(step) : [];
  });

  private fieldsOf(step: Treatment): readonly Setting[] {
    /** Sets a number of the step while it is slid; it is shown `factor` times as large. */
    const sets = (key: string, factor = 1) => ({
      set: (value: number) => this.cutting.set(step, { [key]: value / factor }, key),
      settle: () => this.cutting.settle(),
    });
    const half = { step: 0.5, digits: 1 };
    const inPrint = (px: number) => ({ ...half, unit: 'px', note: this.inMm(px) });
    const brush = this.cutting.brush();
    const brushSize = (label: string, range: { least: number; most: number; step: number }): Setting =>
      slide(label, brush.size * 100, {
        ...range,
        digits: 1,
        unit: '%',
        set: (size) => this.brush({ size: size / 100 }),
      });
    switch (step.kind) {
      case 'colour':
        return [
          slide('Tolerance', step.tolerance, { most: 120, ...half, ...sets('tolerance') }),
          slide('Soft edge', (step.soft ?? MOST_SOFT_EDGE) * 100, {
            most: MOST_SOFT_EDGE * 100,
            ...half,
            unit: '%',
            note: 'of the picture; more for wide glows and shadows',
            ...sets('soft', 100),
          }),
        ];
      case 'dissolve':
        return [slide('Clean ground', step.clean * 100, { most: 50, unit: '%', ...sets('clean', 100) })];
      case 'strokes':
        return [
          brushSize('Stroke', { least: 0.5, most: 12, step: 0.5 }),
          slide('Soft edge', step.hair * 1000, {
            most: 60,
            note: 'more for hair, fur and smoke',
            ...sets('hair', 1000),
          }),
          slide('Clean ground', (step.clean ?? SOME_HAZE) * 100, {
            most: 50,
            unit: '%',
            note: 'more where ground is seen between hairs',
            ...sets('clean', 100),
          }),
        ];
      case 'touch':
        return [
          brushSize('Brush', { least: 0.2, most: 20, step: 0.2 }),
          slide('Hardness', brush.hardness * 100, {
            unit: '%',
            set: (hardness) => this.brush({ hardness: hardness / 100 }),
          }),
        ];
      case 'edge': {
        // The size of a speck is told as the side of a square of as many pixels.
        const side = (label: string, key: 'specks' | 'pinholes'): Setting =>
          amount(label, Math.round(Math.sqrt(step[key])), {
            unit: 'px',
            least: 0,
            most: 1000,
            set: (px) => this.cutting.set(step, { [key]: px * px }),
          });
        return [
          slide('Shrink, grow', step.shift, { least: -20, most: 20, ...inPrint(step.shift), ...sets('shift') }),
          slide('Smooth', step.smooth, { most: 20, ...inPrint(step.smooth), ...sets('smooth') }),
          slide('Soften', step.soften, { most: 20, ...inPrint(step.soften), ...sets('soften') }),
          slide('Old colour out', step.decontaminate * 100, {
            unit: '%',
            note: 'edge pixels take the art’s own colour',
            ...sets('decontaminate', 100),
          }),
          side('Clear specks up to', 'specks'),
          side('Fill holes up to', 'pinholes'),
        ];
      }
      case 'crop': {
        const part = (label: string, key: keyof Box, least: number): Setting =>
          amount(label, step.box[key] * 100, {
            unit: '%',
            least,
            most: 99 + least,
            set: (percent) => this.cropBy({ [key]: percent / 100 }),
          });
        return [
          row(part('Left', 'x', 0), part('Top', 'y', 0)),
          row(part('Width', 'width', 1), part('Height', 'height', 1)),
        ];
      }
      case 'tone': {
        const toggle = (change: Partial<typeof step>) => () => this.cutting.set(step, change);
        return [
          ...TONES.map(({ key, label, most, factor, unit }) =>
            slide(label, step[key] * factor, { least: -most, most, unit, ...sets(key, factor) }),
          ),
          chips([
            {
              words: 'Invert lightness',
              on: step.turnedOver,
              title: 'Dark becomes light and light dark; hues stay',
              press: toggle({ turnedOver: !step.turnedOver }),
            },
            {
              words: 'One ink',
              on: step.ink !== null,
              press: toggle({ ink: step.ink === null ? (this.editor.colours()[0] ?? '#11564f') : null }),
            },
            {
              words: 'Black and white',
              on: step.threshold !== null,
              press: toggle({ threshold: step.threshold === null ? 0.5 : null }),
            },
          ]),
          ...(step.threshold === null
            ? []
            : [slide('From', step.threshold * 100, { unit: '%', ...sets('threshold', 100) })]),
        ];
      }
      default:
        return [];
    }
  }

  /** Whether the next stroke keeps or drops. */
  protected keepOrDrop(label: string, keep: string, drop: string): readonly Setting[] {
    const { keeping } = this.cutting;
    return [
      chips(
        [
          { words: keep, on: keeping(), press: () => keeping.set(true) },
          { words: drop, on: !keeping(), press: () => keeping.set(false) },
        ],
        label,
      ),
    ];
  }

  protected from(step: ColourCut): Chips {
    return oneOf(
      '',
      [
        { id: 'border', label: 'From the border' },
        ...(step.at ? ([{ id: 'point', label: 'From the click' }] as const) : []),
        { id: 'everywhere', label: 'Everywhere, holes too' },
      ] as const,
      step.from,
      (from) => this.cutting.set(step, { from }),
    );
  }

  protected whole(): Chips {
    const { marking } = this.cutting;
    return chips([
      { words: 'Show where', on: marking(), press: () => marking.set(!marking()) },
      { words: 'Keep it whole', press: () => this.cutting.keepWhole() },
    ]);
  }

  private inMm(px: number): string {
    return px === 0 ? '' : `${Math.abs(px * this.cutting.mmPerPixel()).toFixed(2)} mm in print`;
  }

  private brush(change: Partial<{ size: number; hardness: number }>): void {
    this.cutting.brush.update((brush) => ({ ...brush, ...change }));
  }

  protected cropBy(change: Partial<Box>): void {
    const chosen = this.cutting.chosen();
    if (chosen?.kind !== 'crop') return;
    const box = { ...chosen.box, ...change };
    this.cutting.cropTo({ ...box, width: Math.min(box.width, 1 - box.x), height: Math.min(box.height, 1 - box.y) });
    this.cutting.settle();
  }

  protected cropToInk(): void {
    const shown = this.cutting.shown();
    if (!shown) return;
    let [left, top, right, bottom] = [shown.width, shown.height, -1, -1];
    for (let y = 0, i = 3; y < shown.height; y++)
      for (let x = 0; x < shown.width; x++, i += 4) {
        if (shown.pixels[i] < INK) continue;
        left = Math.min(left, x);
        right = Math.max(right, x);
        top = Math.min(top, y);
        bottom = y;
      }
    if (right < 0) return;
    this.cutting.cropTo({
      x: left / shown.width,
      y: top / shown.height,
      width: (right - left + 1) / shown.width,
      height: (bottom - top + 1) / shown.height,
    });
    this.cutting.settle();
  }
}
