import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import {
  amountText,
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
import { Settings, amount, check, chips, inThrees, pick, row, text, type Setting } from '../units/settings';
import { currencyPick } from './fields';
import { costLines, readCosts, wordsOf } from './lines';

const CLIPS = [
  { id: 'none', words: 'takes no clip' },
  { id: 'allowed', words: 'takes one' },
  { id: 'needed', words: 'wants one' },
] as const;
/** Numbers in the order they are read: a part of the rules, its field, and the words for it. */
const NUMBERS = [
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

/** What a channel demands of listings, field by field. */
@Component({
  selector: 'ks-channel-rules-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Settings],
  template: `
    <fieldset [disabled]="rules().shipped">
      <legend class="sr-only">Rules of {{ rules().channel }}</legend>
      <ks-settings [of]="fields()" />
    </fieldset>
  `,
  styleUrl: './rules-fields.scss',
})
export class ChannelRulesForm {
  private readonly notices = inject(Notices);
  readonly rules = input.required<ChannelRules>();
  readonly changed = output<ChannelRulesFields>();
  protected readonly fields = computed<readonly Setting[]>(() => {
    const rules = this.rules();
    const { currency, pictures } = rules;
    const [name, money, by, ...rest] = [
      text('Channel, as its requirements name it', rules.channel, {
        most: 80,
        set: (channel) => this.set({ channel }),
      }),
      currencyPick(currency, (code) => this.set({ currency: code })),
      pick('Listings are', rules.by ?? '', {
        of: [
          { id: '', words: 'carried there by hand' },
          ...MARKET_INTERFACES.map((id) => ({ id, words: MARKET_WORDS[id] })),
        ],
        set: (way) => this.set({ by: MARKET_INTERFACES.find((id) => id === way) ?? null }),
      }),
      ...NUMBERS.map(({ part, field, label, unit, most }) =>
        amount(label, (rules[part] as Readonly<Record<string, unknown>>)[field] as number, {
          unit,
          least: 0,
          most,
          set: (value) => this.set({ [part]: { ...rules[part], [field]: value } }),
        }),
      ),
      amount('Capitals of a title, at most', rules.capitals * 100, {
        unit: '%',
        least: 0,
        most: 100,
        set: (percent) => this.set({ capitals: percent / 100 }),
      }),
      pick('Clip', rules.clip, {
        of: CLIPS,
        set: (clip) => this.set({ clip: clip as ChannelRulesFields['clip'] }),
      }),
      text('Fee, percent of the price', rules.fees.percent, {
        mode: 'decimal',
        set: (percent) => this.setFee('percent', percent),
      }),
      text(`Fee of each sale, ${currency}`, amountText(rules.fees.fixed, currency), {
        mode: 'decimal',
        set: (fixed) => this.setFee('fixed', fixed),
      }),
    ];
    return [
      row(name, money, by),
      ...inThrees(rest),
      chips(
        LISTED_SHAPES.map((shape) => ({
          words: shape,
          on: pictures.shapes.includes(shape),
          disabled: rules.shipped,
          press: () => this.toggleShape(shape),
        })),
        'Shapes of pictures it takes; any when none is chosen',
      ),
      check('The first picture shows the product before one plain colour', pictures.firstPlain, (firstPlain) =>
        this.set({ pictures: { ...pictures, firstPlain } }),
      ),
      text('Words that may stand nowhere', rules.forbidden.join(', '), {
        rows: 2,
        set: (forbidden) => this.set({ forbidden: wordsOf(forbidden) }),
      }),
      text('What products cost you there, one a line', costLines(rules.costs, currency), {
        rows: 4,
        set: (costs) => this.setCosts(costs),
      }),
    ];
  });

  private set(change: Partial<ChannelRulesFields>): void {
    const { id: _id, revision: _revision, shipped: _shipped, ...fields } = this.rules();
    this.changed.emit({ ...fields, ...change });
  }

  private toggleShape(shape: ListedShape): void {
    const { pictures } = this.rules();
    const shapes = LISTED_SHAPES.filter((one) => (one === shape) !== pictures.shapes.includes(one));
    this.set({ pictures: { ...pictures, shapes } });
  }

  private setFee(field: 'percent' | 'fixed', text: string): void {
    const { fees, currency } = this.rules();
    const minor = parseMoney(text, currency);
    if (field === 'percent' && readDecimal(text)) this.set({ fees: { ...fees, percent: text.trim() } });
    else if (field === 'fixed' && minor !== null) this.set({ fees: { ...fees, fixed: minor } });
    else this.notices.say(`“${text}” is not a number that can be taken. The old one stays.`);
  }

  private setCosts(text: string): void {
    const lines = readCosts(text, this.rules().currency);
    if ('wrong' in lines) this.notices.say(lines.wrong);
    else this.set({ costs: lines.read });
  }
}
