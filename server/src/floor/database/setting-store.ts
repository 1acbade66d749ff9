import { parseJson, type Database } from './database.js';

/** What a seller has chosen once for everything, by name. */
export class SettingStore {
  constructor(private readonly database: Database) {}

  async get<T>(owner: string, name: string): Promise<T | null> {
    const [row] = await this.database.rows<{ value: unknown }>(
      'SELECT value FROM setting WHERE owner = ? AND name = ?',
      [owner, name],
    );
    return row ? parseJson<T>(row.value) : null;
  }

  async put(owner: string, name: string, value: unknown): Promise<void> {
    await this.database.change(
      'INSERT INTO setting (owner, name, value) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE value = VALUES(value)',
      [owner, name, JSON.stringify(value)],
    );
  }
}
