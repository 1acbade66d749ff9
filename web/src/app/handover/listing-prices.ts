import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import {
  amountText,
  earnedBy,
  leastPrice,
  parseMoney,
  type Earned,
  USUAL_PRICES,
  type Offer,
  type PriceRule,
} from '@kettle/core/listing';
import { TypedValue } from '../units/typed-value';
import { ListingDesk, type Stand } from './listing-desk';
import { PriceRuleBar } from './price-rule-bar';

interface Row extends Offer {
  readonly earned: Earned | null;
  /** All colours of the product, and whether it is sold in each. */
  readonly colours: readonly { readonly name: string; readonly hex: string; readonly on: boolean }[];
}

/** What each product costs, sells for and earns on a channel, and the colours it is sold in. */
@Component({
  selector: 'ks-listing-prices',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [PriceRuleBar, TypedValue],
  templateUrl: './listing-prices.html',
  styleUrl: './listing-prices.scss',
})
export class ListingPrices {
  protected readonly desk = inject(ListingDesk);
  readonly stand = input.required<Stand>();
  protected readonly wrong = signal('');
  protected readonly amount = amountText;
  protected readonly usual = USUAL_PRICES;
  protected readonly rows = computed<readonly Row[]>(() => {
    const { offers, rules } = this.stand();
    return offers.map((offer) => ({
      ...offer,
      earned: offer.price === null || offer.cost === null ? null : earnedBy(offer.price, offer.cost, rules.fees),
      colours: this.desk
        .coloursOf(offer.requirementId)
        .map((one) => ({ ...one, on: offer.colourways.some(({ hex }) => hex === one.hex) })),
    }));
  });

  protected setRule(prices: PriceRule): void {
    this.desk.change((fields) => ({ ...fields, prices }));
  }

  /** An amount of one's own; an empty field gives it back to the rule. */
  protected setAmount(row: Row, field: 'cost' | 'price', text: string): void {
    const { currency } = this.stand().rules;
    const minor = text.trim() === '' ? undefined : parseMoney(text, currency);
    if (minor === null)
      this.wrong.set(
        `“${text}” is not an amount in ${currency} such as ${amountText(1995, currency)}. The old one stays.`,
      );
    else {
      this.wrong.set('');
      this.desk.product(row.requirementId, { [field]: minor });
    }
  }

  protected toggleColour(row: Row, hex: string): void {
    const without = row.colours.filter((one) => (one.hex === hex ? one.on : !one.on)).map((one) => one.hex);
    this.desk.product(row.requirementId, { without: without.length ? without : undefined });
  }

  protected sentenceOf({ earned, cost }: Row): string {
    const { currency, fees } = this.stand().rules;
    if (!earned || cost === null) return 'Say what it costs you.';
    if (earned.earns >= 0) return '';
    const least = leastPrice(cost, fees);
    return least === null
      ? 'The fees eat every price.'
      : `You would pay ${amountText(-earned.earns, currency)} for each; from ${amountText(least, currency)} on you do not.`;
  }
}
