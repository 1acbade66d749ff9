import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import type { FontCategory, FontFamily, FontScript } from '@kettle/contract';
import { sentenceOf } from '../data/problems';
import { FontShelf } from '../data/font-shelf';
import { ChipRow, chip, choices } from '../units/chips';
import { SearchField } from '../units/search-field';
import { FilePicker } from '../units/file-picker';

type Shelf = 'all' | 'favourites' | 'recent' | FontCategory;
const SHELVES: readonly { id: Shelf; label: string }[] = [
  { id: 'all', label: 'All' },
  { id: 'favourites', label: 'Favourites' },
  { id: 'recent', label: 'Used last' },
  { id: 'own', label: 'Your own' },
  { id: 'display', label: 'Display' },
  { id: 'condensed', label: 'Condensed' },
  { id: 'slab', label: 'Slab' },
  { id: 'script', label: 'Script' },
  { id: 'hand-drawn', label: 'Hand-drawn' },
  { id: 'text', label: 'Text' },
];
const SCRIPTS: readonly FontScript[] = ['Latin', 'Arabic', 'Devanagari', 'Japanese'];
const SAMPLES: Readonly<Record<FontScript, string>> = {
  Latin: 'Fog & Kettle 27',
  Arabic: 'ضباب',
  Devanagari: 'कोहरा',
  Japanese: '霧のやかん',
};

/** Chooses a family by its look: every row is written in its own face. Closes with the family. */
@Component({
  selector: 'ks-font-picker',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'picker' },
  imports: [ChipRow, SearchField, FilePicker, MatButtonModule, MatDialogModule, MatIconModule],
  template: `
    <header>
      <h2 mat-dialog-title>Choose a face</h2>
      <ks-search-field
        cdkFocusInitial
        label="Search faces"
        hint="slab, script, Arabic …"
        [(words)]="words"
        (keydown.arrowdown)="step($event, 0, 1)"
      />
      <button mat-stroked-button type="button" (click)="picker.open()">
        <mat-icon svgIcon="upload" /> Your own font
      </button>
      <ks-file-picker
        #picker
        label="Font files"
        kinds=".ttf,.otf,.woff,.woff2"
        [several]="true"
        (chosen)="take($event)"
      />
    </header>
    <ks-chips label="Kinds of faces" [of]="kinds()" />
    @if (told(); as told) {
      <p class="told" role="alert">{{ told }}</p>
    }
    <ul aria-label="Faces">
      @for (family of found(); track family.name; let i = $index) {
        <li [class.on]="family.name === data.family">
          <button
            type="button"
            class="face"
            [attr.aria-current]="family.name === data.family"
            (click)="choose(family)"
            (keydown.arrowdown)="step($event, i, 1)"
            (keydown.arrowup)="step($event, i, -1)"
          >
            <span
              class="sample"
              [style.font-family]="fonts.css(family.start, script() ? 3 : 1)"
              [style.font-weight]="400"
              dir="auto"
              >{{ sampleFor(family) }}</span
            >
            <span class="name"
              ><b>{{ family.name }}</b
              ><small>{{ noteOf(family) }}</small></span
            >
          </button>
          <button
            type="button"
            class="mark"
            [attr.aria-pressed]="isFavourite(family)"
            [attr.aria-label]="
              (isFavourite(family) ? 'Take ' : 'Put ') +
              family.name +
              (isFavourite(family) ? ' off the favourites' : ' among the favourites')
            "
            (click)="fonts.mark(family)"
          >
            <mat-icon svgIcon="star" />
          </button>
          @if (family.category === 'own') {
            <button
              type="button"
              class="mark"
              [attr.aria-label]="'Take ' + family.name + ' off the list'"
              (click)="remove(family)"
            >
              <mat-icon svgIcon="trash" />
            </button>
          }
        </li>
      } @empty {
        <li class="none quiet">{{ emptyWords() }}</li>
      }
    </ul>
  `,
  styles: `
    .told {
      background: var(--stale-ground);
      border-radius: 10px;
      padding: 8px 12px;
      margin: 0 0 8px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 2px;
      overflow: auto;
      flex: 1;
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 6px;
      align-content: start;
    }
    li {
      display: flex;
      border: 1px solid var(--rule);
      border-radius: 12px;
      background: var(--paper);
      min-width: 0;
    }
    li.on {
      border-color: var(--enamel);
      background: var(--enamel-light);
    }
    .none {
      grid-column: 1 / 3;
      border: 0;
      background: none;
      padding: 20px;
    }
    .face {
      flex: 1;
      min-width: 0;
      border: 0;
      background: none;
      cursor: pointer;
      text-align: left;
      padding: 8px 4px 8px 14px;
      border-radius: 12px;
      color: var(--ink);
    }
    .sample {
      display: block;
      font-size: 25px;
      line-height: 1.35;
      white-space: nowrap;
      overflow: hidden;
      text-overflow: ellipsis;
      min-height: 34px;
      text-align: left;
    }
    .name {
      display: flex;
      gap: 8px;
      align-items: baseline;
      font-size: 12px;
    }
    .name b {
      white-space: nowrap;
    }
    .mark {
      border: 0;
      background: none;
      cursor: pointer;
      padding: 10px;
      align-self: start;
      color: var(--line);
      display: flex;
      border-radius: 10px;
    }
    .mark mat-icon {
      width: 17px;
      height: 17px;
    }
    .mark[aria-pressed='true'] {
      color: var(--copper);
    }
    .mark[aria-pressed='true'] ::ng-deep path:last-of-type {
      fill: currentcolor;
    }
  `,
})
export class FontPicker {
  protected readonly data = inject<{ family: string; text: string }>(MAT_DIALOG_DATA);
  private readonly dialog = inject<MatDialogRef<FontPicker, FontFamily>>(MatDialogRef);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  protected readonly fonts = inject(FontShelf);
  protected readonly words = signal('');
  protected readonly shelf = signal<Shelf>('all');
  protected readonly script = signal<FontScript | null>(null);
  protected readonly told = signal('');
  protected readonly kinds = computed(() => [
    ...choices(SHELVES, this.shelf(), (shelf) => this.shelf.set(shelf)),
    ...SCRIPTS.map((one) => {
      const on = this.script() === one;
      return chip(one, () => this.script.set(on ? null : one), { on });
    }),
  ]);
  protected readonly found = computed(() => {
    const words = this.words().toLowerCase().split(/\s+/).filter(Boolean);
    const [shelf, script, recent, favourites] = [
      this.shelf(),
      this.script(),
      this.fonts.recent(),
      this.fonts.favourites(),
    ];
    const onShelf = (family: FontFamily) =>
      shelf === 'all' ||
      (shelf === 'favourites'
        ? favourites.includes(family.name)
        : shelf === 'recent'
          ? recent.includes(family.name)
          : family.category === shelf);
    const found = this.fonts
      .all()
      .filter(
        (family) =>
          onShelf(family) &&
          (!script || family.scripts.includes(script)) &&
          words.every((word) =>
            `${family.name} ${family.category} ${family.scripts.join(' ')} ${family.category === 'own' ? 'your own' : ''}`
              .toLowerCase()
              .includes(word),
          ),
      );
    return shelf === 'recent' ? found.sort((a, b) => recent.indexOf(a.name) - recent.indexOf(b.name)) : found;
  });
  protected readonly emptyWords = computed(() => {
    if (this.words()) return 'No face has these words.';
    return (
      {
        favourites: 'A star puts a face here.',
        recent: 'Faces you have used come here.',
        own: 'Fonts you upload come here: TTF, OTF, WOFF or WOFF2.',
      }[this.shelf() as string] ?? 'No face of this kind.'
    );
  });

