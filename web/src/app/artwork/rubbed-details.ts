import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatSliderModule } from '@angular/material/slider';
import type { RubStroke } from '@kettle/core/model';
import { withRubbed } from '@kettle/core/drawing';
import { mapLayers } from '@kettle/core/document';
import { Editor } from '../editor/editor';
import { Tools } from '../editor/tools';

/** What the eraser took away from the selected layers: a step that can be softened and taken back. */
@Component({
  selector: 'ks-rubbed-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatSliderModule],
  template: `
    <fieldset>
      <legend>{{ count() ? 'Rubbed out: ' + (count() === 1 ? '1 stroke' : count() + ' strokes') : 'Eraser' }}</legend>
      <div class="chips">
        <button type="button" class="chip" (click)="rub()">{{ count() ? 'Rub out more' : 'Rub out' }}</button>
        @if (count()) {
          <button type="button" class="chip" (click)="keep(-1)">Bring the last back</button>
          <button type="button" class="chip" (click)="keep(0)">Bring all of it back</button>
        }
      </div>
      @if (count()) {
        <div class="slider">
          <span id="rubbed-edge">Soft edge</span
          ><mat-slider min="0" max="100" step="1"
            ><input
              matSliderThumb
              aria-labelledby="rubbed-edge"
              [value]="softness()"
              (valueChange)="soften($event)" /></mat-slider
          ><b>{{ softness() }} %</b>
        </div>
      }
    </fieldset>
  `,
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0 0 12px;
    }
    legend {
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
      padding: 0;
      margin-bottom: 5px;
    }
    .slider {
      display: grid;
      grid-template-columns: 66px 1fr 44px;
      align-items: center;
      font-size: 12px;
      color: var(--quiet);
    }
    .slider mat-slider {
      min-width: 0;
      width: auto;
    }
    .slider b {
      text-align: right;
    }
  `,
})
export class RubbedDetails {
  private readonly editor = inject(Editor);
  private readonly tools = inject(Tools);
  private readonly strokes = computed(() => this.editor.held().flatMap((layer) => layer.rubbed ?? []));
  protected readonly count = computed(() => this.strokes().length);
  protected readonly softness = computed(() => Math.round((1 - (this.strokes().at(-1)?.hardness ?? 1)) * 100));

  protected rub(): void {
    this.tools.change({ erase: true });
    this.tools.drawing.set(true);
  }

  protected soften(percent: number): void {
    const hardness = 1 - percent / 100;
    this.change((rubbed) => rubbed.map((stroke) => ({ ...stroke, hardness })), 'soften');
  }

  /** Keeps the first strokes of each layer, or all but the last ones. */
  protected keep(to: number): void {
    this.change((rubbed) => rubbed.slice(0, to), null);
    this.editor.desk.settle();
  }

  private change(to: (rubbed: readonly RubStroke[]) => readonly RubStroke[], mergeKey: string | null): void {
    const ids = this.editor
      .held()
      .filter((layer) => layer.rubbed && !layer.locked)
      .map((layer) => layer.id);
    this.editor.editEverywhere(
      mapLayers(ids, (layer) => withRubbed(layer, to(layer.rubbed ?? []))),
      `${mergeKey ?? 'rubbed'} ${ids.join()}`,
    );
  }
}
