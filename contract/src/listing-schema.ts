import {
  CURRENCIES,
  LISTED_SHAPES,
  MARKET_INTERFACES,
  MOST_LISTING,
  readDecimal,
  type ChannelRulesFields,
  type ListingFields,
} from '@kettle/core/listing';
import * as yup from 'yup';
import {
  choice,
  colour,
  finite,
  flag,
  identifier,
  list,
  money,
  optionalList,
  recordOf,
  someDesigns,
  text,
  whole,
} from './fields.js';
import { schemaOf } from './proved.js';

const decimal = (label: string, least: number, most: number) =>
  yup
    .string()
    .max(20)
    .required()
    .test('decimal', `${label} must be a number from ${least} to ${most}, such as 2.4.`, (value) => {
      // Whether it may be missing is said elsewhere.
      if (value === undefined) return true;
      const read = readDecimal(value);
      const number = read && Number(read.units) / 10 ** read.scale;
      return number !== null && number >= least && number <= most;
    });

/** From so many to so many. */
const range = (label: string, most: number) =>
  yup
    .object({ least: whole(label, 0, most).required(), most: whole(label, 0, most).required() })
    .noUnknown()
    .required()
    .test(
      'order',
      `${label}: the most is not less than the least.`,
      (value) => !((value.least ?? 0) > (value.most ?? 0)),
    );

const tag = () => text('Tag', MOST_LISTING.tag).required('A tag has letters.');
const tags = () => list(tag(), MOST_LISTING.tags, `A listing has at most ${MOST_LISTING.tags} tags.`);

/** What a channel demands of listings. */
export const channelRulesFields = yup
  .object({
    channel: text('Channel', 80).required('Name the channel.'),
    currency: choice(
      'Currency',
      CURRENCIES.map(({ code }) => code),
    ).required(),
    title: range('Letters of the title', MOST_LISTING.title),
    description: range('Letters of the description', MOST_LISTING.description),
    tags: range('Tags', MOST_LISTING.tags)
      .clone()
      .shape({ letters: whole('Letters of a tag', 1, MOST_LISTING.tag).required() }),
    forbidden: list(
      text('Forbidden word', 60).required('A forbidden word has letters.'),
      200,
      'A channel forbids at most 200 words here.',
    ),
    capitals: finite('Capitals', 0, 1).required(),
    pictures: range('Pictures', MOST_LISTING.pictures)
      .clone()
      .shape({
        leastSide: whole('Shorter side, px', 1, 10_000).required(),
        shapes: list(choice('Shape', LISTED_SHAPES).required(), LISTED_SHAPES.length, 'A shape is named once.'),
        firstPlain: flag('The first picture').required(),
      }),
    clip: choice('Clip', ['none', 'allowed', 'needed']).required(),
    fees: yup
      .object({ percent: decimal('Fee, percent', 0, 100), fixed: money('Fee').required() })
      .noUnknown()
      .required(),
    costs: list(
      yup
        .object({ product: text('Product', 80).required('Name the product.'), cost: money('Cost').required() })
        .noUnknown()
        .required(),
      200,
      'At most 200 products have a cost here.',
    ),
    by: choice('How listings are sent', MARKET_INTERFACES).nullable().defined(),
  })
  .noUnknown()
  .required();
export const channelRulesSchema = schemaOf<ChannelRulesFields>()(channelRulesFields);

/** What a design is sold with. */
const listingObject = yup
  .object({
    title: text('Title', MOST_LISTING.title).defined(),
    description: text('Description', MOST_LISTING.description).defined(),
    tags: tags(),
    prices: yup
      .object({
        factor: decimal('Factor', 0, 100),
        ending: whole('Ending', 0, 999).nullable().defined(),
      })
      .noUnknown()
      .required(),
    products: recordOf(
      yup
        .object({
          cost: money('Cost').optional(),
          price: money('Price').optional(),
          without: optionalList(colour('Colour').required(), 60, 'At most 60 colours are left out.'),
          off: flag('Not sold').optional(),
        })
        .noUnknown(),
      500,
      'A listing has at most 500 products.',
    ).required('A listing has products, {} for none of its own.'),
    exceptions: recordOf(
      yup
        .object({
          title: text('Title', MOST_LISTING.title).optional(),
          description: text('Description', MOST_LISTING.description).optional(),
          tags: optionalList(tag(), MOST_LISTING.tags, `A listing has at most ${MOST_LISTING.tags} tags.`),
          off: flag('Not sold here').optional(),
        })
        .noUnknown(),
      100,
      'A listing has exceptions for at most 100 channels.',
    ).required('A listing has exceptions, {} for none.'),
    pictures: optionalList(
      identifier().required(),
      MOST_LISTING.pictures,
      `A listing has at most ${MOST_LISTING.pictures} pictures.`,
    ),
    clip: identifier().optional(),
  })
  .noUnknown()
  .required();
export const listingSchema = schemaOf<ListingFields>()(listingObject);

/** Channels that a design's listing is to be sent to. */
export const publishSchema = yup
  .object({
    channels: list(identifier().required(), 50, 'A listing is sent to at most 50 channels at once.', {
      count: 1,
      sentence: 'Choose at least one channel.',
    }),
    /** True to have it kept there unseen; it is put live by sending it again without. */
    draft: flag('Draft').optional(),
  })
  .noUnknown();

/** A price rule that is kept under a name. */
const keptPriceRule = yup
  .object({
    name: text('Name', 60).required('Name the price rule.'),
    factor: decimal('Factor', 0, 100),
    ending: whole('Ending', 0, 999).nullable().defined(),
  })
  .noUnknown()
  .required();
export const priceRulesSchema = yup
  .object({ rules: list(keptPriceRule, 40, 'At most 40 price rules are kept.') })
  .noUnknown();

/** A price rule for the listings of many designs at once. */
export const applyPricesSchema = yup
  .object({
    designIds: someDesigns(),
    factor: decimal('Factor', 0, 100),
    ending: whole('Ending', 0, 999).nullable().defined(),
  })
  .noUnknown();

/** What currencies are worth in one that is common to all. */
export const ratesSchema = yup
  .object({
    home: choice(
      'Currency',
      CURRENCIES.map(({ code }) => code),
    ).required(),
    rates: yup
      .object<Record<string, string>>(
        Object.fromEntries(CURRENCIES.map(({ code }) => [code, decimal(`Rate of ${code}`, 0, 100_000).optional()])),
      )
      .noUnknown()
      .required(),
  })
  .noUnknown();

/** A step that sends one listing to its market, or takes it down there. */
export const publishStepSchema = yup
  .object({
    publicationId: identifier().required(),
    designId: identifier().required(),
    what: choice('What', ['publish', 'take-down']).required(),
    filename: yup.string().max(255).required(),
  })
  .required();
export type PublishStep = yup.InferType<typeof publishStepSchema>;
