import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Standing, type StandsAs } from './standing';

export interface SideEntry {
  readonly id: string;
  readonly name: string;
  readonly standing?: StandsAs;
  readonly note?: string;
}

/** What there is of a kind, one of it chosen, with a way to begin another. */
@Component({
  selector: 'ks-side-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, Standing],
  template: `
    <h3>{{ heading() }}</h3>
    <ul>
      @for (one of of(); track one.id) {
        <li>
          <button type="button" class="choice" [attr.aria-pressed]="one.id === value()" (click)="chosen.emit(one.id)">
            <b>{{ one.name }}</b>
            @if (one.standing; as standing) {
              <ks-standing [of]="standing" />
            }
            @if (one.note) {
              <small>{{ one.note }}</small>
            }
          </button>
        </li>
      } @empty {
        @if (of() && none()) {
          <li class="quiet">{{ none() }}</li>
        }
      }
    </ul>
    @if (another()) {
      <button mat-stroked-button type="button" [attr.aria-pressed]="value() === null" (click)="chosen.emit(null)">
        {{ another() }}
      </button>
    }
  `,
  styles: `
    @use '../units/fields';

    :host {
      display: block;
    }
    li {
      display: grid;
    }
    small {
      color: var(--quiet);
    }
  `,
})
export class SideList {
  readonly heading = input.required<string>();
  /** Nothing while nobody knows. */
  readonly of = input.required<readonly SideEntry[] | null | undefined>();
  /** Id of the chosen one; null where another one is begun. */
  readonly value = input<string | null>();
  /** Said where there is none. */
  readonly none = input('');
  /** What the button says that begins another; there is none without it. */
  readonly another = input('');
  readonly chosen = output<string | null>();
}
