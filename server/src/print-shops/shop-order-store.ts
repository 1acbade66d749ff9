import type { SentFileRecord, ShopOrderState, ShopRound } from '@kettle/contract';
import type { OrderSheet } from '@kettle/core/orders';
import { parseJson, type Database, type Queryable } from '../floor/database/database.js';
import { noteEvent } from '../documents/design-events.js';
import { newId } from '../floor/database/ids.js';

export interface StoredShopOrder {
  readonly id: string;
  readonly owner: string;
  readonly designId: string;
  readonly shopId: string;
  readonly shop: string;
  readonly requirementId: string;
  readonly state: ShopOrderState;
  readonly round: number;
  readonly sheet: OrderSheet;
  readonly remoteId: string | null;
  readonly trouble: string;
  readonly changedAt: string;
  /** Oldest first. */
  readonly rounds: readonly ShopRound[];
}

interface Row {
  id: string;
  owner: string;
  design_id: string;
  shop_id: string;
  shop: string;
  requirement_id: string;
  state: ShopOrderState;
  round: number;
  sheet: unknown;
  remote_id: string | null;
  trouble: string;
  changed_at: Date;
}

type Answer = NonNullable<ShopRound['answer']>;

/** Most orders that are listed of a design. */
const MOST_LISTED = 100;

/** Orders at print shops with their threads. */
export class ShopOrderStore {
  constructor(private readonly database: Database) {}

  /** Newest first. */
  async of(owner: string, designId: string): Promise<StoredShopOrder[]> {
    return this.whole(
      await this.database.rows<Row>(
        `SELECT * FROM shop_order WHERE owner = ? AND design_id = ? ORDER BY made_at DESC, id LIMIT ${MOST_LISTED}`,
        [owner, designId],
      ),
    );
  }

  async get(owner: string, id: string): Promise<StoredShopOrder | null> {
    const rows = await this.database.rows<Row>('SELECT * FROM shop_order WHERE id = ? AND owner = ?', [id, owner]);
    return (await this.whole(rows))[0] ?? null;
  }

  /** The one that a print shop knows by our name for it, whoever's it is. */
  async byReference(id: string): Promise<StoredShopOrder | null> {
    return (await this.whole(await this.database.rows<Row>('SELECT * FROM shop_order WHERE id = ?', [id])))[0] ?? null;
  }

  /** Writes an order down within what sends it. */
  async add(
    within: Queryable,
    order: Pick<StoredShopOrder, 'owner' | 'designId' | 'shopId' | 'shop' | 'sheet'>,
    file: SentFileRecord,
  ): Promise<string> {
    const id = newId();
    await within.change(
      `INSERT INTO shop_order (id, owner, design_id, shop_id, shop, requirement_id, state, round, sheet)
       VALUES (?, ?, ?, ?, ?, ?, 'waiting', 1, ?)`,
      [
        id,
        order.owner,
        order.designId,
        order.shopId,
        order.shop,
        order.sheet.requirementId,
        JSON.stringify(order.sheet),
      ],
    );
    await sends(within, id, 1, file);
    return id;
  }

  /** The next round, with the file as it is now, within what sends it. False when somebody else began it. */
  async again(within: Queryable, id: string, round: number, file: SentFileRecord): Promise<boolean> {
    const moved = await within.change(
      "UPDATE shop_order SET round = round + 1, state = 'waiting', trouble = '' WHERE id = ? AND round = ?",
      [id, round],
    );
    if (moved) await sends(within, id, round + 1, file);
    return moved > 0;
  }

  async become(id: string, state: ShopOrderState, trouble = ''): Promise<void> {
    await this.database.change('UPDATE shop_order SET state = ?, trouble = ? WHERE id = ?', [
      state,
      trouble.slice(0, MOST_TROUBLE),
      id,
    ]);
  }

