import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { PICTURE_SHAPES, type MeasureUnit, type PictureCrop, type PictureShape } from '@kettle/core/model';
import { MEASURE_UNITS } from '@kettle/core/mockup';
import { Editor } from '../editor/editor';
import { MockupEditor } from './mockup-editor';

type Shown = 'all' | PictureCrop['of'];

const SHOWN: readonly { readonly id: Shown; readonly label: string }[] = [
  { id: 'all', label: 'All of it' },
  { id: 'whole', label: 'What a shape holds' },
  { id: 'print', label: 'The print' },
  { id: 'detail', label: 'A detail of the print' },
  { id: 'box', label: 'A box of my own' },
];

/** Which part of a blank the picture shows, in which proportions, and whether measures stand on it. */
@Component({
  selector: 'ks-scene-frame',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label class="from"
      >Picture shows
      <select #shown [value]="current()" (change)="show(shown.value)">
        @for (one of choices; track one.id) {
          <option [value]="one.id" [selected]="one.id === current()">{{ one.label }}</option>
        }
      </select>
    </label>
    @if (current() !== 'all') {
      @if (current() !== 'box') {
        <div class="chips" role="group" aria-label="Shape of the picture">
          @for (one of shapes; track one) {
            <button type="button" class="chip" [attr.aria-pressed]="one === shape()" (click)="choose(one)">
              {{ one }}
            </button>
          }
        </div>
      }
      <button
        type="button"
        class="chip"
        [attr.aria-pressed]="mockup.framing()"
        (click)="mockup.framing.set(!mockup.framing())"
      >
        {{ mockup.framing() ? 'See it as it is made' : 'Set its frame' }}
      </button>
    }
    <label class="from"
      >Measures of the ink
      <select #unit [value]="mockup.scene()?.measured ?? ''" (change)="measure(unit.value)">
        <option value="" [selected]="!mockup.scene()?.measured">none</option>
        @for (one of units; track one) {
          <option [value]="one" [selected]="one === mockup.scene()?.measured">in {{ words[one] }}</option>
        }
      </select>
    </label>
  `,
  styleUrl: './scene-frame.scss',
})
export class SceneFrame {
  private readonly editor = inject(Editor);
  protected readonly mockup = inject(MockupEditor);
  protected readonly choices = SHOWN;
  protected readonly units = MEASURE_UNITS;
  protected readonly words: Readonly<Record<MeasureUnit, string>> = {
    mm: 'millimetres',
    cm: 'centimetres',
    in: 'inches',
  };
  protected readonly shapes = Object.keys(PICTURE_SHAPES) as PictureShape[];
  protected readonly current = computed<Shown>(() => this.mockup.scene()?.crop?.of ?? 'all');
  protected readonly shape = computed(() => {
    const crop = this.mockup.scene()?.crop;
    return crop && crop.of !== 'box' ? crop.shape : '1:1';
  });

  protected show(shown: string): void {
    const of = shown as Shown;
    // Everything there is has one shape: a crop begins as the portrait that most shops ask for.
    const shape = this.mockup.scene()?.crop ? this.shape() : of === 'whole' ? '4:5' : '1:1';
    if (of === 'box') this.mockup.frameFreely();
    else this.change(of === 'all' ? undefined : { of, shape });
    this.mockup.framing.set(of === 'box');
  }

  protected measure(unit: string): void {
    this.mockup.change({ measured: unit === '' ? undefined : (unit as MeasureUnit) });
    this.editor.desk.settle();
  }

  protected choose(shape: PictureShape): void {
    const crop = this.mockup.scene()?.crop;
    if (crop && crop.of !== 'box') this.change({ ...crop, shape });
  }

  private change(crop: PictureCrop | undefined): void {
    this.mockup.change({ crop });
    this.editor.desk.settle();
  }
}
