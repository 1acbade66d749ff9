import type { OutsideCall } from '@kettle/contract';
import type { Database } from '../database/database.js';

/** What a call is about. */
export type CallOf = { readonly publicationId: string } | { readonly shopOrderId: string };

/** Writes a call down before it is made; its answer is written by what this gives. */
export type CallRecord = (
  call: Pick<OutsideCall, 'method' | 'path' | 'about' | 'key'>,
) => Promise<{ answered(status: number | null, answer: string): Promise<void> }>;

/** Longest answer that is kept, letters. */
const MOST_ANSWER = 4000;
const columnOf = (of: CallOf): ['publication_id' | 'shop_order_id', string] =>
  'publicationId' in of ? ['publication_id', of.publicationId] : ['shop_order_id', of.shopOrderId];

/** Every call to markets and print shops, and every answer, as they were. */
export class CallStore {
  constructor(private readonly database: Database) {}

  /** The record of all calls about one thing; null for what is about none. */
  recordOf(of: CallOf | null): CallRecord {
    const [column, about] = of ? columnOf(of) : ['publication_id', null];
    return async (call) => {
      const id = await this.database.transaction(async (within) => {
        await within.change(
          `INSERT INTO market_call (${column}, method, path, about, idempotency_key) VALUES (?, ?, ?, ?, ?)`,
          [about, call.method, call.path.slice(0, 200), call.about.slice(0, 200), call.key],
        );
        const [row] = await within.rows<{ id: number }>('SELECT LAST_INSERT_ID() AS id');
        return Number(row.id);
      });
      return {
        answered: async (status, answer) => {
          await this.database.change(
            'UPDATE market_call SET status = ?, answer = ?, answered_at = CURRENT_TIMESTAMP(3) WHERE id = ?',
            [status, answer.slice(0, MOST_ANSWER), id],
          );
        },
      };
    };
  }

  /** Newest first. */
  async of(what: CallOf, most = 200): Promise<OutsideCall[]> {
    const [column, about] = columnOf(what);
    return (
      await this.database.rows<{
        method: string;
        path: string;
        about: string;
        idempotency_key: string | null;
        begun_at: Date;
        status: number | null;
        answer: string | null;
        answered_at: Date | null;
      }>(`SELECT * FROM market_call WHERE ${column} = ? ORDER BY id DESC LIMIT ${most}`, [about])
    ).map((row) => ({
      method: row.method,
      path: row.path,
      about: row.about,
      key: row.idempotency_key,
      status: row.status,
      answer: row.answer,
      begunAt: row.begun_at.toISOString(),
      answeredAt: row.answered_at?.toISOString() ?? null,
    }));
  }
}
