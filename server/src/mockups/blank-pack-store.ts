import type { Blank } from '@kettle/core/model';
import type { OwnBlankSource } from '@kettle/core/own-blank';
import { parseJson, type Database } from '../floor/database/database.js';

/** A pack as it is stored: `files` are content hashes by the names in the manifest. */
export interface StoredPack {
  readonly blank: Blank;
  readonly hash: string;
  readonly files: Readonly<Record<string, string>>;
  /** What it was made from; null for one that came as a pack. */
  readonly source: OwnBlankSource | null;
}

interface Row {
  id: string;
  manifest: unknown;
  hash: Buffer;
  source: unknown;
}

/** Sellers' own blanks. */
export class BlankPackStore {
  constructor(private readonly database: Database) {}

  async list(owner: string): Promise<StoredPack[]> {
    return this.whole(
      await this.database.rows<Row>(
        'SELECT id, manifest, hash, source FROM blank_pack WHERE owner = ? AND deleted_at IS NULL ORDER BY created_at, id',
        [owner],
      ),
    );
  }

  /** Those taken off too: pictures made of them can be made again. */
  async get(owner: string, id: string): Promise<StoredPack | null> {
    return (
      (
        await this.whole(
          await this.database.rows<Row>(
            'SELECT id, manifest, hash, source FROM blank_pack WHERE id = ? AND owner = ?',
            [id, owner],
          ),
        )
      )[0] ?? null
    );
  }

  async isFree(id: string): Promise<boolean> {
    return (await this.database.rows('SELECT id FROM blank_pack WHERE id = ?', [id])).length === 0;
  }

  /** Keeps a pack, in place of the one with its id when there is one. */
  async put(owner: string, { blank, hash, files, source }: StoredPack): Promise<void> {
    await this.database.transaction(async (within) => {
      await within.change(
        `INSERT INTO blank_pack (id, owner, manifest, hash, source, asset_id) VALUES (?, ?, ?, ?, ?, ?)
         ON DUPLICATE KEY UPDATE manifest = VALUES(manifest), hash = VALUES(hash), source = VALUES(source),
           asset_id = VALUES(asset_id), deleted_at = NULL`,
        [
          blank.id,
          owner,
          JSON.stringify(blank),
          Buffer.from(hash, 'hex'),
          source ? JSON.stringify(source) : null,
          source?.assetId ?? null,
        ],
      );
      await within.change('DELETE FROM blank_file WHERE blank_id = ?', [blank.id]);
      for (const [name, sha256] of Object.entries(files))
        await within.change('INSERT INTO blank_file (blank_id, name, sha256) VALUES (?, ?, ?)', [
          blank.id,
          name,
          Buffer.from(sha256, 'hex'),
        ]);
    });
  }

  async remove(owner: string, id: string): Promise<boolean> {
    return (
      (await this.database.change(
        'UPDATE blank_pack SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND owner = ? AND deleted_at IS NULL',
        [id, owner],
      )) > 0
    );
  }

  /** Puts one that was taken off the list back on it. */
  async restore(owner: string, id: string): Promise<boolean> {
    return (
      (await this.database.change(
        'UPDATE blank_pack SET deleted_at = NULL WHERE id = ? AND owner = ? AND deleted_at IS NOT NULL',
        [id, owner],
      )) > 0
    );
  }

  private async whole(rows: readonly Row[]): Promise<StoredPack[]> {
    if (!rows.length) return [];
    const files = await this.database.rowsOnce<{ blank_id: string; name: string; sha256: Buffer }>(
      'SELECT blank_id, name, sha256 FROM blank_file WHERE blank_id IN (?)',
      [rows.map((row) => row.id)],
    );
    return rows.map((row) => ({
      blank: parseJson<Blank>(row.manifest),
      hash: row.hash.toString('hex'),
      source: row.source === null ? null : parseJson<OwnBlankSource>(row.source),
      files: Object.fromEntries(
        files.filter((file) => file.blank_id === row.id).map((file) => [file.name, file.sha256.toString('hex')]),
      ),
    }));
  }
}