  protected isFavourite(family: FontFamily): boolean {
    return this.fonts.favourites().includes(family.name);
  }
  protected noteOf({ category, scripts, faces }: FontFamily): string {
    return [
      category === 'own' ? 'your own' : category,
      ...scripts.filter((one) => one !== 'Latin'),
      ...(faces.length > 1 ? [`${faces.length} weights`] : []),
    ].join(' · ');
  }

  /** The seller's own words, when the face has their script. */
  protected sampleFor({ scripts }: FontFamily): string {
    const script = this.script() ?? scripts[0];
    const own = this.data.text.replace(/\s+/g, ' ').trim().slice(0, 26);
    return script === 'Latin' && /[a-z]/i.test(own) ? own : SAMPLES[script ?? 'Latin'];
  }

  protected choose(family: FontFamily): void {
    this.fonts.use(family);
    this.dialog.close(family);
  }

  protected remove(family: FontFamily): void {
    this.fonts.remove(family).subscribe({
      next: () =>
        this.told.set(
          `“${family.name}” is off the list. Designs that use it keep it; bring its file in again to have it back.`,
        ),
      error: (error: unknown) => this.told.set(`“${family.name}”: ${sentenceOf(error)}`),
    });
  }

  protected step(event: Event, from: number, way: 1 | -1): void {
    event.preventDefault();
    const faces = [...this.host.nativeElement.querySelectorAll<HTMLElement>('.face')];
    const onSearch = event.target instanceof HTMLInputElement;
    (
      faces[onSearch ? 0 : from + way] ??
      (way < 0 ? this.host.nativeElement.querySelector<HTMLElement>('input[type=search]') : null)
    )?.focus();
  }

  protected take(files: readonly File[]): void {
    this.told.set('');
    for (const file of files) {
      this.fonts.upload(file).subscribe({
        next: (family) => {
          // One that was brought is the one that is wanted; of several, one is chosen.
          if (files.length === 1) this.choose(family);
          this.shelf.set('own');
          this.words.set('');
          this.script.set(null);
        },
        error: (error: unknown) => this.told.set(`“${file.name}”: ${sentenceOf(error)}`),
      });
    }
  }
}
