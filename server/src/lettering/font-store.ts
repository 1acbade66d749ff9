import type { FontScript } from '@kettle/contract';
import { parseJson, type Database } from '../floor/database/database.js';
import { newId } from '../floor/database/ids.js';

/** A seller's own font. */
export interface OwnFont {
  readonly id: string;
  readonly sha256: string;
  readonly filename: string;
  readonly family: string;
  readonly weight: number;
  readonly scripts: readonly FontScript[];
}

interface Row {
  id: string;
  sha256: Buffer;
  filename: string;
  family: string;
  weight: number;
  scripts: unknown;
}

const toFont = (row: Row): OwnFont => ({
  id: row.id,
  sha256: row.sha256.toString('hex'),
  filename: row.filename,
  family: row.family,
  weight: row.weight,
  scripts: parseJson<FontScript[]>(row.scripts),
});

/** Sellers' own fonts. */
export class FontStore {
  constructor(private readonly database: Database) {}

  async list(owner: string): Promise<OwnFont[]> {
    return (
      await this.database.rows<Row>(
        'SELECT * FROM font WHERE owner = ? AND deleted_at IS NULL ORDER BY family, weight',
        [owner],
      )
    ).map(toFont);
  }

  /** Those of all sellers, for the folder that the renderer of SVG reads. */
  async every(): Promise<OwnFont[]> {
    return (await this.database.rows<Row>('SELECT * FROM font WHERE deleted_at IS NULL')).map(toFont);
  }

  async isFree(id: string): Promise<boolean> {
    return (await this.database.rows('SELECT id FROM font WHERE id = ?', [id])).length === 0;
  }

  /** Taken-off fonts too: designs that use them still print. */
  async get(owner: string, id: string): Promise<OwnFont | null> {
    const [row] = await this.database.rows<Row>('SELECT * FROM font WHERE id = ? AND owner = ?', [id, owner]);
    return row ? toFont(row) : null;
  }

  /** The same content is one font; one that was taken off comes back. */
  async add(owner: string, font: Omit<OwnFont, 'id'>, wanted = `own-${newId()}`): Promise<OwnFont> {
    const digest = Buffer.from(font.sha256, 'hex');
    await this.database.change(
      'INSERT INTO font (id, owner, sha256, filename, family, weight, scripts) VALUES (?, ?, ?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE deleted_at = NULL',
      [wanted, owner, digest, font.filename, font.family, font.weight, JSON.stringify(font.scripts)],
    );
    const [row] = await this.database.rows<Row>('SELECT * FROM font WHERE owner = ? AND sha256 = ?', [owner, digest]);
    return toFont(row);
  }

  /** Takes off one face, or all of its family. False when there is no such face. */
  async remove(owner: string, id: string, isWholeFamily: boolean): Promise<boolean> {
    const which = isWholeFamily
      ? 'family = (SELECT family FROM font WHERE id = ? AND owner = ? AND deleted_at IS NULL)'
      : 'id = ? AND owner = ?';
    return (
      (await this.database.change(
        `UPDATE font SET deleted_at = CURRENT_TIMESTAMP(3) WHERE ${which} AND owner = ? AND deleted_at IS NULL`,
        [id, owner, owner],
      )) > 0
    );
  }
}
