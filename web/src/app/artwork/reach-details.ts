import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { exceptionWords } from '@kettle/core/document';
import { Arranging } from '../editor/arranging';
import { Editor } from '../editor/editor';
import { Settings, chips } from '../units/settings';

/** How far a change of layers reaches, and what the chosen target does differently already. */
@Component({
  selector: 'ks-reach-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Settings],
  template: `
    @if (editor.targets().length > 1) {
      <ks-settings heading="A change reaches" [of]="[reach()]" />
    }
    @if (words(); as words) {
      <p class="own">
        <span><b>Only here:</b> {{ words }}</span
        ><button type="button" class="chip" (click)="arranging.dropExceptions()">As everywhere</button>
      </p>
    }
  `,
  styles: `
    ks-settings {
      margin-bottom: 10px;
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
  protected readonly reach = computed(() => {
    const { alone, current } = this.editor;
    return chips([
      { words: 'Every target', on: !alone(), press: () => alone.set(false) },
      {
        words: `Only ${current()?.requirement.name}`,
        on: alone(),
        title: 'Moving, sizing, hiding and recolouring',
        press: () => alone.set(true),
      },
    ]);
  });
  /** What this target does differently with the selected layers. */
  protected readonly words = computed(() => {
    const exceptions = this.editor.current()?.target.layers ?? {};
    const selection = this.editor.selection();
    const layers =
      this.editor.desk.document()?.layers.filter((layer) => selection.includes(layer.id) && exceptions[layer.id]) ?? [];
    return [...new Set(layers.flatMap((layer) => exceptionWords(exceptions[layer.id], layer)))].join(', ');
  });
}
