import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { mapLayers } from '@kettle/core/document';
import { MARK_SIDE } from '@kettle/core/checks';
import { Editor } from '../editor/editor';

const ROWS = ['upper', 'middle', 'lower'];
const COLUMNS = ['left', 'centre', 'right'];

/**
 * Parts of the selected layer that must not be lost where cloth is cut and sewn, as ninths of it. Shown once a design has
 * a target that is sewn.
 */
@Component({
  selector: 'ks-important-parts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (layer(); as layer) {
      <fieldset>
        <legend>Important parts</legend>
        <div class="parts" role="group" aria-label="Important parts">
          @for (name of names; track name) {
            <button
              type="button"
              [attr.aria-label]="name"
              [title]="name"
              [attr.aria-pressed]="isMarked($index)"
              (click)="toggle($index)"
            ></button>
          }
        </div>
        <p>
          {{ layer.important?.length ? 'Told when a seam or the scissors reach them.' : 'Mark what must not be cut.' }}
        </p>
      </fieldset>
    }
  `,
  styles: `
    .parts {
      display: grid;
      grid-template-columns: repeat(3, 1fr);
      gap: 3px;
      width: 96px;
    }
    button {
      height: 28px;
      border: 1px solid var(--rule);
      border-radius: 4px;
      background: var(--raised);
      cursor: pointer;
    }
    button[aria-pressed='true'] {
      background: var(--enamel);
      border-color: var(--enamel);
    }
    p {
      margin: 6px 0 0;
      color: var(--quiet);
      font-size: 12px;
    }
  `,
})
export class ImportantParts {
  private readonly editor = inject(Editor);
  protected readonly names = Array.from(
    { length: MARK_SIDE ** 2 },
    (_, i) => `${ROWS[Math.floor(i / MARK_SIDE)]} ${COLUMNS[i % MARK_SIDE]}`,
  );
  protected readonly layer = computed(() => {
    const held = this.editor.held();
    const sewn = this.editor.targets().some(({ requirement }) => requirement.panel);
    return sewn && held.length === 1 ? held[0] : null;
  });

  protected isMarked(part: number): boolean {
    return this.layer()?.important?.includes(part) ?? false;
  }

  protected toggle(part: number): void {
    const layer = this.layer();
    if (!layer) return;
    const before = layer.important ?? [];
    const parts = before.includes(part) ? before.filter((one) => one !== part) : [...before, part].toSorted();
    this.editor.edit(
      mapLayers([layer.id], ({ important: _before, ...rest }) => (parts.length ? { ...rest, important: parts } : rest)),
    );
    this.editor.desk.settle();
  }
}
