import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { ChipRow, choices, type Chip, type Choosable } from './chips';
import { LengthField } from './length-field';
import { NumberField } from './number-field';
import { PickField, type PickChoice } from './pick-field';
import { SlideField } from './slide-field';
import { TypedValue } from './typed-value';

/** A value that is slid; `set` is told while it moves, `settle` once it is let go. */
export interface Slide {
  readonly kind: 'slide';
  readonly label: string;
  readonly value: number;
  readonly set: (value: number) => void;
  readonly settle?: () => void;
  readonly least?: number;
  readonly most?: number;
  readonly step?: number;
  readonly digits?: number;
  readonly unit?: string;
  readonly note?: string;
  /** A word for a value that is more than its number. */
  readonly word?: (value: number) => string | undefined;
}
/** A number that is typed. */
export interface Amount {
  readonly kind: 'number';
  readonly label: string;
  readonly value: number;
  readonly set: (value: number) => void;
  readonly least?: number;
  readonly most?: number;
  readonly step?: number;
  readonly unit?: string;
  readonly disabled?: boolean;
}
/** A length, mm, typed in the seller's unit. */
export interface Length {
  readonly kind: 'length';
  readonly label: string;
  readonly mm: number;
  readonly set: (mm: number) => void;
  readonly positive?: boolean;
  readonly dpi?: number;
}
export interface Chips {
  readonly kind: 'chips';
  /** What they are, for those who do not see them; empty where they need no word. */
  readonly label: string;
  readonly of: readonly Chip[];
}
/** One of several, in a list that unfolds. */
export interface Pick {
  readonly kind: 'pick';
  readonly label: string;
  readonly value: string;
  readonly of: readonly PickChoice[];
  readonly set: (id: string) => void;
  /** What is read out where the label alone does not tell. */
  readonly spoken?: string;
}
/** Words that are typed; `set` is told when the field is left, or with each letter where it is `live`. */
export interface Text {
  readonly kind: 'text';
  readonly label: string;
  readonly value: string;
  readonly set: (text: string) => void;
  readonly live?: boolean;
  /** Most letters. */
  readonly most?: number;
  /** Rows of a field for several lines. */
  readonly rows?: number;
  readonly mode?: 'decimal' | 'numeric';
  /** What it could say, while it says nothing. */
  readonly hint?: string;
  /** True while what is typed cannot be. */
  readonly wrong?: boolean;
}
/** A colour that is picked; `set` is told while it is looked for. */
export interface Colour {
  readonly kind: 'colour';
  readonly label: string;
  readonly hex: string;
  readonly set: (hex: string) => void;
}
/** Something that holds or does not. */
export interface Check {
  readonly kind: 'check';
  readonly label: string;
  readonly on: boolean;
  readonly set: (on: boolean) => void;
}
/** A quiet sentence. */
export interface Words {
  readonly kind: 'words';
  readonly label: string;
}
/** Fields beside each other. */
export interface Row {
  readonly kind: 'row';
  readonly label: string;
  readonly columns: number;
  readonly of: readonly Setting[];
}
export type Setting = Slide | Amount | Length | Chips | Pick | Text | Colour | Check | Words | Row;

type Given<T extends { kind: string }, Left extends keyof T> = Omit<T, 'kind' | 'label' | Left>;

export const slide = (label: string, value: number, more: Given<Slide, 'value'>): Slide => ({
  kind: 'slide',
  label,
  value,
  ...more,
});
export const amount = (label: string, value: number, more: Given<Amount, 'value'>): Amount => ({
  kind: 'number',
  label,
  value,
  ...more,
});
export const lengthOf = (label: string, mm: number, more: Given<Length, 'mm'>): Length => ({
  kind: 'length',
  label,
  mm,
  ...more,
});
export const chips = (of: readonly Chip[], label = ''): Chips => ({ kind: 'chips', label, of });
/** One of a few, side by side. */
export const oneOf = <T extends Choosable>(
  label: string,
  all: readonly T[],
  chosen: string | undefined,
  set: (id: T['id']) => void,
): Chips => chips(choices(all, chosen, set), label);
export const pick = (label: string, value: string, more: Given<Pick, 'value'>): Pick => ({
  kind: 'pick',
  label,
  value,
  ...more,
});
/** Words as choices of a list, each under its own name. */
export const named = (all: readonly string[] = []): Pick['of'] => all.map((one) => ({ id: one, words: one }));
export const text = (label: string, value: string, more: Given<Text, 'value'>): Text => ({
  kind: 'text',
  label,
  value,
  ...more,
});
export const colour = (label: string, hex: string, set: (hex: string) => void): Colour => ({
  kind: 'colour',
  label,
  hex,
  set,
});
export const check = (label: string, on: boolean, set: (on: boolean) => void): Check => ({
  kind: 'check',
  label,
  on,
  set,
});
export const words = (sentence: string): Words => ({ kind: 'words', label: sentence });
/** Fields beside each other; those that are false are left out. */
export const row = (...of: readonly (Setting | false)[]): Row => {
  const shown = of.filter((one) => one !== false);
  return { kind: 'row', label: shown[0]?.label ?? '', columns: shown.length === 3 ? 3 : 2, of: shown };
};
/** Fields in rows of three. */
export const inThrees = (all: readonly Setting[]): readonly Setting[] =>
  Array.from({ length: Math.ceil(all.length / 3) }, (_, i) => ({ ...row(...all.slice(3 * i, 3 * i + 3)), columns: 3 }));

/**
 * Fields one below the other, each said in a line where it is used; with a heading they are a group of their own.
 * @example <ks-settings heading="Line" [of]="[slide('Width', width(), { most: 20, set: setWidth })]" />
 */
@Component({
  selector: 'ks-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, LengthField, NgTemplateOutlet, NumberField, PickField, SlideField, TypedValue],
  templateUrl: './settings.html',
  styleUrl: './settings.scss',
})
export class Settings {
  readonly of = input.required<readonly Setting[]>();
  readonly heading = input('');
  /** Each with a name by which it stays the same one while others come and go: it is the nth of its kind and label. */
  protected readonly settings = (all: unknown): readonly { readonly name: string; readonly field: Setting }[] => {
    const before = new Map<string, number>();
    // A template tells no types of what it is given.
    return (all as readonly Setting[]).map((field) => {
      const label = `${field.kind} ${field.label}`;
      before.set(label, (before.get(label) ?? 0) + 1);
      return { name: `${label} ${before.get(label)}`, field };
    });
  };
}
