import type { Treatment } from '@kettle/core/model';
import { parseJson, type Database } from '../floor/database/database.js';
import type { TreatedFacts } from '../render/artwork/treated.js';

/** A treated picture that was looked at once. */
export interface TreatedRow {
  readonly assetId: string;
  /** Name of what is done to it, 32 hexadecimal digits. */
  readonly name: string;
  readonly treatments: readonly Treatment[];
  readonly facts: TreatedFacts;
}

interface Row {
  asset_id: string;
  name: string;
  treatments: unknown;
  facts: unknown;
  used_at: Date;
}

const DAY = 24 * 3_600_000;

const toRow = (row: Row): TreatedRow => ({
  assetId: row.asset_id,
  name: row.name,
  treatments: parseJson<readonly Treatment[]>(row.treatments),
  facts: parseJson<TreatedFacts>(row.facts),
});

/** What is known of treated pictures. All of it can be worked out again. */
export class TreatedStore {
  constructor(private readonly database: Database) {}

  async put({ assetId, name, treatments, facts }: TreatedRow): Promise<void> {
    await this.database.change(
      `INSERT INTO treated_picture (asset_id, name, treatments, facts) VALUES (?, ?, ?, ?)
       ON DUPLICATE KEY UPDATE used_at = CURRENT_TIMESTAMP(3)`,
      [assetId, name, JSON.stringify(treatments), JSON.stringify(facts)],
    );
  }

  async get(assetId: string, name: string): Promise<TreatedRow | null> {
    const [row] = await this.database.rows<Row>('SELECT * FROM treated_picture WHERE asset_id = ? AND name = ?', [
      assetId,
      name,
    ]);
    return row ? toRow(row) : null;
  }

  /** Those that are known, of pairs of a file and what is done to it. */
  async some(pairs: readonly { readonly assetId: string; readonly name: string }[]): Promise<TreatedRow[]> {
    if (!pairs.length) return [];
    const wanted = new Set(pairs.map(({ assetId, name }) => `${assetId}.${name}`));
    const rows = await this.database.rowsOnce<Row>(
      'SELECT * FROM treated_picture WHERE asset_id IN (?) AND name IN (?)',
      [[...new Set(pairs.map((one) => one.assetId))], [...new Set(pairs.map((one) => one.name))]],
    );
    // A use is written down once a day, not with every look.
    if (rows.some((row) => Date.now() - row.used_at.getTime() > DAY))
      await this.database.change(
        `UPDATE treated_picture SET used_at = CURRENT_TIMESTAMP(3)
       WHERE name IN (?) AND used_at < DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL 1 DAY)`,
        [[...new Set(pairs.map((one) => one.name))]] as never,
      );
    return rows.map(toRow).filter((row) => wanted.has(`${row.assetId}.${row.name}`));
  }
}
