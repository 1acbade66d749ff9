import type { PressMeasure } from '@kettle/core';
import { parseJson, type Database } from '../database/database.js';

/** What was measured on printed grids, by the name of what was measured. */
export class PressMeasureStore {
  constructor(private readonly database: Database) {}

  async get(name: string): Promise<PressMeasure | null> {
    const [row] = await this.database.rows<{ facts: unknown; fresh: number }>(
      'SELECT facts, used_at > DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL 1 DAY) AS fresh FROM press_measure WHERE name = ?',
      [name],
    );
    if (!row) return null;
    // Uses are written down once a day: the keeper goes by them.
    if (!row.fresh)
      await this.database.change('UPDATE press_measure SET used_at = CURRENT_TIMESTAMP(3) WHERE name = ?', [name]);
    return parseJson<PressMeasure>(row.facts);
  }

  async put(name: string, facts: PressMeasure): Promise<void> {
    await this.database.change('INSERT IGNORE INTO press_measure (name, facts) VALUES (?, ?)', [
      name,
      JSON.stringify(facts),
    ]);
  }
}