  /** Notes that the shop has a round. One that it answered meanwhile stays answered. */
  async sent(order: StoredShopOrder, remoteId: string): Promise<void> {
    await this.database.transaction(async (within) => {
      const moved = await within.change(
        "UPDATE shop_order SET remote_id = ?, state = 'looking', trouble = '' WHERE id = ? AND round = ? AND state IN ('waiting', 'sending', 'failed')",
        [remoteId, order.id, order.round],
      );
      if (!moved) return;
      const { filename, sha256 } = order.rounds.at(-1)!.file;
      await noteEvent(within, {
        ...order,
        kind: 'shop-sent',
        whom: order.shop,
        said: `${filename}, ${sha256.slice(0, 12)}`,
      });
    });
  }

  /** Takes a shop's answer to a round, once. @param pictures content hashes of its pictures */
  async answered(order: StoredShopOrder, answer: Omit<Answer, 'saidAt'>, pictures: readonly string[]): Promise<void> {
    await this.database.transaction(async (within) => {
      const added = await within.change(
        'INSERT IGNORE INTO shop_message (order_id, round, by_shop, record) VALUES (?, ?, 1, ?)',
        [order.id, order.round, JSON.stringify(answer)],
      );
      // A step that was killed and is done again may have said otherwise meanwhile.
      await within.change("UPDATE shop_order SET state = ?, trouble = '' WHERE id = ? AND round = ?", [
        answer.state,
        order.id,
        order.round,
      ]);
      if (!added) return;
      for (const sha256 of pictures) await keeps(within, order.id, sha256);
      await noteEvent(within, {
        ...order,
        kind: answer.state === 'yes' ? 'shop-yes' : 'shop-mend',
        whom: order.shop,
        said: answer.remarks.map(({ text }) => text).join(' '),
      });
    });
  }

  /** True when a file belongs to an order's thread. */
  async hasFile(id: string, sha256: string): Promise<boolean> {
    return (
      (
        await this.database.rows('SELECT 1 FROM shop_file WHERE order_id = ? AND sha256 = ?', [
          id,
          Buffer.from(sha256, 'hex'),
        ])
      ).length > 0
    );
  }

  private async whole(rows: readonly Row[]): Promise<StoredShopOrder[]> {
    if (!rows.length) return [];
    const messages = await this.database.rowsOnce<{
      order_id: string;
      round: number;
      by_shop: number;
      said_at: Date;
      record: unknown;
    }>('SELECT * FROM shop_message WHERE order_id IN (?) ORDER BY round, by_shop', [rows.map(({ id }) => id)]);
    return rows.map((row) => {
      const own = messages.filter((one) => one.order_id === row.id);
      return {
        id: row.id,
        owner: row.owner,
        designId: row.design_id,
        shopId: row.shop_id,
        shop: row.shop,
        requirementId: row.requirement_id,
        state: row.state,
        round: Number(row.round),
        sheet: parseJson<OrderSheet>(row.sheet),
        remoteId: row.remote_id,
        trouble: row.trouble,
        changedAt: row.changed_at.toISOString(),
        rounds: own
          .filter(({ by_shop }) => !Number(by_shop))
          .map((sent) => {
            const said = own.find((one) => Number(one.by_shop) && one.round === sent.round);
            return {
              round: Number(sent.round),
              sentAt: sent.said_at.toISOString(),
              file: parseJson<SentFileRecord>(sent.record),
              answer: said
                ? { ...parseJson<Omit<Answer, 'saidAt'>>(said.record), saidAt: said.said_at.toISOString() }
                : null,
            };
          }),
      };
    });
  }
}

/** Longest sentence of what went wrong, letters. */
const MOST_TROUBLE = 500;

async function sends(within: Queryable, id: string, round: number, file: SentFileRecord): Promise<void> {
  await within.change('INSERT INTO shop_message (order_id, round, by_shop, record) VALUES (?, ?, 0, ?)', [
    id,
    round,
    JSON.stringify(file),
  ]);
  await keeps(within, id, file.sha256);
}

async function keeps(within: Queryable, id: string, sha256: string): Promise<void> {
  await within.change('INSERT IGNORE INTO shop_file (order_id, sha256) VALUES (?, ?)', [
    id,
    Buffer.from(sha256, 'hex'),
  ]);
}
