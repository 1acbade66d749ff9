import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import type { Blank } from '@kettle/core/model';
import { findBlanks, type BlankChoice, type BlankFacet } from '@kettle/core/mockup';
import { Router } from '@angular/router';
import { Api } from '../data/api';
import { BlankShelf } from '../data/blank-shelf';
import { Notices } from '../data/notices';
import { FilePicker } from '../units/file-picker';
import { ChipRow, chip, type Chip } from '../units/chips';
import { PickField, type PickChoice } from '../units/pick-field';
import { SearchField } from '../units/search-field';
import { MockupEditor } from './mockup-editor';
import { ScenePainter } from './scene-painter';
import { SmallScenes } from './small-scenes';
import { WhenSeen } from './when-seen';

/** What is told apart beyond the kind of product, in words. */
interface Facet {
  readonly facet: BlankFacet;
  readonly label: string;
  readonly any: string;
}
const FACETS: readonly Facet[] = [
  { facet: 'product', label: 'Product', any: 'any product' },
  { facet: 'view', label: 'View', any: 'any view' },
  { facet: 'setting', label: 'Setting', any: 'any setting' },
  { facet: 'colour', label: 'Comes in', any: 'any colour' },
  { facet: 'wearer', label: 'Worn by', any: 'anybody' },
  { facet: 'kind', label: 'Still or moving', any: 'either' },
  { facet: 'whose', label: 'Own or shipped', any: 'either' },
];

/** Blanks to choose from, each with this design on it: searched, narrowed down, marked. */
@Component({
  selector: 'ks-blank-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FilePicker, ChipRow, MatIconModule, PickField, SearchField, WhenSeen],
  templateUrl: './blank-list.html',
  styleUrl: './blank-list.scss',
})
export class BlankList {
  protected readonly mockup = inject(MockupEditor);
  protected readonly shelf = inject(BlankShelf);
  protected readonly small = inject(SmallScenes);
  private readonly painter = inject(ScenePainter);
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);

  protected readonly words = signal('');
  protected readonly choice = signal<BlankChoice>({});
  /** Blanks the seller marked, or used last, instead of all. */
  protected readonly only = signal<'favourites' | 'recent' | null>(null);
  private readonly own = computed(
    () => new Set(this.mockup.blanks().flatMap((blank) => (blank.own ? [blank.id] : []))),
  );

  protected readonly kept = computed(() => this.known(this.shelf.favourites()));
  protected readonly recent = computed(() => this.known(this.shelf.recent()));
  private readonly among = computed<readonly Blank[]>(() => {
    const only = this.only();
    return only === 'favourites' ? this.kept() : only === 'recent' ? this.recent() : this.mockup.blanks();
  });
  protected readonly found = computed(() => findBlanks(this.among(), this.choice(), this.words(), this.own()));
  /** Facets that tell anything apart. */
  protected readonly facets = computed(() =>
    FACETS.filter(({ facet }) => this.found().counts[facet].length > 1 || this.choice()[facet]),
  );
  protected readonly narrowed = computed(() => FACETS.filter(({ facet }) => this.choice()[facet]).length);
  protected readonly isNarrow = computed(
    () => Object.values(this.choice()).some(Boolean) || this.words().trim() !== '' || this.only() !== null,
  );

  constructor() {
    // What stands next to the chosen blank is made ready while the seller looks at it.
    effect(() => {
      const [blank, shown] = [this.mockup.blank(), this.found().blanks];
      const at = shown.findIndex((one) => one.id === blank?.id);
      if (blank && at >= 0)
        this.painter.prepare([shown[at + 1], shown[at - 1], shown[at + 2]].filter((one) => one !== undefined));
    });
  }

  /** The chosen blank, if it is one of the seller's own. */
  protected readonly chosenOwn = computed(() => {
    const id = this.mockup.blank()?.id;
    return this.mockup.blanks().find((one) => one.id === id && one.own) ?? null;
  });

  protected readonly categories = computed(() =>
    this.found().counts.category.map(({ value, count }) => {
      const on = this.choice().category === value;
      return chip(`${value} ${count}`, () => this.choose('category', on ? '' : value), { on });
    }),
  );
  protected readonly yours = computed(() => {
    const one = (which: 'favourites' | 'recent', words: string, count: number) =>
      count > 0 && chip(`${words} ${count}`, () => this.showOnly(which), { on: this.only() === which });
    return [one('favourites', 'Favourites', this.kept().length), one('recent', 'Used last', this.recent().length)];
  });

  protected valuesOf({ facet, any }: Facet): readonly PickChoice[] {
    const values = this.found().counts[facet].map(({ value, count }) => ({
      id: value,
      words: `${value} · ${count}`,
      disabled: !count,
    }));
    return [{ id: '', words: any }, ...values];
  }

  protected ownActs(packPicker: FilePicker): readonly (Chip | false)[] {
    const own = this.chosenOwn();
    return [
      chip('From a photo …', () => this.openOwn('new')),
      chip('Take in a pack …', () => packPicker.open()),
      own !== null && chip('Change it …', () => this.openOwn(own.id)),
      own !== null && chip('Take it away', () => this.removeOwn(own)),
    ];
  }

  private openOwn(id: string): void {
    void this.router.navigate(['/blanks', id], { queryParams: { back: this.router.url.split('?')[0] } });
  }

  protected takePack(file: File): void {
    this.api.ask('post /api/blanks/import', { body: file }).subscribe({
      next: (blank) => {
        this.shelf.reload();
        this.notices.say(`“${blank.name}” stands among your blanks.`);
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  private removeOwn({ id, name }: Blank): void {
    this.api.ask('delete /api/blanks/{id}', { id }).subscribe({
      next: () => {
        this.shelf.reload();
        this.notices.say(`“${name}” is off the list. Pictures made with it stay.`, {
          label: 'Bring it back',
          run: () =>
            this.api.ask('post /api/blanks/{id}/restore', { id }).subscribe({
              next: () => this.shelf.reload(),
              error: (error: unknown) => this.notices.complain(error),
            }),
        });
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  protected see(blank: Blank, isSeen: boolean): void {
    this.small.see(blank.id, () => this.mockup.sceneOn(blank), isSeen);
  }

  protected choose(facet: BlankFacet, value: string): void {
    this.choice.update((choice) => ({ ...choice, [facet]: value || undefined }));
  }

  private showOnly(which: 'favourites' | 'recent'): void {
    this.only.update((only) => (only === which ? null : which));
  }

  protected all(): void {
    this.choice.set({});
    this.words.set('');
    this.only.set(null);
  }

  private known(ids: readonly string[]): Blank[] {
    return ids.flatMap((id) => this.mockup.blanks().find((blank) => blank.id === id) ?? []);
  }
}
