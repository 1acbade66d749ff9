import type { Database } from '../floor/database/database.js';

/** A seller's own profile of a press. Its id is the SHA-256 of its bytes. */
export interface StoredProfile {
  readonly id: string;
  readonly name: string;
  readonly filename: string;
  readonly bytes: number;
}

interface Row {
  sha256: Buffer;
  name: string;
  filename: string;
  bytes: number;
}

const toProfile = ({ sha256, ...rest }: Row): StoredProfile => ({ id: sha256.toString('hex'), ...rest });

export class ProfileStore {
  constructor(private readonly database: Database) {}

  async list(owner: string): Promise<StoredProfile[]> {
    return (
      await this.database.rows<Row>(
        'SELECT sha256, name, filename, bytes FROM icc_profile WHERE owner = ? AND deleted_at IS NULL ORDER BY name, added_at',
        [owner],
      )
    ).map(toProfile);
  }

  /** One that was taken off the list too: what was made with it stays as it is. */
  async get(owner: string, id: string): Promise<StoredProfile | null> {
    if (!/^[0-9a-f]{64}$/.test(id)) return null;
    const [row] = await this.database.rows<Row>(
      'SELECT sha256, name, filename, bytes FROM icc_profile WHERE owner = ? AND sha256 = ?',
      [owner, Buffer.from(id, 'hex')],
    );
    return row ? toProfile(row) : null;
  }

  async add(owner: string, { id, name, filename, bytes }: StoredProfile): Promise<void> {
    await this.database.change(
      `INSERT INTO icc_profile (owner, sha256, name, filename, bytes) VALUES (?, ?, ?, ?, ?)
       ON DUPLICATE KEY UPDATE deleted_at = NULL, name = VALUES(name), filename = VALUES(filename)`,
      [owner, Buffer.from(id, 'hex'), name, filename, bytes],
    );
  }

  async remove(owner: string, id: string): Promise<boolean> {
    return (
      (await this.database.change(
        'UPDATE icc_profile SET deleted_at = CURRENT_TIMESTAMP(3) WHERE owner = ? AND sha256 = ? AND deleted_at IS NULL',
        [owner, Buffer.from(id, 'hex')],
      )) > 0
    );
  }
}
