import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { changeInk, changeShape, parameterOf, recolour, shapeDescription, type Outline, type VectorLayer } from '@kettle/core';
import { Bench } from '../bench/bench';
import { LengthField } from '../units/length-field';
import { NumberField } from '../units/number-field';
import { ColourField } from './colour-field';

const DASHES: readonly { id: Outline['dash']; label: string }[] = [{ id: 'solid', label: 'Solid' }, { id: 'dashed', label: 'Dashed' }, { id: 'dotted', label: 'Dotted' }];

/** Numbers of a shape; fill and outline of a shape or lettering. */
@Component({
  selector: 'ks-shape-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ColourField, LengthField, NumberField],
  template: `
    @if (parameters().length) {
      <div class="pair">
        @for (parameter of parameters(); track parameter.key) {
          <ks-number-field [label]="parameter.label" [unit]="parameter.unit" [least]="parameter.least" [most]="parameter.most" [value]="value(parameter.key)" (changed)="set(parameter.key, $event)" />
        }
      </div>
    }
    <ks-colour-field label="Fill" [hex]="layer().fill" [optional]="true" (changed)="fill($event)" />
    @if (shared()) { <label class="everywhere"><input #all type="checkbox" [checked]="together()" (change)="together.set(all.checked)"> change it on all {{ shared() }} layers of this colour</label> }
    <ks-colour-field label="Outline" [hex]="layer().outline?.hex ?? null" [optional]="true" (changed)="outlineColour($event)" />
    @if (layer().outline; as outline) {
      <div class="pair">
        <ks-length-field label="Outline width" [mm]="outline.width * factor()" [positive]="true" (changed)="changeOutline({ width: $event / factor() })" />
        <div class="dashes" role="group" aria-label="Dashes">@for (dash of dashes; track dash.id) { <button type="button" class="chip" [attr.aria-pressed]="outline.dash === dash.id" (click)="changeOutline({ dash: dash.id })">{{ dash.label }}</button> }</div>
      </div>
    }
  `,
  styles: `:host { display: block; } .pair { margin-bottom: 10px; align-items: end; } .dashes { display: flex; flex-wrap: wrap; gap: 4px; } .everywhere { display: flex; gap: 6px; align-items: center; font-size: 12px; color: var(--quiet); margin: -4px 0 10px; accent-color: var(--enamel); }`,
})
export class ShapeDetails {
  private readonly bench = inject(Bench);
  readonly layer = input.required<VectorLayer>();
  protected readonly dashes = DASHES;
  protected readonly parameters = computed(() => { const layer = this.layer(); return layer.kind === 'shape' ? shapeDescription(layer.shape).parameters : []; });
  protected readonly factor = computed(() => this.bench.current()?.layout.factor ?? 1);

  protected value(key: string): number { const layer = this.layer(); return layer.kind === 'shape' ? parameterOf(layer, key) : 0; }
  protected set(key: string, value: number): void { const layer = this.layer(); if (layer.kind === 'shape') this.bench.desk.edit(changeShape(layer.id, { ...layer.parameters, [key]: value }), `${key} ${layer.id}`); }
  protected fill(hex: string | null): void {
    const { fill } = this.layer();
    if (hex && fill && this.together() && this.shared()) this.bench.desk.edit(recolour(fill, hex), 'fill everywhere');
    else this.change({ fill: hex }, 'fill');
  }
  protected outlineColour(hex: string | null): void { this.change({ outline: hex === null ? null : { width: 2, dash: 'solid', ...this.layer().outline, hex } }, 'outline'); }
  protected changeOutline(change: Partial<Outline>): void { const { outline } = this.layer(); if (outline) this.change({ outline: { ...outline, ...change } }, 'outline'); }

  /** True when a new fill goes to every layer that has the old one. */
  protected readonly together = signal(false);
  /** Number of layers with this one's fill, when there are several. */
  protected readonly shared = computed(() => {
    const { fill } = this.layer();
    const count = this.bench.desk.document()?.layers.filter((one) => one.kind !== 'picture' && fill !== null && one.fill?.toLowerCase() === fill.toLowerCase()).length ?? 0;
    return count > 1 ? count : 0;
  });

  private change(change: Parameters<typeof changeInk>[1], key: string): void { this.bench.desk.edit(changeInk(this.layer().id, change), `${key} ${this.layer().id}`); }
}
