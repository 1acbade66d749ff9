import { MARKET_INTERFACES, type MarketInterface } from '@kettle/core/listing';
import { PRINT_SHOP_WAYS, type PrintShopWay } from '@kettle/core/orders';
import { setTimeout as wait } from 'node:timers/promises';
import { ProblemError } from '../basics/problem-error.js';
import type { CallRecord } from './call-store.js';

/** Where a market or a print shop is reached, and how it knows us. */
export interface OutsidePlace {
  readonly address: string;
  /** Sent with every call. */
  readonly token: string;
  /** What its own answers are signed with. */
  readonly secret: string;
}

/** Ways in which the outside is spoken with. */
export type OutsideWay = MarketInterface | PrintShopWay;
export const OUTSIDE_WAYS: readonly OutsideWay[] = [...MARKET_INTERFACES, ...PRINT_SHOP_WAYS];

/** Where they are reached, by the way in which they are spoken with. */
export type OutsidePlaces = ReadonlyMap<OutsideWay, OutsidePlace>;

/** Longest that they may take for an answer, ms. */
const PATIENCE = 30_000;
/** Tries of a call that they were too busy for, or did not answer. */
const MOST_TRIES = 6;
/** Waits between tries: each twice the one before, ms; what they ask for goes before, up to a bound. */
const FIRST_WAIT = 400;
const MOST_WAIT = 60_000;
const MOST_READ = 4_000_000;

/** What they answered. */
export interface Reply {
  readonly status: number;
  /** As JSON; empty where it is none. */
  readonly body: Record<string, unknown>;
  /** As it came, cut off beyond any size that makes sense. */
  readonly bytes: Buffer;
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

/** The line to one market or print shop, about one thing: each call is written down before it is made, and its answer after. */
export class OutsideLine {
  constructor(
    private readonly name: string,
    private readonly place: OutsidePlace,
    private readonly record: CallRecord,
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
            `${this.name} does not know this shop: its key is wrong or has run out. Nothing was changed there.`,
          );
        return reply;
      }
      if (tries === MOST_TRIES)
        throw new ProblemError(
          503,
          'market-away',
          reply
            ? `${this.name} was too busy to take this (it answered ${reply.status}, ${tries} times). What it has is as it was; send it again later.`
            : `${this.name} did not answer. What it has is as it was; send it again later.`,
        );
      await wait(Math.min(MOST_WAIT, Math.max(pause, reply?.after ?? 0)), undefined, { signal: this.signal });
      pause *= 2;
    }
  }

  /** Null when no answer came. */
  private async once({ method, path, about, json, bytes, key }: Call): Promise<(Reply & { after: number }) | null> {
    const record = await this.record({ method, path, about, key: key ?? null });
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
      const content = await firstOf(response);
      const isPicture = /^image\//.test(response.headers.get('Content-Type') ?? '');
      const text = isPicture ? '' : content.toString('utf8');
      answered = isPicture ? `a picture of ${content.length} bytes` : text;
      await record.answered(response.status, answered);
      return {
        status: response.status,
        body: objectOf(text),
        bytes: content,
        after: retryAfter(response.headers.get('Retry-After')),
      };
    } catch (error) {
      if (this.signal.aborted) throw error;
      await record.answered(null, answered === 'no answer came' ? String((error as Error).message) : answered);
      return null;
    }
  }
}

/** The bytes of an answer, and no more of them than make sense: nobody fills our memory. */
async function firstOf(response: Response): Promise<Buffer> {
  const pieces: Uint8Array[] = [];
  let length = 0;
  for await (const piece of (response.body ?? []) as AsyncIterable<Uint8Array>) {
    pieces.push(piece);
    length += piece.length;
    if (length > MOST_READ) break;
  }
  return Buffer.concat(pieces).subarray(0, MOST_READ);
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

export const textOr = (value: unknown, otherwise: string | null): string | null =>
  typeof value === 'string' && value.length <= 400 ? value : otherwise;

/** An answer that is none of those that were agreed. */
export const strange = (status: number): ProblemError =>
  new ProblemError(
    502,
    'market-strange',
    `They answered in a way that is not understood (${status}). Its rules may have changed; what it has is as it was.`,
  );
