import { ChangeDetectionStrategy, Component, OnDestroy, computed, inject, input, signal } from '@angular/core';
import { CLIP_SHAPE_WORDS, type Clip } from '@kettle/core/model';
import {
  ARRANGEMENT_FACETS,
  ARRANGEMENTS,
  findArrangements,
  secondsOfArrangement,
  type Arrangement,
  type ArrangementChoice,
  type ArrangementFacet,
} from '@kettle/core/clip';
import { ClipEditor } from './clip-editor';
import { ClipMini } from './clip-mini';
import { ChipRow, chip } from '../units/chips';

/** How long a pointer or the focus rests on an arrangement before it plays, ms. */
const RESTS = 250;
const FACET_WORDS: Readonly<Record<ArrangementFacet, string>> = {
  product: 'Product',
  mood: 'Mood',
  length: 'Length',
  shape: 'Shape',
  designs: 'Designs',
};

/** Ready arrangements that a clip can start from, found by tags; each plays small with this design. */
@Component({
  selector: 'ks-clip-starts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, ClipMini],
  template: `
    <h3>Start from</h3>
    @for (facet of facets(); track facet.id) {
      <ks-chips [label]="facet.words" [of]="facet.values" />
    }
    <ul class="starts">
      @for (one of found().found; track one.id) {
        <li (mouseenter)="rest(one)" (mouseleave)="leave(one)" (focusin)="rest(one)" (focusout)="leave(one)">
          <button type="button" class="choice" [disabled]="!canStart()" (click)="start(one)">
            <b>{{ one.name }}</b><small>{{ one.about }}</small>
            <small class="facts">{{ shapeWords[one.shape] }} · {{ seconds(one) }} s</small>
          </button>
          @if (playing()?.id === one.id) {
            @if (clip(); as shown) {
              <ks-clip-mini [clip]="shown" />
            }
          }
        </li>
      } @empty {
        <li><p class="quiet">None has all of that.</p></li>
      }
      <li>
        <button type="button" class="choice" [disabled]="!canStart()" (click)="start(null)">
          <b>An empty one</b><small>Scenes of your own from the first.</small>
        </button>
      </li>
    </ul>
  `,
  styleUrl: './clip-starts.scss',
})
export class ClipStarts implements OnDestroy {
  private readonly editor = inject(ClipEditor);
  readonly canStart = input.required<boolean>();
  protected readonly shapeWords = CLIP_SHAPE_WORDS;
  protected readonly choice = signal<ArrangementChoice>({});
  protected readonly found = computed(() => findArrangements(ARRANGEMENTS, this.choice(), this.editor.tracks()));
  protected readonly facets = computed(() =>
    ARRANGEMENT_FACETS.map((id) => {
      const chosen = this.choice()[id];
      const values = this.found().counts[id].map(({ value, count }) =>
        chip(`${value} ${count}`, () => this.toggle(id, value), {
          on: value === chosen,
          disabled: count === 0 && value !== chosen,
        }),
      );
      return { id, words: FACET_WORDS[id], values };
    }).filter(({ values }) => values.length > 1),
  );
  protected readonly playing = signal<Arrangement | null>(null);
  protected readonly clip = computed<Clip | null>(() => {
    const one = this.playing();
    return one && this.canStart() ? this.editor.arrange(one) : null;
  });
  private timer = 0;

  ngOnDestroy(): void {
    clearTimeout(this.timer);
  }

  protected seconds(one: Arrangement): number {
    return Math.round(secondsOfArrangement(one, this.editor.tracks()));
  }

  private toggle(facet: ArrangementFacet, value: string): void {
    this.choice.update(({ [facet]: before, ...rest }) => (before === value ? rest : { ...rest, [facet]: value }));
  }

  protected rest(one: Arrangement): void {
    clearTimeout(this.timer);
    this.timer = window.setTimeout(() => this.playing.set(one), RESTS);
  }

  protected leave(one: Arrangement): void {
    clearTimeout(this.timer);
    if (this.playing()?.id === one.id) this.playing.set(null);
  }

  protected start(one: Arrangement | null): void {
    clearTimeout(this.timer);
    this.playing.set(null);
    this.editor.start(one);
  }
}
