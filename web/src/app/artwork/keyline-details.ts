import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { Keyline } from '@kettle/core/model';
import { keylineOf, setKeyline, type KeylineOwner } from '@kettle/core/document';
import { Arranging } from '../editor/arranging';
import { Editor } from '../editor/editor';
import { LengthField } from '../units/length-field';
import { ColourField } from './colour-field';

const USUAL: Keyline = { hex: '#ffffff', width: 2, gap: 0, join: 'round', holes: 'filled' };

/** A line around everything that is seen of a layer, a group, or the whole design. */
@Component({
  selector: 'ks-keyline-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ColourField, LengthField],
  template: `
    @if (owner(); as owner) {
      <fieldset>
        <legend>Keyline around {{ word() }}</legend>
        <div class="chips">
          <button
            type="button"
            class="chip"
            [attr.aria-pressed]="keyline() !== null"
            (click)="set(keyline() ? null : usual)"
          >
            {{ keyline() ? 'A line around it' : 'Put a line around it' }}
          </button>
        </div>
        @if (keyline(); as line) {
          <ks-colour-field label="Keyline" [hex]="line.hex" (changed)="change({ hex: $event ?? line.hex })" />
          <div class="pair">
            <ks-length-field
              label="Line width"
              [mm]="line.width"
              [positive]="true"
              (changed)="change({ width: within($event, 0.05) })"
            />
            <ks-length-field label="Gap" [mm]="line.gap" (changed)="change({ gap: within($event, 0) })" />
          </div>
          <div class="chips">
            <button
              type="button"
              class="chip"
              [attr.aria-pressed]="line.join === 'round'"
              (click)="change({ join: 'round' })"
            >
              Round
            </button>
            <button
              type="button"
              class="chip"
              [attr.aria-pressed]="line.join === 'sharp'"
              (click)="change({ join: 'sharp' })"
            >
              Sharp
            </button>
            <button
              type="button"
              class="chip"
              [attr.aria-pressed]="line.holes === 'filled'"
              (click)="change({ holes: line.holes === 'filled' ? 'kept' : 'filled' })"
            >
              Holes filled
            </button>
          </div>
        }
      </fieldset>
    }
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
export class KeylineDetails {
  private readonly editor = inject(Editor);
  private readonly arranging = inject(Arranging);
  protected readonly usual = USUAL;
  protected readonly owner = computed<KeylineOwner | null>(() => {
    const held = this.editor.held();
    if (!held.length) return { kind: 'design' };
    if (held.length === 1) return { kind: 'layer', id: held[0].id };
    return this.arranging.isGroup() && held[0].group ? { kind: 'group', key: held[0].group } : null;
  });
  protected readonly word = computed(
    () => ({ design: 'the whole design', layer: 'this layer', group: 'this group' })[this.owner()?.kind ?? 'design'],
  );
  protected readonly keyline = computed<Keyline | null>(() => {
    const [design, owner] = [this.editor.current()?.design ?? this.editor.desk.document(), this.owner()];
    return design && owner ? keylineOf(design, owner) : null;
  });

  protected readonly within = (mm: number, least: number): number => Math.min(100, Math.max(least, mm));

  protected change(change: Partial<Keyline>): void {
    const line = this.keyline();
    if (line) this.set({ ...line, ...change });
  }

  protected set(keyline: Keyline | null): void {
    const [owner, current] = [this.owner(), this.editor.current()];
    if (!owner) return;
    this.editor.edit(
      setKeyline(
        owner,
        keyline,
        this.editor.alone() && current ? { requirementId: current.requirement.id, cloth: current.cloth } : null,
      ),
      `keyline ${JSON.stringify(owner)}`,
    );
    this.editor.desk.settle();
  }
}
