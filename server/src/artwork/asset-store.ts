import type { Asset } from '@kettle/contract';
import { MEASURE_VERSION } from '@kettle/core/raster';
import type { AssetFacts } from '@kettle/core/model';
import { parseJson, type Database } from '../floor/database/database.js';
import { newId } from '../floor/database/ids.js';

interface Row {
  id: string;
  sha256: Buffer;
  filename: string;
  bytes: number;
  mode: string;
  facts: unknown;
  outlined: Buffer | null;
}

const toAsset = (row: Row): Asset => ({
  ...parseJson<AssetFacts>(row.facts),
  ...(row.outlined ? { outlined: row.outlined.toString('hex') } : {}),
  id: row.id,
  sha256: row.sha256.toString('hex'),
  filename: row.filename,
  bytes: Number(row.bytes),
  mode: row.mode,
});

/** Facts as they are stored: what is drawn stands in a column of its own, because files that nothing names are ended. */
const factsRow = ({ outlined, ...facts }: AssetFacts): [facts: string, outlined: Buffer | null] => [
  JSON.stringify(facts),
  outlined ? Buffer.from(outlined, 'hex') : null,
];

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
      'INSERT IGNORE INTO asset (id, owner, sha256, filename, bytes, mode, facts, outlined, measured) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
      [
        wanted && !(await this.exists(wanted)) ? wanted : newId(),
        owner,
        digest,
        filename,
        bytes,
        mode,
        ...factsRow(facts),
        MEASURE_VERSION,
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

  /** Some of the files that were measured in an older way, of one seller or of all. */
  async measuredBefore(
    count: number,
    owner: string | null = null,
  ): Promise<{ id: string; owner: string; sha256: string }[]> {
    const rows = await this.database.rowsOnce<{ id: string; owner: string; sha256: Buffer }>(
      `SELECT id, owner, sha256 FROM asset WHERE measured < ? AND owner = COALESCE(?, owner) ORDER BY measured, id LIMIT ${Math.trunc(count)}`,
      [MEASURE_VERSION, owner],
    );
    return rows.map(({ id, owner, sha256 }) => ({ id, owner, sha256: sha256.toString('hex') }));
  }

  /**
   * Keeps what was found of a file measured anew; null when it can no longer be read, which is then not tried again.
   * What was judged with the old facts is judged again.
   */
  async measured(id: string, facts: AssetFacts | null): Promise<void> {
    await this.database.change(
      'UPDATE asset SET measured = ?, facts = COALESCE(?, facts), outlined = COALESCE(?, outlined) WHERE id = ?',
      [MEASURE_VERSION, ...(facts ? factsRow(facts) : [null, null]), id],
    );
    await this.database.change(
      `UPDATE design_target t JOIN design_use u ON u.design_id = t.design_id AND u.kind = 'asset'
       SET t.engine = 0 WHERE u.id = ?`,
      [id],
    );
  }

  /** Has drawings with text looked at again, because the seller has another font. */
  async lookAgainAtText(owner: string): Promise<void> {
    await this.database.change(
      `UPDATE asset SET measured = 0 WHERE owner = ? AND JSON_VALUE(facts, '$.format') = 'SVG'
         AND (outlined IS NOT NULL OR JSON_EXISTS(facts, '$.liveText'))`,
      [owner],
    );
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
