import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { finestScreen, type InkScreen } from '@kettle/core/raster';
import { mapLayers } from '@kettle/core/document';
import { USUAL_DOTS } from '@kettle/core/checks';
import { Editor } from '../editor/editor';
import { Tools } from '../editor/tools';
import { Settings, amount, chips, oneOf, row, slide, type Setting } from '../units/settings';

const SHAPES = [
  { id: 'round', label: 'Round' },
  { id: 'line', label: 'Lines' },
  { id: 'diamond', label: 'Diamonds' },
] as const;

/** How the semi-transparent ink of the selected layers is printed: as it is, solid, or as dots. */
@Component({
  selector: 'ks-ink-screen',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Settings],
  template: `<ks-settings heading="Semi-transparent ink" [of]="fields()" />`,
  styles: `
    :host {
      display: block;
      margin-bottom: 12px;
    }
  `,
})
export class InkScreenDetails {
  private readonly editor = inject(Editor);
  private readonly tools = inject(Tools);
  private readonly screen = computed(() => this.editor.held()[0]?.screen ?? null);
  /** The finest that every target can hold. */
  private readonly finest = computed(() =>
    Math.min(200, ...this.editor.targets().map((one) => Math.floor(finestScreen(one.layout.canvas.dpi)))),
  );

  protected readonly fields = computed<readonly Setting[]>(() => {
    const [screen, { showSoft }] = [this.screen(), this.tools];
    const how = chips([
      { words: 'As it is', on: !screen, press: () => this.set(null) },
      { words: 'Solid', on: screen?.kind === 'solid', press: () => this.set({ kind: 'solid', threshold: 0.5 }) },
      { words: 'Dots', on: screen?.kind === 'dots', press: () => this.set(USUAL_DOTS) },
      {
        words: 'Show where',
        on: showSoft(),
        title: 'Marks it on the canvas',
        press: () => showSoft.set(!showSoft()),
      },
    ]);
    if (!screen) return [how];
    if (screen.kind === 'solid')
      return [
        how,
        slide('Solid from', screen.threshold * 100, {
          unit: '%',
          least: 1,
          set: (percent) => this.set({ kind: 'solid', threshold: percent / 100 }, true),
          settle: () => this.editor.desk.settle(),
        }),
      ];
    return [
      how,
      row(
        amount('Rows an inch', screen.lpi, {
          least: 5,
          most: this.finest(),
          set: (lpi) => this.set({ ...screen, lpi }),
        }),
        amount('Angle', screen.angle, {
          unit: '°',
          least: -180,
          most: 180,
          set: (angle) => this.set({ ...screen, angle }),
        }),
      ),
      oneOf('', SHAPES, screen.shape, (shape) => this.set({ ...screen, shape })),
    ];
  });

  private set(screen: InkScreen | null, moving = false): void {
    this.editor.editEverywhere(
      mapLayers(this.editor.selection(), (layer) => {
        const { screen: _before, ...rest } = layer;
        return screen ? { ...rest, screen } : rest;
      }),
      `screen ${this.editor.selection().join()}`,
    );
    if (!moving) this.editor.desk.settle();
  }
}
