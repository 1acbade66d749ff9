import { parseJson, type Database } from '../floor/database/database.js';

/** What was measured of prints, by the name of what was measured. */
export class MeasureStore {
  constructor(private readonly database: Database) {}

  async get<T>(name: string): Promise<T | null> {
    const [row] = await this.database.rows<{ facts: unknown; fresh: number }>(
      'SELECT facts, used_at > DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL 1 DAY) AS fresh FROM press_measure WHERE name = ?',
      [name],
    );
    if (!row) return null;
    // Uses are written down once a day: the keeper goes by them.
    if (!row.fresh)
      await this.database.change('UPDATE press_measure SET used_at = CURRENT_TIMESTAMP(3) WHERE name = ?', [name]);
    return parseJson<T>(row.facts);
  }

  /** Those of the names that are known. */
  async some<T>(names: readonly string[]): Promise<Map<string, T>> {
    if (!names.length) return new Map();
    const rows = await this.database.rowsOnce<{ name: string; facts: unknown }>(
      'SELECT name, facts FROM press_measure WHERE name IN (?)',
      [names],
    );
    return new Map(rows.map(({ name, facts }) => [name, parseJson<T>(facts)]));
  }

  async put(name: string, facts: object): Promise<void> {
    await this.database.change('INSERT IGNORE INTO press_measure (name, facts) VALUES (?, ?)', [
      name,
      JSON.stringify(facts),
    ]);
  }
}
