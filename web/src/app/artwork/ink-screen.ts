import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { finestScreen, type InkScreen } from '@kettle/core/raster';
import { mapLayers } from '@kettle/core/document';
import { USUAL_DOTS } from '@kettle/core/checks';
import { Editor } from '../editor/editor';
import { Tools } from '../editor/tools';
import { NumberField } from '../units/number-field';
import { SlideField } from '../units/slide-field';

/** How the semi-transparent ink of the selected layers is printed: as it is, solid, or as dots. */
@Component({
  selector: 'ks-ink-screen',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NumberField, SlideField],
  template: `
    <fieldset>
      <legend>Semi-transparent ink</legend>
      <div class="chips">
        <button type="button" class="chip" [attr.aria-pressed]="!screen()" (click)="set(null)">As it is</button>
        <button
          type="button"
          class="chip"
          [attr.aria-pressed]="screen()?.kind === 'solid'"
          (click)="set({ kind: 'solid', threshold: 0.5 })"
        >
          Solid
        </button>
        <button type="button" class="chip" [attr.aria-pressed]="screen()?.kind === 'dots'" (click)="set(dots)">
          Dots
        </button>
        <button
          type="button"
          class="chip"
          [attr.aria-pressed]="tools.showSoft()"
          title="Marks it on the canvas"
          (click)="tools.showSoft.set(!tools.showSoft())"
        >
          Show where
        </button>
      </div>
      @if (screen(); as screen) {
        @if (screen.kind === 'solid') {
          <ks-slide-field
            label="Solid from"
            unit="%"
            [value]="screen.threshold * 100"
            [least]="1"
            (moved)="set({ kind: 'solid', threshold: $event / 100 }, true)"
            (settled)="editor.desk.settle()"
          />
        } @else {
          <div class="pair">
            <ks-number-field
              label="Rows an inch"
              [value]="screen.lpi"
              [least]="5"
              [most]="finest()"
              (changed)="set({ kind: 'dots', lpi: $event, angle: screen.angle, shape: screen.shape })"
            />
            <ks-number-field
              label="Angle"
              unit="°"
              [value]="screen.angle"
              [least]="-180"
              [most]="180"
              (changed)="set({ kind: 'dots', lpi: screen.lpi, angle: $event, shape: screen.shape })"
            />
          </div>
          <div class="chips">
            @for (shape of shapes; track shape.id) {
              <button
                type="button"
                class="chip"
                [attr.aria-pressed]="screen.shape === shape.id"
                (click)="set({ kind: 'dots', lpi: screen.lpi, angle: screen.angle, shape: shape.id })"
              >
                {{ shape.label }}
              </button>
            }
          </div>
        }
      }
    </fieldset>
  `,
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0 0 12px;
      display: flex;
      flex-direction: column;
      gap: 6px;
    }
    legend {
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
      padding: 0;
      margin-bottom: 5px;
    }
    .pair {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 8px;
    }
  `,
})
export class InkScreenDetails {
  protected readonly editor = inject(Editor);
  protected readonly tools = inject(Tools);
  protected readonly dots = USUAL_DOTS;
  protected readonly shapes = [
    { id: 'round', label: 'Round' },
    { id: 'line', label: 'Lines' },
    { id: 'diamond', label: 'Diamonds' },
  ] as const;
  protected readonly screen = computed(() => this.editor.held()[0]?.screen ?? null);
  /** The finest that every target can hold. */
  protected readonly finest = computed(() =>
    Math.min(200, ...this.editor.targets().map((one) => Math.floor(finestScreen(one.layout.canvas.dpi)))),
  );

  protected set(screen: InkScreen | null, moving = false): void {
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
