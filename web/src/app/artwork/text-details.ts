import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { FontFamily } from '@kettle/contract';
import { EM_MM, MAX_LETTERS, type LetterAlign, type LetteringSettings } from '@kettle/core/text';
import type { TextLayer } from '@kettle/core/model';
import { Editor } from '../editor/editor';
import { Typesetter } from '../editor/typesetter';
import { FontShelf } from '../data/font-shelf';
import { Settings, amount, chips, lengthOf, pick, row, slide, type Setting } from '../units/settings';
import { FontPicker } from './font-picker';
import { TypedValue } from '../units/typed-value';

const ALIGNS: readonly { id: LetterAlign; label: string }[] = [
  { id: 'left', label: 'Left' },
  { id: 'middle', label: 'Middle' },
  { id: 'right', label: 'Right' },
];
const WEIGHT_NAMES: Readonly<Record<number, string>> = {
  100: 'Hairline',
  200: 'Extra light',
  300: 'Light',
  400: 'Regular',
  500: 'Medium',
  600: 'Semibold',
  700: 'Bold',
  800: 'Extra bold',
  900: 'Black',
};

/** What the first line runs along. */
type Course = 'straight' | 'arc' | 'circle';
const COURSES: readonly { id: Course; label: string; hint: string }[] = [
  { id: 'straight', label: 'Straight', hint: 'On a straight line' },
  { id: 'arc', label: 'Arc', hint: 'Bent by an angle; 360° closes it' },
  { id: 'circle', label: 'Circle', hint: 'On a circle of a given size' },
];

/** Words, face and setting of lettering. */
@Component({
  selector: 'ks-text-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Settings, TypedValue],
  template: `
    <label class="text"
      >Words<textarea
        #box
        rows="2"
        dir="auto"
        [maxLength]="most"
        [ksValue]="setting().text"
        (input)="typesetter.set(layer(), { text: box.value })"
      ></textarea>
    </label>
    @if (missing(); as missing) {
      <p class="missing" role="alert">
        {{ name() }} has no {{ missing.letters.join(' ') }}.
        @for (family of missing.instead; track family.name) {
          <button type="button" class="chip" (click)="take(family)">Use {{ family.name }}</button>
        } @empty {
          No face here has it; your own font may.
        }
      </p>
    }
    <span class="label" id="face-label">Face</span>
    <button type="button" class="face" aria-labelledby="face-label face-name" aria-haspopup="dialog" (click)="pick()">
      <span id="face-name" [style.font-family]="fonts.css(setting().fontId)">{{ name() }}</span>
    </button>
    <ks-settings [of]="fields()" />
  `,
  styles: `
    :host {
      display: block;
      margin-bottom: 12px;
    }
    .text,
    .label {
      display: block;
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
    }
    .text {
      margin-bottom: 8px;
    }
    textarea {
      display: block;
      width: 100%;
      margin-top: 3px;
      border: 1px solid var(--rule);
      border-radius: 9px;
      padding: 7px 10px;
      font: 500 13.5px/1.35 var(--sans);
      background: var(--paper);
      color: var(--ink);
      resize: vertical;
    }
    .face {
      width: 100%;
      text-align: left;
      border: 1px solid var(--rule);
      border-radius: 9px;
      background: var(--paper);
      color: var(--ink);
      padding: 5px 10px;
      margin: 3px 0 10px;
      cursor: pointer;
      font-size: 18px;
      line-height: 1.3;
      white-space: nowrap;
      overflow: hidden;
    }
    .missing {
      background: var(--stale-ground);
      border-radius: 10px;
      padding: 7px 10px;
      margin: 0 0 8px;
      font-size: 12.5px;
    }
  `,
})
export class TextDetails {
  readonly layer = input.required<TextLayer>();
  private readonly editor = inject(Editor);
  private readonly dialog = inject(MatDialog);
  protected readonly typesetter = inject(Typesetter);
  protected readonly fonts = inject(FontShelf);
  protected readonly most = MAX_LETTERS;

  protected readonly setting = computed(() => this.typesetter.settingOf(this.layer()));
  protected readonly settings = computed<LetteringSettings>(() => this.setting().settings);
  protected readonly family = computed(() => this.fonts.familyOf(this.setting().fontId));
  protected readonly name = computed(() => this.family()?.name ?? this.setting().fontId);
  protected readonly weights = computed(() => this.family()?.faces ?? []);
  protected readonly missing = computed(() => {
    const missing = this.typesetter.missing();
    return missing?.id === this.layer().id ? missing : null;
  });
  protected readonly course = computed<Course>(() =>
    this.settings().circle ? 'circle' : this.settings().bend !== 0 ? 'arc' : 'straight',
  );
  /** Size of the em as printed on the chosen target, mm. */
  protected readonly size = computed(
    () =>
      (this.layer().place.width / this.layer().outlines.width) * EM_MM * (this.editor.current()?.layout.factor ?? 1),
  );
  /** Diameter of the circle as printed, mm. */
  protected readonly circle = computed(() => (Math.abs(this.settings().circle ?? 0) / 100) * this.size());

