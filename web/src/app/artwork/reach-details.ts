import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { exceptionWords } from '@kettle/core/document';
import { Arranging } from '../editor/arranging';
import { Editor } from '../editor/editor';

/** How far a change of layers reaches, and what the chosen target does differently already. */
@Component({
  selector: 'ks-reach-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (editor.targets().length > 1) {
      <fieldset>
        <legend>A change reaches</legend>
        <div class="chips">
          <button type="button" class="chip" [attr.aria-pressed]="!editor.alone()" (click)="editor.alone.set(false)">
            Every target</button
          ><button
            type="button"
            class="chip"
            [attr.aria-pressed]="editor.alone()"
            title="Moving, sizing, hiding and recolouring"
            (click)="editor.alone.set(true)"
          >
            Only {{ editor.current()?.requirement?.name }}
          </button>
        </div>
      </fieldset>
    }
    @if (words(); as words) {
      <p class="own">
        <span><b>Only here:</b> {{ words }}</span
        ><button type="button" class="chip" (click)="arranging.dropExceptions()">As everywhere</button>
      </p>
    }
  `,
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0 0 10px;
    }
    legend {
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
      padding: 0;
      margin-bottom: 5px;
    }
    .own {
      display: flex;
      justify-content: space-between;
      align-items: center;
      gap: 8px;
      background: color-mix(in srgb, var(--plum) 14%, transparent);
      border-radius: 10px;
      padding: 6px 10px;
      margin: 0 0 10px;
      font-size: 12.5px;
    }
  `,
})
export class ReachDetails {
  protected readonly editor = inject(Editor);
  protected readonly arranging = inject(Arranging);
  /** What this target does differently with the selected layers. */
  protected readonly words = computed(() => {
    const exceptions = this.editor.current()?.target.layers ?? {};
    const selection = this.editor.selection();
    const layers =
      this.editor.desk.document()?.layers.filter((layer) => selection.includes(layer.id) && exceptions[layer.id]) ?? [];
    return [...new Set(layers.flatMap((layer) => exceptionWords(exceptions[layer.id], layer)))].join(', ');
  });
}
