import type { Asset } from '@kettle/contract';
import type { AssetFacts } from '@kettle/core';
import { parseJson, type Database } from '../database/database.js';
import { newId } from './ids.js';

interface Row {
  id: string;
  sha256: Buffer;
  filename: string;
  bytes: number;
  mode: string;
  facts: unknown;
}

const toAsset = (row: Row): Asset => ({
  ...parseJson<AssetFacts>(row.facts),
  id: row.id,
  sha256: row.sha256.toString('hex'),
  filename: row.filename,
  bytes: Number(row.bytes),
  mode: row.mode,
});

/** Artwork files and what is known of them. */
export class AssetStore {
  constructor(private readonly database: Database) {}

  /** The same content under the same name is one asset. A new one gets the id `wanted`, if that is free. */
  async add(
    owner: string,
    sha256: string,
    filename: string,
    bytes: number,
    mode: string,
    facts: AssetFacts,
    wanted?: string,
  ): Promise<Asset> {
    const digest = Buffer.from(sha256, 'hex');
    await this.database.change(
      'INSERT IGNORE INTO asset (id, owner, sha256, filename, bytes, mode, facts) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [
        wanted && !(await this.exists(wanted)) ? wanted : newId(),
        owner,
        digest,
        filename,
        bytes,
        mode,
        JSON.stringify(facts),
      ],
    );
    const [row] = await this.database.rows<Row>('SELECT * FROM asset WHERE owner = ? AND sha256 = ? AND filename = ?', [
      owner,
      digest,
      filename,
    ]);
    return toAsset(row);
  }

  private async exists(id: string): Promise<boolean> {
    return (await this.database.rows('SELECT id FROM asset WHERE id = ?', [id])).length > 0;
  }

  async get(owner: string, id: string): Promise<Asset | null> {
    const [row] = await this.database.rows<Row>('SELECT * FROM asset WHERE id = ? AND owner = ?', [id, owner]);
    return row ? toAsset(row) : null;
  }

  /** Those of the ids that exist, by id. */
  async byId(owner: string, ids: readonly string[]): Promise<Record<string, Asset>> {
    const wanted = [...new Set(ids)];
    if (!wanted.length) return {};
    const rows = await this.database.rowsOnce<Row>('SELECT * FROM asset WHERE id IN (?) AND owner = ?', [
      wanted,
      owner,
    ]);
    return Object.fromEntries(rows.map((row) => [row.id, toAsset(row)]));
  }
}
