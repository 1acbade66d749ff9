import { setTimeout as wait } from 'node:timers/promises';
import type { PublishedReason } from '@kettle/contract';
import { ProblemError } from '../safety/problem-error.js';
import type { PublicationStore, WantedFile, WantedListing } from '../stores/publications.js';

/** Where a market is reached, and how it knows us. */
export interface MarketPlace {
  readonly address: string;
  /** Sent with every call. */
  readonly token: string;
  /** What its own answers are signed with. */
  readonly secret: string;
}

/** What a market says of a listing. */
export interface MarketAnswer {
  readonly state: 'live' | 'checking' | 'refused';
  readonly remoteId: string | null;
  readonly url: string | null;
  readonly reasons: readonly PublishedReason[];
}

/** A listing on its way to a market. */
export interface Sending {
  readonly listing: WantedListing;
  /** The same for every try to create it, so that it is created once. */
  readonly key: string;
  /** Hash of what is sent, hex: the same change has the same key. */
  readonly hash: string;
  /** What the market calls it, once it has it. */
  readonly remoteId: string | null;
  readonly bytesOf: (file: WantedFile) => Promise<Buffer>;
  readonly progress: (share: number) => void;
}

/** One way in which markets take listings. */
export interface Market {
  publish(sending: Sending, line: MarketLine): Promise<MarketAnswer>;
  takeDown(remoteId: string, key: string, line: MarketLine): Promise<void>;
}

/** Longest that a market may take for an answer, ms. */
const PATIENCE = 30_000;
/** Tries of a call that a market was too busy for, or that it did not answer. */
const MOST_TRIES = 6;
/** Waits between tries: each twice the one before, ms; what the market asks for goes before, up to a bound. */
const FIRST_WAIT = 400;
const MOST_WAIT = 60_000;
const MOST_READ = 1_000_000;

/** What a market answered. */
export interface Reply {
  readonly status: number;
  readonly body: Record<string, unknown>;
}

export interface Call {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  readonly path: string;
  /** In words, for the record. */
  readonly about: string;
  readonly json?: unknown;
  readonly bytes?: Buffer;
  readonly key?: string;
}

/** The line to one market, for one publication: each call is written down before it is made, and its answer after. */
export class MarketLine {
  constructor(
    private readonly channel: string,
    private readonly place: MarketPlace,
    private readonly publicationId: string,
    private readonly store: PublicationStore,
    private readonly signal: AbortSignal,
    private readonly firstWait = FIRST_WAIT,
  ) {}

  /** @throws ProblemError with a sentence when the market is away, too busy for long, or does not know us */
  async call(call: Call): Promise<Reply> {
    let pause = this.firstWait;
    for (let tries = 1; ; tries++) {
      this.signal.throwIfAborted();
      const reply = await this.once(call);
      if (reply && reply.status !== 429 && reply.status < 500) {
        if (reply.status === 401 || reply.status === 403)
          throw new ProblemError(
            409,
            'market-unknown',
            `${this.channel} does not know this shop: its key is wrong or has run out. Nothing was changed there.`,
          );
        return reply;
      }
      if (tries === MOST_TRIES)
        throw new ProblemError(
          503,
          'market-away',
          reply
            ? `${this.channel} was too busy to take this (it answered ${reply.status}, ${tries} times). What it has is as it was; send it again later.`
            : `${this.channel} did not answer. What it has is as it was; send it again later.`,
        );
      await wait(Math.min(MOST_WAIT, Math.max(pause, reply?.after ?? 0)), undefined, { signal: this.signal });
      pause *= 2;
    }
  }

  /** Null when no answer came. */
  private async once({ method, path, about, json, bytes, key }: Call): Promise<(Reply & { after: number }) | null> {
    const record = await this.store.begin(this.publicationId, { method, path, about, key: key ?? null });
    let answered = 'no answer came';
    try {
      const response = await fetch(new URL(path, this.place.address), {
        method,
        headers: {
          Authorization: `Bearer ${this.place.token}`,
          'User-Agent': 'Kettle-Sheet',
          ...(json === undefined ? {} : { 'Content-Type': 'application/json' }),
          ...(bytes === undefined ? {} : { 'Content-Type': 'application/octet-stream' }),
          ...(key ? { 'Idempotency-Key': key } : {}),
        },
        body: json === undefined ? (bytes as unknown as Uint8Array<ArrayBuffer> | undefined) : JSON.stringify(json),
        redirect: 'error',
        signal: AbortSignal.any([this.signal, AbortSignal.timeout(PATIENCE)]),
      });
      const text = (await response.text()).slice(0, MOST_READ);
      answered = text;
      await record.answered(response.status, text);
      return { status: response.status, body: objectOf(text), after: retryAfter(response.headers.get('Retry-After')) };
    } catch (error) {
      if (this.signal.aborted) throw error;
      await record.answered(null, answered === 'no answer came' ? String((error as Error).message) : answered);
      return null;
    }
  }
}

function objectOf(text: string): Record<string, unknown> {
  try {
    const value: unknown = JSON.parse(text);
    return value && typeof value === 'object' && !Array.isArray(value) ? (value as Record<string, unknown>) : {};
  } catch {
    return {};
  }
}

/** Retry-After (RFC 9110, 10.2.3): seconds, or a date. In ms. */
function retryAfter(value: string | null): number {
  if (!value) return 0;
  const seconds = /^\d+$/.test(value) ? Number(value) : (Date.parse(value) - Date.now()) / 1000;
  return Number.isFinite(seconds) ? Math.max(0, seconds * 1000) : 0;
}

/** Reasons as a market gives them, in its own words; others are left out. */
export function reasonsOf(value: unknown): PublishedReason[] {
  if (!Array.isArray(value)) return [];
  return value.slice(0, 50).flatMap((one: unknown) => {
    const { field, text } = (one ?? {}) as { field?: unknown; text?: unknown };
    return typeof text === 'string'
      ? [{ field: typeof field === 'string' ? field.slice(0, 40) : '', text: text.slice(0, 500) }]
      : [];
  });
}

export const textOr = (value: unknown, otherwise: string | null): string | null =>
  typeof value === 'string' && value.length <= 400 ? value : otherwise;

/** A market's answer that is none of those that were agreed. */
export const strange = (status: number): ProblemError =>
  new ProblemError(
    502,
    'market-strange',
    `The market answered in a way that is not understood (${status}). Its rules may have changed; what it has is as it was.`,
  );
