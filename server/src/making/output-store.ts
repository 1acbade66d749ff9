import { parseJson, type Database } from '../floor/database/database.js';
import { newId } from '../floor/database/ids.js';

/** Something that was made, of any kind. Whether it is out of date is found by comparing recipes. */
export interface StoredOutput {
  readonly id: string;
  readonly owner: string;
  readonly kind: string;
  /** Null for what was made without a design. */
  readonly designId: string | null;
  /** The design's revision it was made from; null where that was not written down. */
  readonly revision: number | null;
  /** What it is for: the id of a requirement, a blank, or whatever its kind is about. */
  readonly about: string;
  /** SHA-256 of its recipe, hex. */
  readonly recipe: string;
  readonly sha256: string;
  readonly filename: string;
  readonly mediaType: string;
  readonly bytes: number;
  /** False when it does not hold what is demanded of it. */
  readonly accepted: boolean;
  /** What its kind keeps of it: a certificate, a request. */
  readonly record: unknown;
  /** ISO 8601, UTC. */
  readonly madeAt: string;
}

interface Row {
  id: string;
  owner: string;
  kind: string;
  design_id: string | null;
  revision: number | null;
  about: string;
  recipe: Buffer;
  sha256: Buffer;
  filename: string;
  media_type: string;
  bytes: number;
  accepted: number;
  record: unknown;
  made_at: Date;
}

const toOutput = (row: Row): StoredOutput => ({
  id: row.id,
  owner: row.owner,
  kind: row.kind,
  designId: row.design_id,
  revision: row.revision,
  about: row.about,
  recipe: row.recipe.toString('hex'),
  sha256: row.sha256.toString('hex'),
  filename: row.filename,
  mediaType: row.media_type,
  bytes: Number(row.bytes),
  accepted: Boolean(row.accepted),
  record: parseJson(row.record),
  madeAt: row.made_at.toISOString(),
});

/** Most of one kind that are listed of a design. */
const MOST_LISTED = 500;

/** Everything that was made. */
export class OutputStore {
  constructor(private readonly database: Database) {}

  async get(owner: string, kind: string, id: string): Promise<StoredOutput | null> {
    const [row] = await this.database.rows<Row>('SELECT * FROM output WHERE id = ? AND owner = ? AND kind = ?', [
      id,
      owner,
      kind,
    ]);
    return row ? toOutput(row) : null;
  }

  /** Something that was made, whatever its kind. */
  async any(owner: string, id: string): Promise<StoredOutput | null> {
    const [row] = await this.database.rows<Row>('SELECT * FROM output WHERE id = ? AND owner = ?', [id, owner]);
    return row ? toOutput(row) : null;
  }

  /** The result of a recipe, made of a design or without one. The same recipe is never made twice. */
  async byRecipe(kind: string, designId: string | null, recipe: string): Promise<StoredOutput | null> {
    const hash = Buffer.from(recipe, 'hex');
    const [row] =
      designId === null
        ? await this.database.rows<Row>('SELECT * FROM output WHERE kind = ? AND recipe = ? AND design_id IS NULL', [
            kind,
            hash,
          ])
        : await this.database.rows<Row>('SELECT * FROM output WHERE design_id = ? AND kind = ? AND recipe = ?', [
            designId,
            kind,
            hash,
          ]);
    return row ? toOutput(row) : null;
  }

  /** Newest first. */
  async ofDesign(kind: string, designId: string): Promise<StoredOutput[]> {
    return (
      await this.database.rows<Row>(
        `SELECT * FROM output WHERE design_id = ? AND kind = ? ORDER BY made_at DESC, id LIMIT ${MOST_LISTED}`,
        [designId, kind],
      )
    ).map(toOutput);
  }

  /** Gives an output the name that its design has now. */
  async rename(id: string, filename: string): Promise<void> {
    await this.database.change('UPDATE output SET filename = ? WHERE id = ?', [filename, id]);
  }

  /** Keeps an output; one of the same recipe that another worker kept meanwhile is answered instead. */
  async add(made: Omit<StoredOutput, 'id' | 'madeAt'>): Promise<StoredOutput> {
    await this.database.change(
      `INSERT IGNORE INTO output (id, owner, kind, design_id, revision, about, recipe, sha256, filename, media_type, bytes, accepted, record)
       VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      [
        newId(),
        made.owner,
        made.kind,
        made.designId,
        made.revision,
        made.about,
        Buffer.from(made.recipe, 'hex'),
        Buffer.from(made.sha256, 'hex'),
        made.filename,
        made.mediaType,
        made.bytes,
        made.accepted,
        JSON.stringify(made.record),
      ],
    );
    return (await this.byRecipe(made.kind, made.designId, made.recipe))!;
  }
}
