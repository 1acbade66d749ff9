import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatSliderModule } from '@angular/material/slider';
import { harmoniesOf, hexOf, hslOf, isHex, rgbOf, rgbOfHsl, type Hsl } from '@kettle/core/colour';
import { Editor } from '../editor/editor';
import { Tools } from '../editor/tools';
import { Swatches } from '../units/swatches';
import { TypedValue } from '../units/typed-value';

const SLIDERS = [
  { key: 'h', label: 'Hue', most: 359, unit: '°' },
  { key: 's', label: 'Saturation', most: 100, unit: '%' },
  { key: 'l', label: 'Lightness', most: 100, unit: '%' },
] as const;

/**
 * A colour by hex, by sliders, from the canvas, from those the design and its garments already have, or from what goes
 * with it.
 */
@Component({
  selector: 'ks-colour-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Swatches, TypedValue, MatIconModule, MatSliderModule],
  template: `
    <div class="row">
      @if (!bare()) {
        <span class="label">{{ label() }}</span>
      }
      @if (optional()) {
        <button
          type="button"
          class="chip"
          [attr.aria-pressed]="hex() === null"
          (click)="changed.emit(hex() === null ? '#f2bd4b' : null)"
        >
          none
        </button>
      }
    </div>
    @if (hex(); as hex) {
      <div class="line">
        <span class="box" [class.wrong]="wrong()">
          <input
            #pick
            type="color"
            [value]="hex"
            [attr.aria-label]="label() + ', colour picker'"
            (input)="take(pick.value)"
          />
          <input
            #text
            class="hex"
            maxlength="7"
            spellcheck="false"
            [ksValue]="hex"
            [attr.aria-label]="label() + ', hex'"
            (change)="take(text.value); text.value = this.hex() ?? ''"
          />
        </span>
        <button
          type="button"
          class="tool"
          [attr.aria-label]="label() + ': take a colour from the canvas'"
          title="Take a colour from the canvas"
          (click)="sample()"
        >
          <mat-icon svgIcon="colour-picker" />
        </button>
        <button
          type="button"
          class="chip"
          [attr.aria-expanded]="mixing()"
          [attr.aria-label]="label() + ': mix'"
          (click)="mixing.set(!mixing())"
        >
          Mix
        </button>
      </div>
      @if (wrong()) {
        <small role="alert">Write a colour like #1f2b4d.</small>
      }
      @if (mixing()) {
        <div class="mix">
          @for (slider of sliders; track slider.key) {
            <label class="slide"
              ><span>{{ slider.label }}</span
              ><mat-slider min="0" [max]="slider.most" step="1"
                ><input
                  matSliderThumb
                  [attr.aria-label]="label() + ', ' + slider.label"
                  [value]="hsl()[slider.key]"
                  (valueChange)="mix(slider.key, $event)" /></mat-slider
              ><b>{{ hsl()[slider.key].toFixed(0) }}{{ slider.unit }}</b></label
            >
          }
          @for (harmony of harmonies(); track harmony.name) {
            <div class="harmony">
              <small>{{ harmony.name }}</small><ks-swatches
                class="small"
                [label]="harmony.name"
                [of]="harmony.colours"
                (chosen)="take($event)"
              />
            </div>
          }
        </div>
      }
      <ks-swatches
        class="known small"
        [label]="label() + ' from this design'"
        [of]="known()"
        [value]="hex"
        (chosen)="take($event)"
      />
    }
  `,
  styles: `
    :host {
      display: block;
      margin-bottom: 10px;
    }
    .row {
      display: flex;
      justify-content: space-between;
      align-items: center;
    }
    .label {
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
    }
    .line {
      display: flex;
      align-items: center;
      gap: 6px;
      margin-top: 3px;
    }
    .box {
      flex: 1;
      min-width: 0;
      display: flex;
      align-items: center;
      gap: 8px;
      border: 1px solid var(--rule);
      border-radius: 9px;
      padding: 4px 10px;
      background: var(--paper);
    }
    .box.wrong {
      border-color: var(--alarm);
    }
    .box:focus-within {
      outline: 2.5px solid var(--plum);
    }
    input[type='color'] {
      width: 24px;
      height: 24px;
      padding: 0;
      border: 0;
      background: none;
      flex: none;
    }
    .hex {
      border: 0;
      background: none;
      outline: none;
      width: 100%;
      font: 500 13px var(--sans);
      color: var(--ink);
    }
    small[role] {
      color: var(--alarm);
    }
    .tool {
      border: 1px solid var(--rule);
      border-radius: 9px;
      background: var(--raised);
      padding: 6px;
      display: flex;
      cursor: pointer;
    }
    .tool mat-icon {
      width: 16px;
      height: 16px;
    }
    .known {
      margin-top: 6px;
    }
    .mix {
      border: 1px solid var(--rule);
      border-radius: 10px;
      padding: 6px 8px;
      margin-top: 6px;
      background: var(--paper);
    }
    .slide {
      display: grid;
      grid-template-columns: 62px 1fr 36px;
      align-items: center;
      font-size: 11.5px;
      color: var(--quiet);
    }
    .slide mat-slider {
      min-width: 0;
      width: auto;
      height: 26px;
    }
    .slide b {
      text-align: right;
      font-weight: 550;
    }
    .harmony {
      display: flex;
      justify-content: space-between;
      align-items: center;
      padding: 2px 0;
    }
  `,
})
export class ColourField {
  private readonly editor = inject(Editor);
  private readonly tools = inject(Tools);
  readonly label = input.required<string>();
  readonly hex = input.required<string | null>();
  readonly optional = input(false);
  /** True when its label stands beside it already. */
  readonly bare = input(false);
  readonly changed = output<string | null>();
  protected readonly sliders = SLIDERS;
  protected readonly wrong = signal(false);
  protected readonly mixing = signal(false);
  /** Where the sliders were set: grey has no hue of its own, and keeps the one it came from. */
  private readonly mixed = signal<{ hex: string; hsl: Hsl } | null>(null);
  protected readonly hsl = computed<Hsl>(() => {
    const [hex, mixed] = [this.hex()?.toLowerCase() ?? '#000000', this.mixed()];
    return mixed?.hex === hex ? mixed.hsl : hslOf(rgbOf(hex));
  });
  protected readonly harmonies = computed(() => {
    const hex = this.hex();
    return hex ? harmoniesOf(hex) : [];
  });
  protected readonly known = computed(() =>
    [
      ...new Set([
        ...this.editor.colours(),
        ...(this.editor.current()?.requirement.colourways.map((one) => one.hex.toLowerCase()) ?? []),
      ]),
    ].slice(0, 18),
  );

  protected take(text: string): void {
    const hex = text.trim().startsWith('#') ? text.trim() : `#${text.trim()}`;
    this.wrong.set(!isHex(hex));
    if (isHex(hex)) this.changed.emit(hex.toLowerCase());
  }

  protected mix(key: keyof Hsl, value: number): void {
    const hsl = { ...this.hsl(), [key]: value };
    const hex = hexOf(rgbOfHsl(hsl)).toLowerCase();
    this.mixed.set({ hex, hsl });
    this.changed.emit(hex);
  }

  protected sample(): void {
    this.tools.sample((hex) => this.changed.emit(hex));
  }
}
