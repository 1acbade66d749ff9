import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { PICTURE_SHAPES, type MeasureUnit, type PictureCrop, type PictureShape } from '@kettle/core/model';
import { MEASURE_UNITS } from '@kettle/core/mockup';
import { Editor } from '../editor/editor';
import { Settings, chips, pick, type Setting } from '../units/settings';
import { MockupEditor } from './mockup-editor';

type Shown = 'all' | PictureCrop['of'];

const SHOWN: readonly { readonly id: Shown; readonly label: string }[] = [
  { id: 'all', label: 'All of it' },
  { id: 'whole', label: 'What a shape holds' },
  { id: 'print', label: 'The print' },
  { id: 'detail', label: 'A detail of the print' },
  { id: 'box', label: 'A box of my own' },
];

const SHAPES = Object.keys(PICTURE_SHAPES) as PictureShape[];
const UNIT_WORDS: Readonly<Record<MeasureUnit, string>> = { mm: 'millimetres', cm: 'centimetres', in: 'inches' };

/** Which part of a blank the picture shows, in which proportions, and whether measures stand on it. */
@Component({
  selector: 'ks-scene-frame',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Settings],
  template: `<ks-settings [of]="fields()" />`,
  styles: `
    :host {
      display: block;
      margin: 10px 0 14px;
    }
  `,
})
export class SceneFrame {
  private readonly editor = inject(Editor);
  private readonly mockup = inject(MockupEditor);
  private readonly current = computed<Shown>(() => this.mockup.scene()?.crop?.of ?? 'all');
  private readonly shape = computed(() => {
    const crop = this.mockup.scene()?.crop;
    return crop && crop.of !== 'box' ? crop.shape : '1:1';
  });

  protected readonly fields = computed<readonly Setting[]>(() => {
    const [current, { framing, scene }] = [this.current(), this.mockup];
    return [
      pick('Picture shows', current, {
        of: SHOWN.map(({ id, label }) => ({ id, words: label })),
        set: (shown) => this.show(shown),
      }),
      ...(current === 'all' || current === 'box'
        ? []
        : [
            chips(
              SHAPES.map((shape) => ({ words: shape, on: shape === this.shape(), press: () => this.choose(shape) })),
              'Shape of the picture',
            ),
          ]),
      ...(current === 'all'
        ? []
        : [
            chips([
              {
                words: framing() ? 'See it as it is made' : 'Set its frame',
                on: framing(),
                press: () => framing.set(!framing()),
              },
            ]),
          ]),
      pick('Measures of the ink', scene()?.measured ?? '', {
        of: [{ id: '', words: 'none' }, ...MEASURE_UNITS.map((id) => ({ id, words: `in ${UNIT_WORDS[id]}` }))],
        set: (unit) => this.measure(unit),
      }),
    ];
  });

  private show(shown: string): void {
    const of = shown as Shown;
    // Everything there is has one shape: a crop begins as the portrait that most shops ask for.
    const shape = this.mockup.scene()?.crop ? this.shape() : of === 'whole' ? '4:5' : '1:1';
    if (of === 'box') this.mockup.frameFreely();
    else this.change(of === 'all' ? undefined : { of, shape });
    this.mockup.framing.set(of === 'box');
  }

  private measure(unit: string): void {
    this.mockup.change({ measured: unit === '' ? undefined : (unit as MeasureUnit) });
    this.editor.desk.settle();
  }

  private choose(shape: PictureShape): void {
    const crop = this.mockup.scene()?.crop;
    if (crop && crop.of !== 'box') this.change({ ...crop, shape });
  }

  private change(crop: PictureCrop | undefined): void {
    this.mockup.change({ crop });
    this.editor.desk.settle();
  }
}
