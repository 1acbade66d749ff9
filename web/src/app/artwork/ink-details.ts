import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import type { InkedLayer, Outline, OutlineJoin, OutlineSide, Paint } from '@kettle/core/model';
import { parameterOf, shapeDescription } from '@kettle/core/drawing';
import { isInked } from '@kettle/core/layers';
import { changeInk, changeShape, recolour } from '@kettle/core/document';
import { Editor } from '../editor/editor';
import { Settings, amount, lengthOf, oneOf, row, type Setting } from '../units/settings';
import { ColourField } from './colour-field';
import { PaintField } from './paint-field';

const DASHES: readonly { id: Outline['dash']; label: string }[] = [
  { id: 'solid', label: 'Solid' },
  { id: 'dashed', label: 'Dashed' },
  { id: 'dotted', label: 'Dotted' },
];
const SIDES: readonly { id: OutlineSide; label: string }[] = [
  { id: 'inside', label: 'Inside' },
  { id: 'centre', label: 'On the edge' },
  { id: 'outside', label: 'Outside' },
];
const JOINS: readonly { id: OutlineJoin; label: string }[] = [
  { id: 'round', label: 'Round' },
  { id: 'bevel', label: 'Bevel' },
  { id: 'mitre', label: 'Mitre' },
];

/** Numbers of a shape; fill and outline of a shape or lettering. */
@Component({
  selector: 'ks-ink-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ColourField, PaintField, Settings],
  template: `
    @if (parameters(); as parameters) {
      <ks-settings [of]="[parameters]" />
    }
    <ks-paint-field label="Fill" [paint]="layer().fill" (changed)="fill($event)" />
    @if (shared()) {
      <label class="everywhere"
        ><input #all type="checkbox" [checked]="together()" (change)="together.set(all.checked)" /> change it on all
        {{ shared() }} layers of this colour</label
      >
    }
    <ks-colour-field
      label="Outline"
      [hex]="layer().outline?.hex ?? null"
      [optional]="true"
      (changed)="outlineColour($event)"
    />
    @if (layer().outline) {
      <ks-settings [of]="outline()" />
    }
  `,
  styles: `
    :host {
      display: block;
    }
    ks-settings {
      margin-bottom: 10px;
    }
    .everywhere {
      display: flex;
      gap: 6px;
      align-items: center;
      font-size: 12px;
      color: var(--quiet);
      margin: -4px 0 10px;
      accent-color: var(--enamel);
    }
  `,
})
export class InkDetails {
  private readonly editor = inject(Editor);
  readonly layer = input.required<InkedLayer>();
  protected readonly parameters = computed(() => {
    const layer = this.layer();
    const all = layer.kind === 'shape' ? shapeDescription(layer.shape).parameters : [];
    return all.length
      ? row(
          ...all.map(({ key, label, unit, least, most }) =>
            amount(label, layer.kind === 'shape' ? parameterOf(layer, key) : 0, {
              unit,
              least,
              most,
              set: (value) => this.set(key, value),
            }),
          ),
        )
      : null;
  });
  protected readonly outline = computed<readonly Setting[]>(() => {
    const [{ outline }, factor] = [this.layer(), this.editor.current()?.layout.factor ?? 1];
    if (!outline) return [];
    return [
      row(
        lengthOf('Outline width', outline.width * factor, {
          positive: true,
          set: (mm) => this.changeOutline({ width: mm / factor }),
        }),
      ),
      oneOf('Side of the outline', SIDES, outline.side ?? 'centre', (side) => this.changeOutline({ side })),
      oneOf('Corners of the outline', JOINS, outline.join ?? 'round', (join) => this.changeOutline({ join })),
      oneOf('Dashes', DASHES, outline.dash, (dash) => this.changeOutline({ dash })),
    ];
  });

  private set(key: string, value: number): void {
    const layer = this.layer();
    if (layer.kind === 'shape')
      this.editor.editEverywhere(changeShape(layer.id, { ...layer.parameters, [key]: value }), `${key} ${layer.id}`);
  }

  protected fill(paint: Paint | null): void {
    const { fill, id } = this.layer();
    const plain = typeof fill === 'string' && typeof paint === 'string';
    if (plain && this.together() && this.shared()) this.editor.edit(recolour(fill, paint), 'fill everywhere');
    else if (plain && this.editor.alone()) this.editor.recolour([id], fill, paint, `fill ${id}`);
    else this.change({ fill: paint }, 'fill');
  }

  protected outlineColour(hex: string | null): void {
    const { outline, id } = this.layer();
    if (hex && outline && this.editor.alone()) this.editor.recolour([id], outline.hex, hex, `outline ${id}`);
    else this.change({ outline: hex === null ? null : { width: 2, dash: 'solid', ...outline, hex } }, 'outline');
  }

  private changeOutline(change: Partial<Outline>): void {
    const { outline } = this.layer();
    if (outline) this.change({ outline: { ...outline, ...change } }, 'outline');
  }

  /** True when a new fill goes to every layer that has the old one. */
  protected readonly together = signal(false);
  /** Number of layers with this one's plain fill, when there are several. */
  protected readonly shared = computed(() => {
    const { fill } = this.layer();
    if (typeof fill !== 'string' || this.editor.alone()) return 0;
    const count =
      this.editor.desk
        .document()
        ?.layers.filter(
          (one) => isInked(one) && typeof one.fill === 'string' && one.fill.toLowerCase() === fill.toLowerCase(),
        ).length ?? 0;
    return count > 1 ? count : 0;
  });

  private change(change: Parameters<typeof changeInk>[1], key: string): void {
    this.editor.editEverywhere(changeInk(this.layer().id, change), `${key} ${this.layer().id}`);
  }
}