  protected readonly fields = computed<readonly Setting[]>(() => {
    const { fontId, settings } = { ...this.setting(), settings: this.settings() };
    const course = this.course();
    const bend = { least: -360, most: 360, set: (degrees: number) => this.set({ bend: degrees }) };
    const circle = settings.circle ?? 0;
    return [
      ...(this.weights().length > 1
        ? [
            pick('Weight', fontId, {
              of: this.weights().map(({ id, weight }) => ({ id, words: `${weight} ${WEIGHT_NAMES[weight] ?? ''}` })),
              set: (face) => this.typesetter.set(this.layer(), { fontId: face }),
            }),
          ]
        : []),
      row(
        lengthOf('Letter size', this.size(), { positive: true, set: (mm) => this.resize(mm) }),
        amount('Letter spacing', settings.spacing, {
          unit: '%',
          least: -50,
          most: 300,
          set: (spacing) => this.set({ spacing }),
        }),
      ),
      row(
        amount('Line spacing', settings.lineSpacing, {
          unit: '%',
          least: 30,
          most: 400,
          set: (lineSpacing) => this.set({ lineSpacing }),
        }),
        course === 'arc' && amount('Bend', settings.bend, { unit: '°', ...bend }),
        course === 'circle' &&
          lengthOf('Circle across', this.circle(), { positive: true, set: (mm) => this.across(mm) }),
      ),
      chips(
        [
          ...COURSES.map(({ id, label, hint }) => ({
            words: label,
            title: hint,
            on: course === id,
            press: () => this.run(id),
          })),
          ...(course === 'circle'
            ? [{ words: 'At its foot', on: circle < 0, press: () => this.set({ circle: -circle }) }]
            : []),
        ],
        'Line',
      ),
      ...(course === 'arc' ? [slide('Bend', settings.bend, { step: 5, unit: '°', ...bend })] : []),
      chips(
        [
          ...ALIGNS.map(({ id, label }) => ({
            words: label,
            on: settings.align === id,
            press: () => this.set({ align: id }),
          })),
          { words: 'UPPER CASE', on: settings.caps === true, press: () => this.set({ caps: !settings.caps }) },
        ],
        'Alignment',
      ),
    ];
  });

  protected set(settings: Partial<LetteringSettings>): void {
    this.typesetter.set(this.layer(), { settings });
  }

  protected run(course: Course): void {
    const { bend, circle } = this.settings();
    // A circle begins as large as an arc of half a turn would be.
    const across = Math.round((this.layer().outlines.width / EM_MM / (Math.PI / 2)) * 100);
    this.set(
      {
        straight: { bend: 0, circle: 0 },
        arc: { bend: bend || 90, circle: 0 },
        circle: { bend: 0, circle: circle || across },
      }[course],
    );
  }

  protected across(mm: number): void {
    const sign = (this.settings().circle ?? 0) < 0 ? -1 : 1;
    this.set({ circle: sign * Math.min(20_000, Math.max(1, (mm / this.size()) * 100)) });
  }

  /** Another family in the weight nearest to the present one. */
  protected take(family: FontFamily): void {
    const now = this.weights().find((face) => face.id === this.setting().fontId)?.weight;
    const start = family.faces.find((face) => face.id === family.start)!;
    const nearest =
      now === undefined || family.faces.length === 1
        ? start
        : family.faces.reduce((best, face) =>
            Math.abs(face.weight - now) < Math.abs(best.weight - now) ? face : best,
          );
    this.typesetter.set(this.layer(), { fontId: nearest.id });
  }

  protected pick(): void {
    this.dialog
      .open<FontPicker, unknown, FontFamily>(FontPicker, {
        width: '820px',
        maxWidth: '94vw',
        data: { family: this.name(), text: this.setting().text },
      })
      .afterClosed()
      .subscribe((family) => {
        if (family) this.take(family);
      });
  }

  protected resize(mm: number): void {
    // The layer as it is now: it may have been set anew since it was last shown.
    const layer = this.editor.layers().find((one) => one.id === this.layer().id);
    if (layer?.kind !== 'text') return;
    const unit = mm / EM_MM / (this.editor.current()?.layout.factor ?? 1);
    this.editor.placeAll({
      [layer.id]: { ...layer.place, width: layer.outlines.width * unit, height: layer.outlines.height * unit },
    });
  }
}
