import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { changeShape, parameterOf, recolour, shapeDescription, type Outline, type ShapeLayer } from '@kettle/core';
import { Bench } from '../bench/bench';
import { LengthField } from '../units/length-field';
import { NumberField } from '../units/number-field';
import { ColourField } from './colour-field';

const DASHES: readonly { id: Outline['dash']; label: string }[] = [{ id: 'solid', label: 'Solid' }, { id: 'dashed', label: 'Dashed' }, { id: 'dotted', label: 'Dotted' }];

/** Numbers, fill and outline of a shape. */
@Component({
  selector: 'ks-shape-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ColourField, LengthField, NumberField],
  template: `
    @if (description().parameters.length) {
      <div class="pair">
        @for (parameter of description().parameters; track parameter.key) {
          <ks-number-field [label]="parameter.label" [unit]="parameter.unit" [least]="parameter.least" [most]="parameter.most" [value]="value(parameter.key)" (changed)="set(parameter.key, $event)" />
        }
      </div>
    }
    <ks-colour-field label="Fill" [hex]="layer().fill" [optional]="true" (changed)="fill($event)" />
    @if (shared()) { <label class="everywhere"><input #all type="checkbox" [checked]="together()" (change)="together.set(all.checked)"> change it on all {{ shared() }} shapes</label> }
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
  readonly layer = input.required<ShapeLayer>();
  protected readonly dashes = DASHES;
  protected readonly description = computed(() => shapeDescription(this.layer().shape));
  protected readonly factor = computed(() => this.bench.current()?.layout.factor ?? 1);

  protected value(key: string): number { return parameterOf(this.layer(), key); }
  protected set(key: string, value: number): void { this.change({ parameters: { ...this.layer().parameters, [key]: value } }, key); }
  protected fill(hex: string | null): void {
    const { fill } = this.layer();
    if (hex && fill && this.together() && this.shared()) this.bench.desk.edit(recolour(fill, hex), 'fill everywhere');
    else this.change({ fill: hex }, 'fill');
  }
  protected outlineColour(hex: string | null): void { this.change({ outline: hex === null ? null : { width: 2, dash: 'solid', ...this.layer().outline, hex } }, 'outline'); }
  protected changeOutline(change: Partial<Outline>): void { const { outline } = this.layer(); if (outline) this.change({ outline: { ...outline, ...change } }, 'outline'); }

  /** True when a new fill goes to every shape that has the old one. */
  protected readonly together = signal(false);
  /** Number of shapes with this one's fill, when there are several. */
  protected readonly shared = computed(() => {
    const { fill } = this.layer();
    const count = this.bench.desk.document()?.layers.filter((one) => one.kind === 'shape' && fill !== null && one.fill?.toLowerCase() === fill.toLowerCase()).length ?? 0;
    return count > 1 ? count : 0;
  });

  private change(change: Parameters<typeof changeShape>[1], key: string): void { this.bench.desk.edit(changeShape(this.layer().id, change), `${key} ${this.layer().id}`); }
}
