import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatSliderModule } from '@angular/material/slider';
import { Tools } from '../editor/tools';
import { LengthField } from '../units/length-field';
import { ColourField } from './colour-field';

/** The brush in hand. */
@Component({
  selector: 'ks-brush-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatSliderModule, ColourField, LengthField],
  template: `
    <div class="panel-title">
      <h3>{{ tools.brush().erase ? 'Eraser' : 'Freehand' }}</h3>
      <small>{{ tools.brush().erase ? 'what is rubbed out' : 'lines, sharp at any size' }}</small>
    </div>
    <div class="chips ways" role="group" aria-label="What the pen does">
      <button
        type="button"
        class="chip"
        [attr.aria-pressed]="!tools.brush().erase"
        (click)="tools.change({ erase: false })"
      >
        <mat-icon svgIcon="brush" /> Brush
      </button>
      <button
        type="button"
        class="chip"
        [attr.aria-pressed]="tools.brush().erase"
        (click)="tools.change({ erase: true })"
      >
        <mat-icon svgIcon="eraser" /> Eraser
      </button>
    </div>
    <ks-length-field
      label="Size"
      [mm]="tools.brush().size"
      [positive]="true"
      (changed)="tools.change({ size: clamp($event) })"
    />
    <label class="slide"
      ><span>Hardness</span
      ><mat-slider min="0" max="100" step="1"
        ><input
          matSliderThumb
          aria-label="Hardness"
          [value]="tools.brush().hardness * 100"
          (valueChange)="tools.change({ hardness: $event / 100 })" /></mat-slider
      ><b>{{ (tools.brush().hardness * 100).toFixed(0) }} %</b></label
    >
    <label class="slide"
      ><span>Opacity</span
      ><mat-slider min="1" max="100" step="1"
        ><input
          matSliderThumb
          aria-label="Brush opacity"
          [value]="tools.brush().opacity * 100"
          (valueChange)="tools.change({ opacity: $event / 100 })" /></mat-slider
      ><b>{{ (tools.brush().opacity * 100).toFixed(0) }} %</b></label
    >
    @if (!tools.brush().erase) {
      <ks-colour-field label="Colour" [hex]="tools.brush().hex" (changed)="$event && tools.change({ hex: $event })" />
    }
    <p class="quiet hint">
      @if (tools.brush().erase) {
        The eraser rubs out of what is selected alone: pictures, lettering, shapes, groups. It stays a step that can be
        softened and taken back.
      } @else {
        Strokes go to a layer of their own, or to the freehand layer that is selected. A pen’s pressure makes them
        thinner and thicker.
      }
    </p>
    <button mat-flat-button type="button" (click)="tools.drawing.set(false)">
      Put the {{ tools.brush().erase ? 'eraser' : 'brush' }} away
    </button>
  `,
  styles: `
    .ways {
      margin-bottom: 12px;
    }
    .ways .chip {
      display: flex;
      gap: 5px;
      align-items: center;
      padding: 5px 12px;
    }
    .ways mat-icon {
      width: 15px;
      height: 15px;
    }
    ks-length-field {
      margin-bottom: 8px;
    }
    .slide {
      display: grid;
      grid-template-columns: 66px 1fr 44px;
      align-items: center;
      font-size: 12px;
      color: var(--quiet);
    }
    .slide mat-slider {
      min-width: 0;
      width: auto;
    }
    .slide b {
      text-align: right;
    }
    .hint {
      font-size: 12.5px;
    }
  `,
})
export class BrushDetails {
  protected readonly tools = inject(Tools);
  protected clamp(mm: number): number {
    return Math.min(200, Math.max(0.1, mm));
  }
}
