import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { Keyline } from '@kettle/core/model';
import { keylineOf, setKeyline, type KeylineOwner } from '@kettle/core/document';
import { Arranging } from '../editor/arranging';
import { Editor } from '../editor/editor';
import { Settings, chips, lengthOf, row } from '../units/settings';
import { ColourField } from './colour-field';

const USUAL: Keyline = { hex: '#ffffff', width: 2, gap: 0, join: 'round', holes: 'filled' };

/** A line around everything that is seen of a layer, a group, or the whole design. */
@Component({
  selector: 'ks-keyline-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ColourField, Settings],
  template: `
    @if (owner()) {
      <ks-settings [heading]="'Keyline around ' + word()" [of]="[toggle()]">
        @if (keyline(); as line) {
          <ks-colour-field label="Keyline" [hex]="line.hex" (changed)="change({ hex: $event ?? line.hex })" />
          <ks-settings [of]="fields()" />
        }
      </ks-settings>
    }
  `,
  styles: `
    :host {
      display: block;
      margin-bottom: 12px;
    }
  `,
})
export class KeylineDetails {
  private readonly editor = inject(Editor);
  private readonly arranging = inject(Arranging);
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

  protected readonly toggle = computed(() => {
    const line = this.keyline();
    return chips([
      {
        words: line ? 'A line around it' : 'Put a line around it',
        on: line !== null,
        press: () => this.set(line ? null : USUAL),
      },
    ]);
  });
  protected readonly fields = computed(() => {
    const line = this.keyline() ?? USUAL;
    const within = (mm: number, least: number): number => Math.min(100, Math.max(least, mm));
    return [
      row(
        lengthOf('Line width', line.width, { positive: true, set: (mm) => this.change({ width: within(mm, 0.05) }) }),
        lengthOf('Gap', line.gap, { set: (mm) => this.change({ gap: within(mm, 0) }) }),
      ),
      chips([
        { words: 'Round', on: line.join === 'round', press: () => this.change({ join: 'round' }) },
        { words: 'Sharp', on: line.join === 'sharp', press: () => this.change({ join: 'sharp' }) },
        {
          words: 'Holes filled',
          on: line.holes === 'filled',
          press: () => this.change({ holes: line.holes === 'filled' ? 'kept' : 'filled' }),
        },
      ]),
    ];
  });

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
