import { parseJson, type Database } from './database.js';
import { newId } from './ids.js';

/** What a seller keeps under an id: its fields, and how often they were changed. */
export type OwnFields<T> = T & { readonly id: string; readonly revision: number; readonly shipped: boolean };

interface Row {
  id: string;
  revision: number;
  fields: unknown;
}

/** Things of sellers' own that are a few fields each, in a table of their kind. */
export class OwnFieldsStore<T extends object> {
  /** @param table name of the table: id, owner, revision, fields, added_at, deleted_at */
  constructor(
    protected readonly database: Database,
    private readonly table: 'picture_set' | 'clip_requirement' | 'channel_rules' | 'print_shop',
  ) {}

  async list(owner: string): Promise<OwnFields<T>[]> {
    const rows = await this.database.rows<Row>(
      `SELECT id, revision, fields FROM ${this.table} WHERE owner = ? AND deleted_at IS NULL ORDER BY added_at, id`,
      [owner],
    );
    return rows.map(({ id, revision, fields }) => ({
      ...parseJson<T>(fields),
      id,
      revision: Number(revision),
      shipped: false,
    }));
  }

  async add(owner: string, fields: T): Promise<OwnFields<T>> {
    const id = newId();
    await this.database.change(`INSERT INTO ${this.table} (id, owner, fields) VALUES (?, ?, ?)`, [
      id,
      owner,
      JSON.stringify(fields),
    ]);
    return { ...fields, id, revision: 1, shipped: false };
  }

  /** The changed one, or null when it was changed by somebody else since `revision`. */
  async change(owner: string, id: string, revision: number, fields: T): Promise<OwnFields<T> | null> {
    const changed = await this.database.change(
      `UPDATE ${this.table} SET fields = ?, revision = revision + 1 WHERE id = ? AND owner = ? AND revision = ? AND deleted_at IS NULL`,
      [JSON.stringify(fields), id, owner, revision],
    );
    return changed ? { ...fields, id, revision: revision + 1, shipped: false } : null;
  }

  async remove(owner: string, id: string): Promise<boolean> {
    return (
      (await this.database.change(
        `UPDATE ${this.table} SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND owner = ? AND deleted_at IS NULL`,
        [id, owner],
      )) > 0
    );
  }
}
