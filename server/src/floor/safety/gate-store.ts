import type { Database } from '../database/database.js';

/** A salted scrypt hash. */
export interface Secret {
  readonly salt: Buffer;
  readonly hash: Buffer;
}

/** Longest time a session lasts without being used, and at all. */
const IDLE_HOURS = 12;
const MOST_DAYS = 30;

/** The password and the sessions of a server behind a gate. All processes on one database share them. */
export class GateStore {
  constructor(private readonly database: Database) {}

  async secrets(): Promise<{ given: Secret; current: Secret } | null> {
    const [row] = await this.database.rows<{ given_salt: Buffer; given_hash: Buffer; salt: Buffer; hash: Buffer }>(
      'SELECT given_salt, given_hash, salt, hash FROM gate WHERE id = 1',
    );
    return row
      ? { given: { salt: row.given_salt, hash: row.given_hash }, current: { salt: row.salt, hash: row.hash } }
      : null;
  }

  /** Keeps a password as the one the server was started with and the one that holds. Everybody is signed out. */
  async begin({ salt, hash }: Secret): Promise<void> {
    await this.database.transaction(async (within) => {
      await within.change('REPLACE INTO gate (id, given_salt, given_hash, salt, hash) VALUES (1, ?, ?, ?, ?)', [
        salt,
        hash,
        salt,
        hash,
      ]);
      await within.change('DELETE FROM session');
    });
  }

  /** Another password holds from now on. Everybody but `keep` is signed out. */
  async change({ salt, hash }: Secret, keep: Buffer): Promise<void> {
    await this.database.transaction(async (within) => {
      await within.change('UPDATE gate SET salt = ?, hash = ? WHERE id = 1', [salt, hash]);
      await within.change('DELETE FROM session WHERE token <> ?', [keep]);
    });
  }

  async signIn(token: Buffer, owner: string): Promise<void> {
    await this.database.change(
      `DELETE FROM session WHERE seen_at < DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL ${IDLE_HOURS} HOUR)
         OR begun_at < DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL ${MOST_DAYS} DAY)`,
    );
    await this.database.change('INSERT INTO session (token, owner) VALUES (?, ?)', [token, owner]);
  }

  /** Whose session it is, while it lasts; it lasts longer when it is used. */
  async ownerOf(token: Buffer): Promise<string | null> {
    const [row] = await this.database.rows<{ stale: number; owner: string }>(
      `SELECT seen_at < DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL 5 MINUTE) AS stale, owner FROM session
       WHERE token = ? AND seen_at > DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL ${IDLE_HOURS} HOUR)
         AND begun_at > DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL ${MOST_DAYS} DAY)`,
      [token],
    );
    if (row && Number(row.stale))
      await this.database.change('UPDATE session SET seen_at = CURRENT_TIMESTAMP(3) WHERE token = ?', [token]);
    return row?.owner ?? null;
  }

  async signOut(token: Buffer): Promise<void> {
    await this.database.change('DELETE FROM session WHERE token = ?', [token]);
  }
}
