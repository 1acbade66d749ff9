import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  afterNextRender,
  computed,
  inject,
  input,
  output,
  viewChild,
} from '@angular/core';
import { EM_MM, MAX_LETTERS } from '@kettle/core/text';
import { mainColour, type TextLayer } from '@kettle/core/model';
import { Typesetter } from '../editor/typesetter';
import { FontShelf } from '../data/font-shelf';

/** Lettering edited where it stands: the same words in the same face, size and colour, with a caret. */
@Component({
  selector: 'ks-words-on-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<textarea
    #box
    aria-label="Words of the lettering. Escape finishes."
    [rows]="lines()"
    [maxLength]="most"
    spellcheck="true"
    dir="auto"
    [value]="start()"
    (input)="type(box.value)"
    (keydown)="keys($event)"
    (blur)="done.emit()"
    [style.left.px]="at().left"
    [style.top.px]="at().top"
    [style.width.px]="at().width"
    [style.height.px]="at().height"
    [style.font-family]="face()"
    [style.font-size.px]="em()"
    [style.line-height]="leading()"
    [style.letter-spacing.em]="setting().settings.spacing / 100"
    [style.text-align]="side()"
    [style.color]="colour()"
    [style.rotate]="place().turn + 'deg'"
  ></textarea>`,
  styles: `
    textarea {
      position: absolute;
      background: rgb(127 127 127 / 8%);
      border: 0;
      outline: 2px dashed #e9a3d0;
      outline-offset: 4px;
      border-radius: 2px;
      padding: 0;
      resize: none;
      overflow: hidden;
      white-space: pre;
      transform-origin: center;
    }
    textarea::selection {
      background: rgb(233 163 208 / 55%);
    }
  `,
})
export class WordsOnStage {
  private readonly typesetter = inject(Typesetter);
  private readonly fonts = inject(FontShelf);
  private readonly area = viewChild.required<ElementRef<HTMLTextAreaElement>>('box');
  readonly layer = input.required<TextLayer>();
  /** Where the lettering lies in the window, px. */
  readonly place = input.required<{ x: number; y: number; width: number; height: number; turn: number }>();
  readonly done = output<void>();
  protected readonly most = MAX_LETTERS;
  protected readonly setting = computed(() => this.typesetter.settingOf(this.layer()));
  /** The words it opened with; what is typed later is not written back under the caret. */
  protected readonly start = computed(() => this.layer().text, { equal: () => true });
  protected readonly lines = computed(() => this.setting().text.split('\n').length);
  protected readonly face = computed(() => this.fonts.css(this.layer().fontId));
  /** Size of the em, px. */
  protected readonly em = computed(() => (this.place().width / this.layer().outlines.width) * EM_MM);
  protected readonly leading = computed(() => this.setting().settings.lineSpacing / 100);
  protected readonly colour = computed(() => mainColour(this.layer().fill) ?? this.layer().outline?.hex ?? '#888888');
  protected readonly side = computed(
    () => ({ left: 'left', middle: 'center', right: 'right' })[this.setting().settings.align],
  );
  protected readonly at = computed(() => {
    const { x, y, width, height } = this.place();
    const em = this.em();
    const [w, h] = [width + em * 2, this.lines() * em * this.leading()];
    return { left: x + (width - w) / 2, top: y + (height - h) / 2, width: w, height: h };
  });

  constructor() {
    afterNextRender(() => {
      this.area().nativeElement.focus();
      this.area().nativeElement.select();
    });
  }

  protected type(text: string): void {
    this.typesetter.set(this.layer(), { text });
  }

  protected keys(event: KeyboardEvent): void {
    event.stopPropagation();
    if (event.key === 'Escape' || (event.key === 'Enter' && (event.ctrlKey || event.metaKey))) {
      event.preventDefault();
      this.area().nativeElement.blur();
    }
  }
}
