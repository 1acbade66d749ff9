import * as yup from 'yup';
import { identifier, list, text } from './fields.js';

/** Most alternatives of one page, and pictures of one of them. */
export const MOST_ALTERNATIVES = 6;
export const MOST_SHOWN = 24;
/** Longest comment, letters. */
export const MOST_COMMENT = 2000;

const alternatives = () =>
  list(
    yup
      .object({
        designId: identifier().required(),
        /** Listing pictures in their order; all current ones of the design when there are none. */
        pictures: list(identifier().required(), MOST_SHOWN, `At most ${MOST_SHOWN} pictures are shown.`),
        clip: identifier().nullable().defined(),
      })
      .noUnknown()
      .required(),
    MOST_ALTERNATIVES,
    `At most ${MOST_ALTERNATIVES} alternatives are shown.`,
    { count: 1, sentence: 'Choose what is shown.' },
  );

/** A page for a client: whom it is for, how long, behind which words. */
export const clientPageSchema = yup
  .object({
    seller: text('Your name', 80).required('Say in whose name the page is.'),
    client: text('Client', 80).required('Say whom it is for.'),
    note: text('Note', 1000).defined(),
    /** Days until it closes by itself; null for never. */
    days: yup.number().integer('Days are whole.').min(1, 'At least one day.').max(3650).nullable().defined(),
    /** Empty for none. */
    passPhrase: text('Pass phrase', 100)
      .defined()
      .test('long', 'A pass phrase has at least 6 letters.', (value) => !value || value.length >= 6),
    alternatives: alternatives(),
  })
  .noUnknown();
export type ClientPageRequest = yup.InferType<typeof clientPageSchema>;
export type ClientAlternativeRequest = ClientPageRequest['alternatives'][number];

/** A newer round of what is shown. */
export const clientRoundSchema = yup
  .object({ note: text('Note', 1000).defined(), alternatives: alternatives() })
  .noUnknown();

export const clientAnswerSchema = yup
  .object({ text: text('Answer', MOST_COMMENT).trim().required('Say something.'), form: identifier().required() })
  .noUnknown();

/** What a client says on the page: a form, so everything comes as text. */
export const guestWordSchema = yup
  .object({
    kind: yup.string().oneOf(['comment', 'change', 'approval'], 'This page does not know what was meant.').required(),
    name: yup.string().trim().max(80, 'The name is longer than 80 letters.').required('Say who you are.'),
    text: yup
      .string()
      .trim()
      .max(MOST_COMMENT, `What you wrote is longer than ${MOST_COMMENT} letters. Say it in several comments.`)
      .default('')
      .when('kind', {
        is: 'approval',
        otherwise: (schema) => schema.required('Write what you would like to say.'),
      }),
    round: yup.number().integer().min(1).required('Open the page again.'),
    form: yup
      .string()
      .matches(/^[\w-]{8,40}$/, 'Open the page again.')
      .required('Open the page again.'),
    alternative: yup
      .number()
      .transform(blankIsNull)
      .integer()
      .min(0)
      .max(MOST_ALTERNATIVES - 1)
      .nullable()
      .default(null),
    picture: yup
      .number()
      .transform(blankIsNull)
      .integer()
      .min(0)
      .max(MOST_SHOWN - 1)
      .nullable()
      .default(null),
    x: yup.number().transform(blankIsNull).min(0).max(1).nullable().default(null),
    y: yup.number().transform(blankIsNull).min(0).max(1).nullable().default(null),
  })
  .noUnknown();
export type GuestWord = yup.InferType<typeof guestWordSchema>;

/** An empty field of a form is none. */
function blankIsNull(value: number | null, given: unknown): number | null {
  return given === '' || given === undefined ? null : value;
}
