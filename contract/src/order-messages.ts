import type {
  InterestFields,
  InterestSource,
  OrderLine,
  OrderSheet,
  PrintRunFields,
  PrintRunState,
  RunPrice,
} from '@kettle/core';

export type ShopOrderState = 'waiting' | 'sending' | 'looking' | 'yes' | 'mend' | 'failed';

/** A place of a file that a print shop names, px of that file. */
export interface ShopPlace {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** What a print shop says of a file, in its own words. */
export interface ShopRemark {
  readonly text: string;
  readonly where: ShopPlace | null;
  /** Its picture of the place, by content; null when it sent none. */
  readonly picture: string | null;
}

/** A file that was sent, as it was. */
export interface SentFileRecord {
  readonly filename: string;
  readonly sha256: string;
  readonly bytes: number;
  /** Of the design it was made from. */
  readonly revision: number | null;
  /** DPI of the requirement, so that places in px can be found in mm. */
  readonly dpi: number;
}

/** What went to and fro in one round: our file, then the shop's answer. */
export interface ShopRound {
  readonly round: number;
  readonly sentAt: string;
  readonly file: SentFileRecord;
  /** Null while there is none. */
  readonly answer: {
    readonly saidAt: string;
    readonly state: 'yes' | 'mend';
    readonly remarks: readonly ShopRemark[];
    /** Its price, minor units. */
    readonly price: (RunPrice & { readonly currency: string }) | null;
    readonly days: number | null;
  } | null;
}

/** An order at a print shop with its whole thread. */
export interface ShopOrder {
  readonly id: string;
  readonly designId: string;
  readonly shopId: string;
  readonly shop: string;
  readonly requirementId: string;
  readonly state: ShopOrderState;
  readonly sheet: OrderSheet;
  /** Why it could not be sent, in a sentence. */
  readonly trouble: string;
  readonly changedAt: string;
  /** Oldest first. */
  readonly rounds: readonly ShopRound[];
  /** True when the design would be printed otherwise than the file that was sent last. */
  readonly changedSince: boolean;
}

/** Every call outside that was made about something, and its answer. */
export interface OutsideCall {
  readonly method: string;
  readonly path: string;
  readonly about: string;
  readonly key: string | null;
  readonly status: number | null;
  readonly answer: string | null;
  readonly begunAt: string;
  readonly answeredAt: string | null;
}

/** What is shown to a client of one alternative. */
export interface ShownAlternative {
  /** Names all that would be printed of it, SHA-256, hex: the same as long as the print is. */
  readonly print: string;
  readonly designId: string;
  readonly name: string;
  readonly revision: number;
  readonly pictures: readonly ShownFile[];
  readonly clip: ShownFile | null;
  /** How large it is printed: a product, and centimetres. */
  readonly sizes: readonly { readonly product: string; readonly widthCm: number; readonly heightCm: number }[];
  /** Print files that a yes would be of. */
  readonly files: readonly { readonly name: string; readonly sha256: string }[];
}

export interface ShownFile {
  readonly sha256: string;
  readonly mediaType: string;
  readonly bytes: number;
  /** Said of it to those who do not see it. */
  readonly alt: string;
}

export type ClientWordKind = 'comment' | 'change' | 'approval' | 'answer';

/** Something that was said on a client's page. */
export interface ClientWord {
  readonly id: number;
  readonly round: number;
  readonly kind: ClientWordKind;
  readonly bySeller: boolean;
  readonly name: string;
  readonly text: string;
  /** Which alternative it is about, from 0. */
  readonly alternative: number | null;
  /** Which of its pictures, from 0, and where on it, shares of its sides. */
  readonly pin: { readonly picture: number; readonly x: number; readonly y: number } | null;
  /** What exactly was approved; null for anything else. */
  readonly approved: ApprovedRecord | null;
  readonly saidAt: string;
  readonly seen: boolean;
}

/** What a client said yes to: a revision, and files by their content. */
export interface ApprovedRecord {
  /** As that of the alternative. */
  readonly print: string;
  readonly designId: string;
  readonly name: string;
  readonly revision: number;
  readonly files: readonly { readonly name: string; readonly sha256: string }[];
}

/** A client's page as its seller sees it. */
export interface ClientPage {
  readonly id: string;
  readonly designId: string;
  readonly seller: string;
  readonly client: string;
  /** Path of the page, to be handed to the client. */
  readonly path: string;
  readonly hasPassPhrase: boolean;
  readonly expiresAt: string | null;
  readonly withdrawnAt: string | null;
  readonly open: boolean;
  readonly madeAt: string;
  /** Oldest first. */
  readonly rounds: readonly {
    readonly round: number;
    readonly shownAt: string;
    readonly note: string;
    readonly alternatives: readonly ShownAlternative[];
  }[];
  /** Oldest first. */
  readonly words: readonly ClientWord[];
  /** The yes that stands, if any: of the round that is shown. */
  readonly approval: ClientWord | null;
  /** True when a design has changed since it was approved, so that the yes is no longer to what it is. */
  readonly changedSince: boolean;
}

/** What clients said that was not read yet. */
export interface HeardOf {
  readonly count: number;
  /** The design of which something was said last. */
  readonly designId: string;
}

/** What the page asks now and then. */
export interface Session {
  /** Whether the server has a password. */
  readonly gated: boolean;
  /** What its keeper should know; null for nothing. */
  readonly notice: string | null;
  readonly heard: HeardOf | null;
}

/** An entry of a run, without what was erased of it. */
export interface Interest extends InterestFields {
  readonly id: string;
  readonly source: InterestSource;
  readonly notedAt: string;
  readonly deliveredAt: string | null;
  /** True when its person is no longer named. */
  readonly erased: boolean;
}

/** Orders in hand of one print, with everybody who wants one. */
export interface PrintRun extends PrintRunFields {
  readonly id: string;
  readonly designId: string;
  readonly designName: string;
  /** Not `revision`: the entries change without it. */
  readonly savedRevision: number;
  readonly state: PrintRunState;
  /** Path of its public page; null while it has none. */
  readonly path: string | null;
  readonly madeAt: string;
  readonly orderedAt: string | null;
  /** What was ordered, once it was. */
  readonly ordered: { readonly lines: readonly OrderLine[]; readonly price: RunPrice | null } | null;
  /** Oldest first. */
  readonly interests: readonly Interest[];
}

export type HandingKind =
  | 'sent'
  | 'live'
  | 'refused'
  | 'sold-out'
  | 'taken-down'
  | 'shop-sent'
  | 'shop-yes'
  | 'shop-mend'
  | 'shown'
  | 'comment'
  | 'change'
  | 'approval'
  | 'run-open'
  | 'run-closed'
  | 'run-ordered'
  | 'run-delivered'
  | 'made';

/** Something that happened to a design. */
export interface HandingEvent {
  readonly designId: string;
  readonly design: string;
  readonly kind: HandingKind;
  /** A market, a print shop, a client; empty for what was made. */
  readonly whom: string;
  readonly said: string;
  readonly at: string;
}

/** A sale as a market reported it. Minor units. */
export interface Sale {
  readonly designId: string;
  readonly design: string;
  readonly channel: string;
  readonly product: string;
  readonly colour: string;
  readonly copies: number;
  readonly price: number;
  readonly currency: string;
  /** Of one; null where its cost was not known. */
  readonly earned: number | null;
  readonly at: string;
}

/** What became of designs: events and sales, the newest first, and what currencies are worth. */
export interface Became {
  readonly events: readonly HandingEvent[];
  readonly sales: readonly Sale[];
  /** True where more happened than is listed. */
  readonly more: boolean;
  readonly rates: SellerRates;
}

/** What currencies are worth, as the seller entered it: units of the home currency for one. */
export interface SellerRates {
  readonly home: string;
  readonly rates: Readonly<Record<string, string>>;
}

export interface KeptPriceRule {
  readonly name: string;
  readonly factor: string;
  readonly ending: number | null;
}
