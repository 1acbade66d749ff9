import type { HandingEvent, HandingKind, Sale } from '@kettle/contract';
import type { Database } from '../floor/database/database.js';

/** Most files that are looked through for what was made. */
const MOST_MADE = 4000;
/** A sale as it is heard of. */
export interface NewSale extends Omit<Sale, 'design' | 'at'> {
  readonly market: string;
  /** The market's own number of it. */
  readonly number: string;
  readonly owner: string;
  readonly rulesId: string;
  readonly at: Date;
}

/** What became of designs. */
export class HistoryStore {
  constructor(private readonly database: Database) {}

  /** False when this sale was heard of before. */
  async sold(sale: NewSale): Promise<boolean> {
    return (
      (await this.database.change(
        `INSERT IGNORE INTO sale (market, number, owner, design_id, rules_id, channel, product, colour, copies, price, currency, earned, sold_at)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
        [
          sale.market,
          sale.number,
          sale.owner,
          sale.designId,
          sale.rulesId,
          sale.channel,
          sale.product.slice(0, 120),
          sale.colour.slice(0, 60),
          sale.copies,
          sale.price,
          sale.currency,
          sale.earned,
          sale.at,
        ],
      )) > 0
    );
  }

  /** Newest first. Files that were made stand beside what was noted: one line for each kind and minute. */
  async events(owner: string, designId: string | null, most: number): Promise<HandingEvent[]> {
    const rows = await this.database.rows<{
      design_id: string;
      name: string;
      kind: HandingKind;
      whom: string;
      said: string;
      at: Date;
    }>(
      `SELECT e.design_id, d.name, e.kind, e.whom, e.said, e.at FROM (
         SELECT design_id, kind, whom, said, happened_at AS at FROM handing_event
           WHERE owner = ? AND (? IS NULL OR design_id = ?)
         UNION ALL
         SELECT design_id, 'made', '', CONCAT(COUNT(*), ' ', CASE kind WHEN 'print-file' THEN IF(COUNT(*) = 1, 'print file', 'print files')
             WHEN 'picture' THEN IF(COUNT(*) = 1, 'picture', 'pictures') ELSE IF(COUNT(*) = 1, 'clip', 'clips') END), MAX(made_at)
           FROM (SELECT design_id, kind, made_at FROM output
             WHERE owner = ? AND design_id IS NOT NULL AND (? IS NULL OR design_id = ?)
               AND kind IN ('print-file', 'picture', 'clip') ORDER BY made_at DESC LIMIT ${MOST_MADE}) lately
           GROUP BY design_id, kind, DATE_FORMAT(made_at, '%Y%m%d%H%i')) e
       JOIN design d ON d.id = e.design_id ORDER BY e.at DESC LIMIT ${most}`,
      [owner, designId, designId, owner, designId, designId],
    );
    return rows.map((row) => ({
      designId: row.design_id,
      design: row.name,
      kind: row.kind,
      whom: row.whom,
      said: row.said,
      at: row.at.toISOString(),
    }));
  }

  /** Newest first. */
  async sales(owner: string, designId: string | null, most: number): Promise<Sale[]> {
    const rows = await this.database.rows<{
      design_id: string;
      name: string;
      channel: string;
      product: string;
      colour: string;
      copies: number;
      price: number;
      currency: string;
      earned: number | null;
      sold_at: Date;
    }>(
      `SELECT s.*, d.name FROM sale s JOIN design d ON d.id = s.design_id
       WHERE s.owner = ? AND (? IS NULL OR s.design_id = ?) ORDER BY s.sold_at DESC, s.number LIMIT ${most}`,
      [owner, designId, designId],
    );
    return rows.map((row) => ({
      designId: row.design_id,
      design: row.name,
      channel: row.channel,
      product: row.product,
      colour: row.colour,
      copies: Number(row.copies),
      price: Number(row.price),
      currency: row.currency,
      earned: row.earned === null ? null : Number(row.earned),
      at: row.sold_at.toISOString(),
    }));
  }

  /** The number after which a market's sales are not known yet; empty for none. */
  async lastOf(market: string, owner: string): Promise<string> {
    const [row] = await this.database.rows<{ number: string }>(
      'SELECT number FROM sale WHERE market = ? AND owner = ? ORDER BY sold_at DESC, number DESC LIMIT 1',
      [market, owner],
    );
    return row?.number ?? '';
  }
}
