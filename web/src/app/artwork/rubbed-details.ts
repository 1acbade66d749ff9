import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { RubStroke } from '@kettle/core/model';
import { withRubbed } from '@kettle/core/drawing';
import { mapLayers } from '@kettle/core/document';
import { Editor } from '../editor/editor';
import { Tools } from '../editor/tools';
import { Settings, chips, slide, type Setting } from '../units/settings';

/** What the eraser took away from the selected layers: a step that can be softened and taken back. */
@Component({
  selector: 'ks-rubbed-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Settings],
  template: `<ks-settings
    [heading]="count() ? 'Rubbed out: ' + (count() === 1 ? '1 stroke' : count() + ' strokes') : 'Eraser'"
    [of]="fields()"
  />`,
  styles: `
    :host {
      display: block;
      margin-bottom: 12px;
    }
  `,
})
export class RubbedDetails {
  private readonly editor = inject(Editor);
  private readonly tools = inject(Tools);
  private readonly strokes = computed(() => this.editor.held().flatMap((layer) => layer.rubbed ?? []));
  protected readonly count = computed(() => this.strokes().length);
  protected readonly fields = computed<readonly Setting[]>(() => {
    const count = this.count();
    return [
      chips([
        { words: count ? 'Rub out more' : 'Rub out', press: () => this.rub() },
        ...(count
          ? [
              { words: 'Bring the last back', press: () => this.keep(-1) },
              { words: 'Bring all of it back', press: () => this.keep(0) },
            ]
          : []),
      ]),
      ...(count
        ? [
            slide('Soft edge', Math.round((1 - (this.strokes().at(-1)?.hardness ?? 1)) * 100), {
              unit: '%',
              set: (percent) => this.soften(1 - percent / 100),
            }),
          ]
        : []),
    ];
  });

  private rub(): void {
    this.tools.change({ erase: true });
    this.tools.drawing.set(true);
  }

  private soften(hardness: number): void {
    this.change((rubbed) => rubbed.map((stroke) => ({ ...stroke, hardness })), 'soften');
  }

  /** Keeps the first strokes of each layer, or all but the last ones. */
  private keep(to: number): void {
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
