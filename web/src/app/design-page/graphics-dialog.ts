import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import type { Graphic } from '@kettle/core/drawing';
import { Loaded } from '../data/loaded';
import { GraphicShelf } from '../data/graphic-shelf';
import { ChipRow, chip } from '../units/chips';
import { SearchField } from '../units/search-field';

/** Most pieces shown at once; more words find the others. */
const MOST_SHOWN = 240;

/** Chooses a piece of the graphics library by its look. Closes with it. */
@Component({
  selector: 'ks-graphics-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'picker' },
  imports: [ChipRow, SearchField, MatButtonModule, MatDialogModule, MatIconModule],
  template: `
    <header>
      <h2 mat-dialog-title>Choose a graphic</h2>
      <ks-search-field cdkFocusInitial label="Search graphics" hint="cat, kettle, leaf …" [(words)]="words" />
    </header>
    <ks-chips label="Kinds of graphics" [of]="categories()">
      @if (library.value()) {
        <small role="status"
          >{{ found().length }} {{ found().length === 1 ? 'piece' : 'pieces'
          }}{{ found().length > most ? ', the first ' + most + ' shown' : '' }}</small
        >
      }
    </ks-chips>
    <div class="pieces">
      @for (graphic of shown(); track graphic.id) {
        <button type="button" [title]="graphic.name" [attr.aria-label]="graphic.name" (click)="dialog.close(graphic)">
          <svg [attr.viewBox]="'0 0 ' + graphic.width + ' ' + graphic.height" aria-hidden="true">
            @for (part of graphic.parts; track $index) {
              <path [attr.d]="part.path" [attr.fill]="part.fill" [attr.fill-rule]="part.rule ?? null" />
            }
          </svg>
        </button>
      } @empty {
        @if (library.failed(); as sentence) {
          <p class="quiet" role="alert">
            {{ sentence }} <button mat-button type="button" (click)="library.again()">Try again</button>
          </p>
        } @else {
          <p class="quiet" role="status">
            {{ library.value() ? 'No graphic has these words.' : 'Unpacking the library …' }}
          </p>
        }
      }
    </div>
    <footer class="quiet">Each part of a graphic can be given another colour once it is on the canvas.</footer>
  `,
  styles: `
    ks-chips small {
      margin-left: auto;
    }
    .pieces {
      flex: 1;
      overflow: auto;
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(68px, 1fr));
      gap: 6px;
      align-content: start;
      padding: 3px;
    }
    .pieces p {
      grid-column: 1 / -1;
    }
    .pieces > button {
      border: 1px solid var(--rule);
      border-radius: 12px;
      background: var(--paper);
      padding: 10px;
      cursor: pointer;
      aspect-ratio: 1;
    }
    .pieces > button:hover {
      border-color: var(--enamel);
      background: var(--enamel-light);
    }
    svg {
      width: 100%;
      height: 100%;
      display: block;
    }
    footer {
      padding-top: 8px;
      font-size: 12px;
    }
  `,
})
export class GraphicsDialog {
  protected readonly dialog = inject<MatDialogRef<GraphicsDialog, Graphic>>(MatDialogRef);
  private readonly shelf = inject(GraphicShelf);
  protected readonly library = new Loaded(() => this.shelf.all());
  private readonly graphics = computed(() => this.library.value() ?? []);
  protected readonly most = MOST_SHOWN;
  protected readonly words = signal('');
  private readonly category = signal<string | null>(null);
  protected readonly categories = computed(() => {
    const kinds = [...new Set(this.graphics().map(({ category }) => category))];
    return [null, ...kinds].map((one) =>
      chip(one ?? 'All', () => this.category.set(one), { on: this.category() === one }),
    );
  });
  protected readonly found = computed(() => {
    const words = this.words().toLowerCase().split(/\s+/).filter(Boolean);
    const category = this.category();
    return this.graphics().filter(
      (graphic) =>
        (!category || graphic.category === category) &&
        words.every((word) => `${graphic.name} ${graphic.category}`.toLowerCase().includes(word)),
    );
  });
  protected readonly shown = computed(() => this.found().slice(0, MOST_SHOWN));
}
