import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import type { Box } from '@kettle/core/geometry';
import { MOST_SOFT_EDGE, SOME_HAZE, type Tone } from '@kettle/core/model';
import { ColourField } from '../artwork/colour-field';
import { Editor } from '../editor/editor';
import { NumberField } from '../units/number-field';
import { SlideField } from '../units/slide-field';
import { Cutting } from './cutting';
import { titleOf } from '../editor/treatment-words';

/** Alpha from which a pixel counts as ink for a crop. */
const INK = 8;

/** Share of the art that becomes see-through inside before it is worth a word: less is a shadow or a shine. */
const WORTH_A_WORD = 0.03;

/** What the chosen step is set to, or which colour is asked for. */
@Component({
  selector: 'ks-step-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, ColourField, NumberField, SlideField],
  templateUrl: './step-settings.html',
  styleUrl: './step-settings.scss',
})
export class StepSettings {
  protected readonly editor = inject(Editor);
  protected readonly cutting = inject(Cutting);
  protected readonly titleOf = titleOf;
  protected readonly someHaze = SOME_HAZE;
  protected readonly tones = [
    { key: 'lightness', label: 'Lightness', least: -100, factor: 100, unit: '%' },
    { key: 'contrast', label: 'Contrast', least: -100, factor: 100, unit: '%' },
    { key: 'saturation', label: 'Saturation', least: -100, factor: 100, unit: '%' },
    { key: 'hue', label: 'Hue', least: -180, factor: 1, unit: '°' },
    { key: 'warmth', label: 'Warmth', least: -100, factor: 100, unit: '%' },
  ] as const;
  protected readonly offered = computed(() => [
    ...new Set([...(this.cutting.ready()?.colours ?? []), '#ffffff', '#000000']),
  ]);

  protected readonly mostSoft = MOST_SOFT_EDGE;
  /** Percent of the art that became see-through inside, or null where that is little. */
  protected readonly through = computed(() => {
    const share = this.cutting.through()?.share ?? 0;
    return share < WORTH_A_WORD ? null : Math.round(share * 100);
  });

  protected inMm(px: number): string {
    return px === 0 ? '' : `${Math.abs(px * this.cutting.mmPerPixel()).toFixed(2)} mm in print`;
  }

  /** Side of a square of as many pixels, which is how the size of a speck is told. */
  protected readonly side = (pixels: number): number => Math.round(Math.sqrt(pixels));

  protected brush(change: Partial<{ size: number; hardness: number }>): void {
    this.cutting.brush.update((brush) => ({ ...brush, ...change }));
  }

  protected tone(step: Tone, key: (typeof this.tones)[number]['key'], value: number): void {
    this.cutting.set(step, { [key]: value }, key);
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
