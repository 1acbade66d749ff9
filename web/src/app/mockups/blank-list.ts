import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { findBlanks, type Blank, type BlankChoice, type BlankFacet } from '@kettle/core';
import { BlankShelf } from '../data/blank-shelf';
import { MockupBench } from './mockup-bench';
import { ScenePainter } from './scene-painter';
import { SmallScenes } from './small-scenes';
import { WhenSeen } from './when-seen';

/** What is told apart beyond the kind of product, in words. */
const FACETS: readonly { readonly facet: BlankFacet; readonly label: string; readonly any: string }[] = [
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
  imports: [MatIconModule, WhenSeen],
  templateUrl: './blank-list.html',
  styleUrl: './blank-list.scss',
})
export class BlankList {
  protected readonly mockup = inject(MockupBench);
  protected readonly shelf = inject(BlankShelf);
  protected readonly small = inject(SmallScenes);
  private readonly painter = inject(ScenePainter);

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

  protected see(blank: Blank, isSeen: boolean): void {
    this.small.see(blank.id, () => this.mockup.sceneOn(blank), isSeen);
  }

  protected choose(facet: BlankFacet, value: string): void {
    this.choice.update((choice) => ({ ...choice, [facet]: value || undefined }));
  }

  protected toggleCategory(value: string): void {
    this.choose('category', this.choice().category === value ? '' : value);
  }

  protected showOnly(which: 'favourites' | 'recent'): void {
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
