import { FILE_TYPES } from '@kettle/core/model';
import { CURRENCIES } from '@kettle/core/listing';
import {
  PRINT_SHOP_WAYS,
  MOST_CONTACT,
  MOST_COPIES,
  MOST_INTERESTS,
  MOST_PERSON,
  MOST_OF_ONE,
  type InterestFields,
  type PrintRunFields,
  type PrintShopFields,
} from '@kettle/core/orders';
import * as yup from 'yup';
import { choice, identifier, list, money, text, whole } from './fields.js';
import { schemaOf } from './proved.js';
import { colourwaySchema } from './requirement-schema.js';

const currency = () =>
  choice(
    'Currency',
    CURRENCIES.map(({ code }) => code),
  ).required();
const words = (label: string, most: number, letters: number) =>
  list(text(label, letters).required(`${label} has letters.`), most, `At most ${most} are named here.`, {
    count: 1,
    sentence: `Name at least one: ${label.toLowerCase()}.`,
  });

/** A print shop as far as an order has to know it. */
export const printShopFields = yup
  .object({
    channel: text('Name', 80).required('Name the print shop.'),
    currency: currency(),
    sizes: words('Size', 40, 40),
    positions: words('Position', 40, 60),
    breaks: list(
      yup
        .object({ from: whole('Copies', 1, MOST_COPIES).required(), each: money('Price').required() })
        .noUnknown()
        .required(),
      30,
      'At most 30 price breaks.',
      { count: 1, sentence: 'A print shop has at least one price.' },
    ),
    setUp: money('Set-up').required(),
    days: whole('Days', 0, 365).required(),
    takes: yup.array().of(choice('File', FILE_TYPES).required()).min(1).optional(),
    by: choice('How orders are sent', PRINT_SHOP_WAYS).nullable().defined(),
  })
  .noUnknown()
  .required()
  .test('rising', 'Price breaks come in rising order of copies.', ({ breaks }) =>
    (breaks ?? []).every(({ from }, i, all) => i === 0 || from > all[i - 1].from),
  );
export const printShopSchema = schemaOf<PrintShopFields>()(printShopFields);

/** An order sheet as it is asked for; what the requirement says is not said again. */
export const shopOrderSchema = yup
  .object({
    shopId: identifier().required(),
    requirementId: identifier().required(),
    size: text('Size', 40).required('Say which size.'),
    colour: text('Colour', 60).required('Say which colour.'),
    position: text('Position', 60).required('Say where it is printed.'),
    copies: whole('Copies', 1, MOST_COPIES).required('Say how many.'),
    note: text('Note', 500).defined(),
  })
  .noUnknown();
export type ShopOrderRequest = yup.InferType<typeof shopOrderSchema>;

/** A step that speaks to a print shop about one order. */
export const shopStepSchema = yup
  .object({
    orderId: identifier().required(),
    designId: identifier().required(),
    what: choice('What', ['send', 'ask']).required(),
    filename: yup.string().max(255).required(),
  })
  .required();
export type ShopStep = yup.InferType<typeof shopStepSchema>;

/** A print that is made once enough people want it. */
export const printRunFields = yup
  .object({
    name: text('Name', 120).required('Name it.'),
    requirementId: identifier().required(),
    shopId: identifier().required(),
    position: text('Position', 60).required('Say where it is printed.'),
    currency: currency(),
    price: money('Price').required(),
    worthFrom: whole('Copies', 1, MOST_COPIES).required(),
    sizes: words('Size', 40, 40),
    colours: list(colourwaySchema.required(), 60, 'At most 60 colours.', {
      count: 1,
      sentence: 'Choose at least one colour.',
    }),
    note: text('Note', 1000).defined(),
  })
  .noUnknown()
  .required();
export const printRunSchema = schemaOf<PrintRunFields>()(printRunFields);

export const interestFields = yup
  .object({
    name: text('Name', MOST_PERSON).trim().required('Say who it is for.'),
    contact: text('Contact', MOST_CONTACT).defined(),
    size: text('Size', 40).required('Say which size.'),
    colour: text('Colour', 60).required('Say which colour.'),
    copies: whole('Copies', 1, MOST_OF_ONE).required('Say how many.'),
    deposit: money('Deposit').required(),
  })
  .noUnknown()
  .required();
export const interestSchema = schemaOf<InterestFields>()(interestFields);

export const interestsSchema = yup
  .object({
    source: choice('Source', ['typed', 'table']).required(),
    /** Number of the form, made up by who sends it: one sent twice counts once. */
    form: identifier().required(),
    interests: list(interestSchema, MOST_INTERESTS, `At most ${MOST_INTERESTS} at once.`, {
      count: 1,
      sentence: 'There is nobody in it.',
    }),
  })
  .noUnknown();

export const runStateSchema = yup
  .object({ state: choice('State', ['open', 'closed', 'ordered', 'delivered']).required() })
  .noUnknown();

/** Changes of one entry: what was paid, and whether it was handed over. */
export const interestChangeSchema = yup
  .object({ deposit: money('Deposit').optional(), delivered: yup.boolean().strict().optional() })
  .noUnknown();
export type InterestChange = yup.InferType<typeof interestChangeSchema>;
