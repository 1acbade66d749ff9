import type { RevisionRow } from '@kettle/contract';
import { targetKey } from '@kettle/core/document';
import type { Bound, Database, Queryable } from '../floor/database/database.js';
import { partsNamedBy, type Digest } from '../render/documents/digest.js';
import { newId } from '../floor/database/ids.js';
import { StoredDesign } from '../documents/stored-design.js';

interface Row {
  id: string;
  owner: string;
  revision: number;
  document: string;
  saved_at: Date;
}

/** A column of documents as text: as JSON, the driver would read each of them on the main thread. */
const textColumn = (column: string): string => `CONCAT(${column}) AS document`;

const NEWEST = `SELECT d.id, d.owner, d.revision, ${textColumn('r.document')}, r.saved_at
  FROM design d JOIN design_revision r ON r.design_id = d.id AND r.revision = d.revision`;

const hashOf = (sha256: string): Buffer => Buffer.from(sha256, 'hex');

/** Design documents, revision by revision. Their long pieces are stored once, however many revisions have them. */
export class DesignStore {
  constructor(private readonly database: Database) {}

  async list(owner: string): Promise<StoredDesign[]> {
    return this.whole(
      await this.database.rows<Row>(`${NEWEST} WHERE d.owner = ? AND d.deleted_at IS NULL ORDER BY d.position`, [
        owner,
      ]),
    );
  }

  /** Those of the ids that are on the sheet. */
  async some(ids: readonly string[]): Promise<StoredDesign[]> {
    return ids.length
      ? this.whole(await this.database.rowsOnce<Row>(`${NEWEST} WHERE d.id IN (?) AND d.deleted_at IS NULL`, [ids]))
      : [];
  }

  async get(owner: string, id: string): Promise<StoredDesign | null> {
    const rows = await this.database.rows<Row>(`${NEWEST} WHERE d.id = ? AND d.owner = ? AND d.deleted_at IS NULL`, [
      id,
      owner,
    ]);
    return (await this.whole(rows))[0] ?? null;
  }

  async revision(owner: string, id: string, revision: number): Promise<StoredDesign | null> {
    const rows = await this.database.rows<Row>(
      `SELECT r.design_id AS id, d.owner, r.revision, ${textColumn('r.document')}, r.saved_at
       FROM design_revision r JOIN design d ON d.id = r.design_id WHERE r.design_id = ? AND r.revision = ? AND d.owner = ?`,
      [id, revision, owner],
    );
    return (await this.whole(rows))[0] ?? null;
  }

  /** Names of the designs that have a requirement as a target. */
  async namesWith(owner: string, requirementId: string): Promise<string[]> {
    const rows = await this.database.rows<{ name: string }>(
      'SELECT DISTINCT d.name FROM design_target t JOIN design d ON d.id = t.design_id WHERE t.requirement_id = ? AND d.owner = ? AND d.deleted_at IS NULL',
      [requirementId, owner],
    );
    return rows.map(({ name }) => name);
  }

  /** Ids of all there ever were, deleted ones too. */
  async everyId(owner: string): Promise<string[]> {
    return (await this.database.rows<{ id: string }>('SELECT id FROM design WHERE owner = ?', [owner])).map(
      ({ id }) => id,
    );
  }

  async add(owner: string, digest: Digest, id = newId()): Promise<StoredDesign> {
    return this.database.transaction(async (within) => {
      await within.change(
        'INSERT INTO design (id, owner, revision, name, layers, template) VALUES (?, ?, 1, ?, ?, ?)',
        [id, owner, digest.name, digest.layers, digest.template],
      );
      return this.write(within, owner, id, 1, digest);
    });
  }

  /** Saves the next revision, or answers null when `revision` is no longer the newest. */
  async save(owner: string, id: string, revision: number, digest: Digest): Promise<StoredDesign | null> {
    return this.database.transaction(async (within) => {
      const changed = await within.change(
        'UPDATE design SET revision = revision + 1, name = ?, layers = ?, template = ? WHERE id = ? AND owner = ? AND revision = ? AND deleted_at IS NULL',
        [digest.name, digest.layers, digest.template, id, owner, revision],
      );
      return changed ? this.write(within, owner, id, revision + 1, digest) : null;
    });
  }

