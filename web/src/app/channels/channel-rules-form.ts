import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import {
  amountText,
  CURRENCIES,
  LISTED_SHAPES,
  MARKET_INTERFACES,
  MARKET_WORDS,
  parseMoney,
  readDecimal,
  type ChannelRules,
  type ChannelRulesFields,
  type ListedShape,
} from '@kettle/core/listing';
import { Notices } from '../data/notices';
import { NumberField } from '../units/number-field';
import { TypedValue } from '../units/typed-value';
import { costLines, readCosts, wordsOf } from './lines';

/** What a channel demands of listings, field by field. */
@Component({
  selector: 'ks-channel-rules-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NumberField, TypedValue],
  templateUrl: './channel-rules-form.html',
  styleUrl: './rules-fields.scss',
})
export class ChannelRulesForm {
  private readonly notices = inject(Notices);
  readonly rules = input.required<ChannelRules>();
  readonly changed = output<ChannelRulesFields>();
  protected readonly currencies = CURRENCIES;
  protected readonly shapes = LISTED_SHAPES;
  protected readonly ways = MARKET_INTERFACES.map((id) => ({ id, words: MARKET_WORDS[id] }));
  protected readonly clips = [
    { id: 'none', words: 'takes no clip' },
    { id: 'allowed', words: 'takes one' },
    { id: 'needed', words: 'wants one' },
  ] as const;
  /** Numbers in the order they are read: a part of the rules, its field, and the words for it. */
  protected readonly numbers = [
    { part: 'title', field: 'least', label: 'Title, at least', unit: 'letters', most: 500 },
    { part: 'title', field: 'most', label: 'at most', unit: 'letters', most: 500 },
    { part: 'description', field: 'least', label: 'Description, at least', unit: 'letters', most: 10_000 },
    { part: 'description', field: 'most', label: 'at most', unit: 'letters', most: 10_000 },
    { part: 'tags', field: 'least', label: 'Tags, at least', unit: '', most: 50 },
    { part: 'tags', field: 'most', label: 'at most', unit: '', most: 50 },
    { part: 'tags', field: 'letters', label: 'Letters of a tag', unit: '', most: 100 },
    { part: 'pictures', field: 'least', label: 'Pictures, at least', unit: '', most: 50 },
    { part: 'pictures', field: 'most', label: 'at most', unit: '', most: 50 },
    { part: 'pictures', field: 'leastSide', label: 'Shorter side', unit: 'px', most: 10_000 },
  ] as const;
  protected readonly costs = computed(() => costLines(this.rules().costs, this.rules().currency));
  protected readonly fixed = computed(() => amountText(this.rules().fees.fixed, this.rules().currency));

  protected valueOf(part: string, field: string): number {
    return (this.rules() as unknown as Record<string, Record<string, number>>)[part][field];
  }

  protected set(change: Partial<ChannelRulesFields>): void {
    const { id: _id, revision: _revision, shipped: _shipped, ...fields } = this.rules();
    this.changed.emit({ ...fields, ...change });
  }

  protected setNumber(part: 'title' | 'description' | 'tags' | 'pictures', field: string, value: number): void {
    this.set({ [part]: { ...this.rules()[part], [field]: value } });
  }

  protected toggleShape(shape: ListedShape): void {
    const { pictures } = this.rules();
    const shapes = this.shapes.filter((one) => (one === shape) !== pictures.shapes.includes(one));
    this.set({ pictures: { ...pictures, shapes } });
  }

  protected setFirstPlain(firstPlain: boolean): void {
    this.set({ pictures: { ...this.rules().pictures, firstPlain } });
  }

  protected setForbidden(text: string): void {
    this.set({ forbidden: wordsOf(text) });
  }

  protected setFee(field: 'percent' | 'fixed', text: string): void {
    const { fees, currency } = this.rules();
    const minor = parseMoney(text, currency);
    if (field === 'percent' && readDecimal(text)) this.set({ fees: { ...fees, percent: text.trim() } });
    else if (field === 'fixed' && minor !== null) this.set({ fees: { ...fees, fixed: minor } });
    else this.notices.say(`“${text}” is not a number that can be taken. The old one stays.`);
  }

  protected setCosts(text: string): void {
    const lines = readCosts(text, this.rules().currency);
    if ('wrong' in lines) this.notices.say(lines.wrong);
    else this.set({ costs: lines.read });
  }

  protected setBy(by: string): void {
    this.set({ by: this.ways.find(({ id }) => id === by)?.id ?? null });
  }

  protected setClip(clip: string): void {
    this.set({ clip: clip as ChannelRulesFields['clip'] });
  }
}
