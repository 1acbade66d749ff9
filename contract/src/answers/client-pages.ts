import type { InferType } from 'yup';
import { orNull, record, told } from '../told.js';

const shownFile = record({
  sha256: told.sha256(),
  mediaType: told.text(),
  bytes: told.whole(),
  /** Said of it to those who do not see it. */
  alt: told.text(),
});
export type ShownFile = InferType<typeof shownFile>;

const namedFiles = () => told.list(record({ name: told.text(), sha256: told.sha256() }));

/** What is shown to a client of one alternative. */
const alternative = record({
  /** Names all that would be printed of it, SHA-256, hex: the same as long as the print is. */
  print: told.text(),
  designId: told.id(),
  name: told.text(),
  revision: told.whole(),
  pictures: told.list(shownFile),
  clip: orNull(shownFile),
  /** How large it is printed: a product, and centimetres. */
  sizes: told.list(record({ product: told.text(), widthCm: told.number(), heightCm: told.number() })),
  /** Print files that a yes would be of. */
  files: namedFiles(),
});
export type ShownAlternative = InferType<typeof alternative>;

/** What a client said yes to: a revision, and files by their content. */
const approved = record({
  /** As that of the alternative. */
  print: told.text(),
  designId: told.id(),
  name: told.text(),
  revision: told.whole(),
  files: namedFiles(),
});
export type ApprovedRecord = InferType<typeof approved>;

/** Something that was said on a client's page. */
const word = record({
  id: told.whole(),
  round: told.whole(),
  kind: told.oneOf('comment', 'change', 'approval', 'answer'),
  bySeller: told.flag(),
  name: told.text(),
  text: told.text(),
  /** Which alternative it is about, from 0. */
  alternative: told.whole().nullable(),
  /** Which of its pictures, from 0, and where on it, shares of its sides. */
  pin: orNull(record({ picture: told.whole(), x: told.number(), y: told.number() })),
  /** What exactly was approved; null for anything else. */
  approved: orNull(approved),
  saidAt: told.time(),
  seen: told.flag(),
});
export type ClientWord = InferType<typeof word>;
export type ClientWordKind = ClientWord['kind'];

/** A client's page as its seller sees it. */
export const clientPageAnswerSchema = record({
  id: told.id(),
  designId: told.id(),
  seller: told.text(),
  client: told.text(),
  /** Path of the page, to be handed to the client. */
  path: told.text(),
  hasPassPhrase: told.flag(),
  expiresAt: told.time().nullable(),
  withdrawnAt: told.time().nullable(),
  open: told.flag(),
  madeAt: told.time(),
  /** Oldest first. */
  rounds: told.list(
    record({
      round: told.whole(),
      shownAt: told.time(),
      note: told.text(),
      alternatives: told.list(alternative),
    }),
  ),
  /** Oldest first. */
  words: told.list(word),
  /** The yes that stands, if any: of the round that is shown. */
  approval: orNull(word),
  /** True when a design has changed since it was approved, so that the yes is no longer to what it is. */
  changedSince: told.flag(),
});
export type ClientPage = InferType<typeof clientPageAnswerSchema>;