  /** Writes a revision and what is known of it. */
  private async write(
    within: Queryable,
    owner: string,
    id: string,
    revision: number,
    digest: Digest,
  ): Promise<StoredDesign> {
    await writeParts(within, id, revision, digest);
    await within.change('INSERT INTO design_revision (design_id, revision, document) VALUES (?, ?, ?)', [
      id,
      revision,
      digest.skeleton,
    ]);
    const uses = [
      ...digest.assetIds.map((used) => [id, 'asset', used, revision, revision]),
      ...digest.fontIds.map((used) => [id, 'font', used, revision, revision]),
    ];
    if (uses.length) {
      await within.rowsOnce(
        'INSERT INTO design_use (design_id, kind, id, first_revision, last_revision) VALUES ? ON DUPLICATE KEY UPDATE last_revision = VALUES(last_revision)',
        [uses as unknown as Bound[]],
      );
    }
    await writeTargets(within, id, digest.targets);
    const [{ saved_at: savedAt }] = await within.rows<{ saved_at: Date }>(
      'SELECT saved_at FROM design_revision WHERE design_id = ? AND revision = ?',
      [id, revision],
    );
    return new StoredDesign(
      id,
      owner,
      revision,
      savedAt.toISOString(),
      digest.skeleton,
      new Map(Object.entries(digest.parts)),
    );
  }

  /** Names a revision, or takes its name away with null. */
  async nameRevision(id: string, revision: number, name: string | null): Promise<void> {
    await this.database.change('UPDATE design_revision SET name = ? WHERE design_id = ? AND revision = ?', [
      name,
      id,
      revision,
    ]);
  }

  /** The 500 newest, and all that have a name. */
  async revisions(id: string): Promise<RevisionRow[]> {
    const rows = await this.database.rows<{ revision: number; saved_at: Date; name: string | null }>(
      `(SELECT revision, saved_at, name FROM design_revision WHERE design_id = ? ORDER BY revision DESC LIMIT 500)
       UNION SELECT revision, saved_at, name FROM design_revision WHERE design_id = ? AND name IS NOT NULL ORDER BY revision DESC`,
      [id, id],
    );
    return rows.map((row) => ({ revision: row.revision, savedAt: row.saved_at.toISOString(), name: row.name }));
  }

  async remove(owner: string, id: string): Promise<boolean> {
    return (await this.removeAll(owner, [id])).length > 0;
  }

  async restore(owner: string, id: string): Promise<boolean> {
    return (await this.restoreAll(owner, [id])).length > 0;
  }

  /** Takes designs off the sheet, all of them or none. @returns those that were on it */
  removeAll(owner: string, ids: readonly string[]): Promise<string[]> {
    return this.turn(owner, ids, 'AND deleted_at IS NULL', 'CURRENT_TIMESTAMP(3)');
  }

  /** Puts designs back on the sheet, all of them or none. @returns those that there are */
  restoreAll(owner: string, ids: readonly string[]): Promise<string[]> {
    return this.turn(owner, ids, '', 'NULL');
  }

  private turn(owner: string, ids: readonly string[], which: string, deletedAt: string): Promise<string[]> {
    return this.database.transaction(async (within) => {
      const found = await within.rowsOnce<{ id: string }>(
        `SELECT id FROM design WHERE owner = ? AND id IN (?) ${which} ORDER BY id FOR UPDATE`,
        [owner, ids],
      );
      const on = found.map(({ id }) => id);
      await within.change(
        `UPDATE design d
         JOIN JSON_TABLE(?, '$[*]' COLUMNS (id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin PATH '$')) j ON j.id = d.id
         SET d.deleted_at = ${deletedAt}`,
        [JSON.stringify(on)],
      );
      return on;
    });
  }

