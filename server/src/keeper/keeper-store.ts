import type { Database } from '../floor/database/database.js';

/** Something the keeper did. */
export interface KeeperNote {
  readonly duty: string;
  readonly ended: number;
  readonly sentence: string;
  /** ISO 8601, UTC. */ readonly doneAt: string;
}

/** Whose turn it is to keep the database, and what was done. */
export class KeeperStore {
  constructor(readonly database: Database) {}

  /** True when nobody else has the turn: it is this process's for a time then. */
  async takeTurn(milliseconds: number): Promise<boolean> {
    const sql =
      'UPDATE keeper_turn SET until = DATE_ADD(CURRENT_TIMESTAMP(3), INTERVAL ? MICROSECOND) WHERE id = 1 AND until < CURRENT_TIMESTAMP(3)';
    return (await this.database.change(sql, [milliseconds * 1000])) > 0;
  }

  async note({ duty, ended, sentence }: Omit<KeeperNote, 'doneAt'>): Promise<void> {
    await this.database.change('INSERT INTO keeper_note (duty, ended, sentence) VALUES (?, ?, ?)', [
      duty,
      ended,
      sentence,
    ]);
  }

  /** Newest first. */
  async notes(): Promise<KeeperNote[]> {
    const rows = await this.database.rows<{ duty: string; ended: number; sentence: string; done_at: Date }>(
      'SELECT duty, ended, sentence, done_at FROM keeper_note ORDER BY id DESC LIMIT 100',
    );
    return rows.map((row) => ({
      duty: row.duty,
      ended: Number(row.ended),
      sentence: row.sentence,
      doneAt: row.done_at.toISOString(),
    }));
  }
}
