import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Tools } from '../editor/tools';
import { Settings, chips, lengthOf, slide, type Setting } from '../units/settings';
import { ColourField } from './colour-field';

/** The brush in hand. */
@Component({
  selector: 'ks-brush-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, ColourField, Settings],
  template: `
    <div class="panel-title">
      <h3>{{ tools.brush().erase ? 'Eraser' : 'Freehand' }}</h3>
      <small>{{ tools.brush().erase ? 'what is rubbed out' : 'lines, sharp at any size' }}</small>
    </div>
    <ks-settings [of]="fields()" />
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
    .hint {
      font-size: 12.5px;
    }
  `,
})
export class BrushDetails {
  protected readonly tools = inject(Tools);
  protected readonly fields = computed<readonly Setting[]>(() => {
    const [{ size, hardness, opacity, erase }, { tools }] = [this.tools.brush(), this];
    return [
      chips(
        [
          { words: 'Brush', icon: 'brush', on: !erase, press: () => tools.change({ erase: false }) },
          { words: 'Eraser', icon: 'eraser', on: erase, press: () => tools.change({ erase: true }) },
        ],
        'What the pen does',
      ),
      lengthOf('Size', size, {
        positive: true,
        set: (mm) => tools.change({ size: Math.min(200, Math.max(0.1, mm)) }),
      }),
      slide('Hardness', hardness * 100, { unit: '%', set: (percent) => tools.change({ hardness: percent / 100 }) }),
      slide('Brush opacity', opacity * 100, {
        unit: '%',
        least: 1,
        set: (percent) => tools.change({ opacity: percent / 100 }),
      }),
    ];
  });
}