  /** Rows with the parts that their documents name, fetched in one query. */
  private async whole(rows: readonly Row[]): Promise<StoredDesign[]> {
    const named = rows.map((row) => partsNamedBy(row.document));
    const wanted = [...new Set(named.flat())];
    const found = wanted.length
      ? await this.database.rowsOnce<{ sha256: Buffer; data: string }>(
          'SELECT sha256, data FROM document_part WHERE sha256 IN (?)',
          [wanted.map(hashOf)],
        )
      : [];
    const parts = new Map(found.map((part) => [part.sha256.toString('hex'), part.data]));
    return rows.map(
      (row, i) =>
        new StoredDesign(
          row.id,
          row.owner,
          row.revision,
          row.saved_at.toISOString(),
          row.document,
          new Map(named[i].flatMap((sha256) => (parts.has(sha256) ? [[sha256, parts.get(sha256)!]] : []))),
        ),
    );
  }
}

/**
 * Writes the parts that are not there yet. Those that are there are locked until the end, so that the keeper does not
 * take them meanwhile.
 */
async function writeParts(within: Queryable, id: string, revision: number, { parts }: Digest): Promise<void> {
  const hashes = Object.keys(parts);
  if (!hashes.length) return;
  const there = await within.rowsOnce<{ sha256: Buffer }>(
    'SELECT sha256 FROM document_part WHERE sha256 IN (?) FOR UPDATE',
    [hashes.map(hashOf)],
  );
  const known = new Set(there.map((row) => row.sha256.toString('hex')));
  // One statement each: all of a large drawing in one would be more than the database takes at once.
  for (const sha256 of hashes)
    if (!known.has(sha256))
      await within.change('INSERT IGNORE INTO document_part (sha256, data) VALUES (?, ?)', [
        hashOf(sha256),
        parts[sha256],
      ]);
  const rows = hashes.map((sha256) => [id, hashOf(sha256), revision, revision]);
  await within.rowsOnce(
    'INSERT INTO design_part (design_id, sha256, first_revision, last_revision) VALUES ? ON DUPLICATE KEY UPDATE last_revision = VALUES(last_revision)',
    [rows as unknown as Bound[]],
  );
}

/** Brings the rows of a design's targets up to date: most saves change none of them. */
async function writeTargets(within: Queryable, id: string, given: Digest['targets']): Promise<void> {
  const there = await within.rows<{
    requirement_id: string;
    version: string;
    position: number;
    garment: string | null;
  }>('SELECT requirement_id, version, position, garment FROM design_target WHERE design_id = ?', [id]);
  const wanted = new Map(
    given.map((target, i) => [targetKey(target.requirementId, target.version), { ...target, position: i + 1 }]),
  );
  const rows = new Map(
    there.map((row) => [row.version ? `${row.requirement_id}/${row.version}` : row.requirement_id, row]),
  );
  for (const [key, gone] of rows) {
    if (wanted.has(key)) continue;
    await within.change('DELETE FROM design_target WHERE design_id = ? AND requirement_id = ? AND version = ?', [
      id,
      gone.requirement_id,
      gone.version,
    ]);
  }
  for (const [key, { requirementId, version, position, garment }] of wanted) {
    const row = rows.get(key);
    if (!row) {
      await within.change(
        `INSERT INTO design_target (design_id, requirement_id, version, position, garment, newest_file)
         VALUES (?, ?, ?, ?, ?, (SELECT id FROM output WHERE design_id = ? AND kind = 'print-file' AND about = ? ORDER BY made_at DESC LIMIT 1))`,
        [id, requirementId, version ?? '', position, garment, id, key],
      );
    } else if (row.position !== position || row.garment !== garment) {
      await within.change(
        'UPDATE design_target SET position = ?, garment = ? WHERE design_id = ? AND requirement_id = ? AND version = ?',
        [position, garment, id, requirementId, version ?? ''],
      );
    }
  }
}
