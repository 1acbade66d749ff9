import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import type { FreehandLayer, GraphicLayer, Paint } from '@kettle/core/model';
import { ownColours } from '@kettle/core/layers';
import { paintPart } from '@kettle/core/document';
import { Editor } from '../editor/editor';
import { Tools } from '../editor/tools';
import { Swatches } from '../units/swatches';
import { ColourField } from './colour-field';
import { PaintField } from './paint-field';

/** Colours of a graphic or of freehand lines: each colour at once, or a graphic part by part. */
@Component({
  selector: 'ks-part-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ColourField, PaintField, Swatches],
  template: `
    @if (layer().kind === 'freehand') {
      <p class="pen">
        <button type="button" class="chip" (click)="draw()">Draw on</button>
      </p>
    }
    <span class="label">Colours</span>
    <ks-swatches
      label="Colours of this layer"
      [of]="colours()"
      [value]="chosen()"
      (chosen)="colour.set($event); part.set(null)"
    />
    @if (part() === null && chosen(); as hex) {
      <ks-colour-field label="This colour becomes" [hex]="hex" (changed)="recolour(hex, $event)" />
    }
    @if (graphic(); as graphic) {
      <span class="label">Part by part</span>
      <div class="parts" role="group" aria-label="Parts, back to front">
        @for (one of graphic.parts; track $index; let i = $index) {
          <button
            type="button"
            [attr.aria-pressed]="part() === i"
            [attr.aria-label]="'Part ' + (i + 1) + ' of ' + graphic.parts.length"
            (click)="part.set(i)"
          >
            <svg
              [attr.viewBox]="'-0.5 -0.5 ' + (graphic.box.width + 1) + ' ' + (graphic.box.height + 1)"
              aria-hidden="true"
            >
              @for (other of graphic.parts; track $index) {
                <path class="rest" [attr.d]="other.path" />
              }
              <path [attr.d]="one.path" [attr.fill]="plain(one.fill)" [attr.fill-rule]="one.rule ?? null" />
            </svg>
          </button>
        }
      </div>
      @if (part() !== null && graphic.parts[part()!]; as chosen) {
        <ks-paint-field [label]="'Part ' + (part()! + 1)" [paint]="chosen.fill" (changed)="paint($event)" />
      }
    }
  `,
  styles: `
    :host {
      display: block;
      margin-bottom: 10px;
    }
    .label {
      display: block;
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
      margin-bottom: 5px;
    }
    ks-swatches {
      margin-bottom: 10px;
    }
    .pen {
      display: flex;
      gap: 6px;
      margin: 0 0 10px;
    }
    .parts {
      display: grid;
      grid-template-columns: repeat(5, 1fr);
      gap: 5px;
      margin-bottom: 10px;
      max-height: 146px;
      overflow: auto;
      padding: 3px;
    }
    .parts button {
      border: 1px solid var(--rule);
      border-radius: 8px;
      background: var(--paper);
      padding: 3px;
      cursor: pointer;
      aspect-ratio: 1;
      min-width: 0;
    }
    .parts button[aria-pressed='true'] {
      outline: 2.5px solid var(--plum);
    }
    svg {
      width: 100%;
      height: 100%;
    }
    .rest {
      fill: var(--rule);
    }
  `,
})
export class PartDetails {
  private readonly editor = inject(Editor);
  private readonly tools = inject(Tools);
  readonly layer = input.required<GraphicLayer | FreehandLayer>();
  protected readonly part = signal<number | null>(null);
  protected readonly colour = signal<string | null>(null);
  protected readonly graphic = computed(() => {
    const layer = this.layer();
    return layer.kind === 'graphic' ? layer : null;
  });
  protected readonly colours = computed(() => ownColours(this.layer()));
  protected readonly chosen = computed(() => {
    const [colour, all] = [this.colour(), this.colours()];
    return colour && all.includes(colour) ? colour : (all[0] ?? null);
  });

  protected plain(fill: Paint | null): string {
    return typeof fill === 'string' ? fill : (fill?.stops[0].hex ?? 'none');
  }

  protected recolour(from: string, to: string | null): void {
    if (!to) return;
    this.colour.set(to);
    this.editor.recolour([this.layer().id], from, to, `colour ${this.layer().id}`);
  }

  protected paint(fill: Paint | null): void {
    this.editor.editEverywhere(
      paintPart(this.layer().id, this.part()!, fill),
      `part ${this.part()} ${this.layer().id}`,
    );
  }

  protected draw(): void {
    this.tools.change({ erase: false });
    this.tools.drawing.set(true);
  }
}
