import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import type { Box } from '@kettle/core/geometry';
import { markPixels } from '../paint/marked';
import { Editor } from '../editor/editor';
import { isTyping } from '../shell/finder';
import { Cutting } from './cutting';
import { PictureView, type Ground } from './picture-view';
import { StepSettings } from './step-settings';
import { iconOf, swatchOf, titleOf, WAYS, wordsOf } from '../editor/treatment-words';
import { UndoPair } from '../parts/undo-pair';
import { TreatPainter } from './treat-painter';

/** The place where one picture is made fit for cloth: its ground taken out, its edge cleaned, its tone changed. */
@Component({
  selector: 'ks-cut-out',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [UndoPair, MatButtonModule, MatIconModule, PictureView, StepSettings],
  providers: [TreatPainter, Cutting],
  templateUrl: './cut-out.html',
  styleUrl: './cut-out.scss',
  host: {
    '(document:keydown)': 'keys($event)',
    '(document:keyup)': 'released($event)',
  },
})
export class CutOut {
  protected readonly editor = inject(Editor);
  protected readonly cutting = inject(Cutting);
  readonly layerId = input.required<string>();
  protected readonly ways = WAYS;
  protected readonly titleOf = titleOf;
  protected readonly wordsOf = wordsOf;
  protected readonly iconOf = iconOf;
  protected readonly hexOf = swatchOf;
  /** True while the picture is shown as it came. */
  protected readonly before = signal(false);
  protected readonly chosenGround = signal<Ground | null>(null);
  protected readonly ground = computed<Ground>(
    () => this.chosenGround() ?? { kind: 'colour', hex: this.editor.current()?.garment ?? '#ffffff' },
  );
  protected readonly grounds = computed<readonly { name: string; ground: Ground }[]>(() => [
    ...(this.editor.current()?.requirement.colourways ?? [])
      .slice(0, 10)
      .map(({ name, hex }) => ({ name, ground: { kind: 'colour', hex } as const })),
    { name: 'Checker', ground: { kind: 'checker' } },
    { name: 'The mask itself', ground: { kind: 'mask' } },
  ]);
  protected readonly source = computed(() => new Uint8ClampedArray(this.cutting.ready()?.pixels ?? new ArrayBuffer(0)));
  protected readonly pixels = computed(() => {
    const shown = this.cutting.shown();
    if (this.before() || !shown) return this.source();
    const through = this.cutting.marking() ? this.cutting.through() : null;
    if (through?.where.length !== shown.width * shown.height) return shown.pixels;
    const marked = shown.pixels.slice();
    markPixels(marked, (n) => through.where[n] === 1);
    return marked;
  });
  protected readonly pixelWidth = computed(() => {
    const [ready, shown] = [this.cutting.ready(), this.cutting.shown()];
    return this.before() || !shown ? (ready?.width ?? 1) : shown.width;
  });
  protected readonly strokes = computed(() => {
    const chosen = this.cutting.chosen();
    return !this.before() && (chosen?.kind === 'strokes' || chosen?.kind === 'touch') ? chosen.strokes : [];
  });
  protected readonly cropShown = computed<Box | null>(() => {
    const { width, height } = this.cutting.crop();
    const cropping = this.cutting.chosen()?.kind === 'crop';
    return !this.before() && (cropping || width < 1 || height < 1) ? this.cutting.crop() : null;
  });
  protected readonly said = computed(() => {
    const ready = this.cutting.ready();
    if (!ready) return '';
    const reach = this.editor.alone() ? ` · only ${this.editor.current()?.requirement.name}` : '';
    return `${ready.wholeWidth} × ${ready.wholeHeight} px${this.cutting.working() ? ' · working …' : ''}${reach}`;
  });

  constructor() {
    effect(() => {
      const id = this.layerId();
      untracked(() => {
        const layer = this.editor.layers().find((one) => one.id === id);
        if (layer?.kind === 'picture') this.cutting.open(layer);
        else this.editor.place.set(null);
      });
    });
  }

  protected again(): void {
    const layer = this.cutting.layer();
    if (layer) this.cutting.open(layer);
  }

  protected isGround(ground: Ground): boolean {
    const now = this.ground();
    return now.kind === 'colour' && ground.kind === 'colour' ? now.hex === ground.hex : now.kind === ground.kind;
  }

  protected keys(event: KeyboardEvent): void {
    if (isTyping(event.target)) return;
    if (event.ctrlKey || event.metaKey) {
      const key = `${event.shiftKey ? 'shift ' : ''}${event.key.toLowerCase()}`;
      if (key !== 'z' && key !== 'shift z' && key !== 'y') return;
      event.preventDefault();
      if (key === 'z') this.cutting.undo();
      else this.cutting.redo();
    } else if (event.key === '.') this.before.set(true);
    else if (event.key === 'Escape') {
      if (this.cutting.asking()) this.cutting.asking.set(null);
      else if (!this.cutting.changed()) this.cutting.leave();
    }
  }

  protected released(event: KeyboardEvent): void {
    if (event.key === '.') this.before.set(false);
  }
}
