import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';

/** A button that stays pressed, or only does something where `on` is absent. */
export interface Chip {
  readonly words: string;
  readonly press: () => void;
  readonly on?: boolean;
  readonly disabled?: boolean;
  readonly title?: string;
  readonly icon?: string;
  /** True where its icon is shown alone. */
  readonly bare?: boolean;
}
/** What is chosen by its id. */
export interface Choosable {
  readonly id: string;
  readonly label: string;
  readonly hint?: string;
}

/** What does something when it is pressed. */
export const chip = (words: string, press: () => void, more: Partial<Chip> = {}): Chip => ({ words, press, ...more });
/** One of a few, the chosen one pressed. */
export const choices = <T extends Choosable>(
  all: readonly T[],
  chosen: string | null | undefined,
  set: (id: T['id']) => void,
): readonly Chip[] =>
  all.map(({ id, label, hint }) => ({ words: label, on: id === chosen, press: () => set(id), title: hint }));

/**
 * Buttons in a row: choices of which some are pressed, or things to do; those that are false are left out.
 * Each keeps its element by where it stands: one whose words change under a press keeps the focus.
 * @example <ks-chips label="Shape" [of]="choices(shapes, shape(), setShape)" />
 */
@Component({
  selector: 'ks-chips',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule],
  host: { class: 'chips', '[attr.role]': "label() ? 'group' : null", '[attr.aria-label]': 'label() || null' },
  template: `
    @for (chip of of(); track $index) {
      <button
        type="button"
        class="chip"
        [class.bare]="chip.bare"
        [attr.aria-label]="chip.bare ? chip.words : null"
        [attr.aria-pressed]="chip.on ?? null"
        [attr.title]="chip.title ?? null"
        [disabled]="chip.disabled ?? false"
        (click)="chip.press()"
      >
        @if (chip.icon; as icon) {
          <mat-icon [svgIcon]="icon" />
        }
        {{ chip.bare ? '' : chip.words }}
      </button>
    }
    <ng-content />
  `,
  styles: `
    .chip:has(mat-icon) {
      display: flex;
      align-items: center;
      gap: 5px;
    }
    .chip mat-icon {
      width: 15px;
      height: 15px;
    }
    .bare {
      flex: 1;
      justify-content: center;
      height: 35px;
      border-radius: 9px;
    }
    .chip:disabled {
      opacity: 0.5;
      cursor: default;
    }
    :host(.tight) {
      flex-wrap: nowrap;
      gap: 3px;
    }
    :host(.tight) .chip {
      padding: 3px 6px;
    }
  `,
})
export class ChipRow {
  readonly of = input.required<readonly Chip[], readonly (Chip | false)[]>({
    transform: (all) => all.filter((one) => one !== false),
  });
  /** What they are, for those who do not see them; empty where they need no word. */
  readonly label = input('');
}
