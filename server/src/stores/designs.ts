import type { RevisionRow } from '@kettle/contract';
import type { DesignDocument } from '@kettle/core';
import type { Database } from '../database/database.js';
import { newId } from './ids.js';
import { StoredDesign } from './stored-design.js';

interface Row { id: string; revision: number; document: string; saved_at: Date }

const toDesign = ({ id, revision, saved_at, document }: Row): StoredDesign => new StoredDesign(id, revision, saved_at.toISOString(), document);

/** A column of documents as text: as JSON, the driver would read each of them on the main thread. */
const textColumn = (column: string): string => `CONCAT(${column}) AS document`;

const NEWEST = `SELECT d.id, d.revision, ${textColumn('r.document')}, r.saved_at FROM design d JOIN design_revision r ON r.design_id = d.id AND r.revision = d.revision`;

const textOf = (document: DesignDocument | string): string => (typeof document === 'string' ? document : JSON.stringify(document));

/** Design documents. Every revision is kept. */
export class DesignStore {
  constructor(private readonly database: Database) {}

  async list(): Promise<StoredDesign[]> {
    return (await this.database.rows<Row>(`${NEWEST} WHERE d.deleted_at IS NULL ORDER BY d.position`)).map(toDesign);
  }

  /** A part of the list, in the same order. */
  async page(from: number, count: number): Promise<StoredDesign[]> {
    return (await this.database.rowsOnce<Row>(`${NEWEST} WHERE d.deleted_at IS NULL ORDER BY d.position LIMIT ? OFFSET ?`, [Math.trunc(count), Math.trunc(from)])).map(toDesign);
  }

  /** Names of the designs that have a requirement as a target, found by the database: no document is read here, and a damaged one is no user. */
  async namesWith(requirementId: string): Promise<string[]> {
    const rows = await this.database.rows<{ name: string | null }>(
      "SELECT JSON_VALUE(r.document, '$.name') AS name FROM design d JOIN design_revision r ON r.design_id = d.id AND r.revision = d.revision WHERE d.deleted_at IS NULL AND JSON_CONTAINS(JSON_EXTRACT(r.document, '$.targets[*].requirementId'), JSON_QUOTE(?)) = 1",
      [requirementId],
    );
    return rows.map(({ name }) => name ?? '');
  }

  async count(): Promise<number> {
    const [row] = await this.database.rows<{ n: number }>('SELECT COUNT(*) AS n FROM design WHERE deleted_at IS NULL');
    return Number(row.n);
  }

  async get(id: string): Promise<StoredDesign | null> {
    const [row] = await this.database.rows<Row>(`${NEWEST} WHERE d.id = ? AND d.deleted_at IS NULL`, [id]);
    return row ? toDesign(row) : null;
  }

  /** Ids of all there ever were, deleted ones too. */
  async everyId(): Promise<string[]> { return (await this.database.rows<{ id: string }>('SELECT id FROM design')).map(({ id }) => id); }

  /** @param document as an object, or as the text of one that was checked */
  async add(document: DesignDocument | string, id = newId()): Promise<StoredDesign> {
    await this.database.transaction(async (within) => {
      await within.change('INSERT INTO design (id, revision) VALUES (?, 1)', [id]);
      await within.change('INSERT INTO design_revision (design_id, revision, document) VALUES (?, 1, ?)', [id, textOf(document)]);
    });
    return (await this.get(id))!;
  }

  /** Saves the next revision, or answers null when `revision` is no longer the newest. */
  async save(id: string, revision: number, document: DesignDocument | string): Promise<StoredDesign | null> {
    const saved = await this.database.transaction(async (within) => {
      const changed = await within.change('UPDATE design SET revision = revision + 1 WHERE id = ? AND revision = ? AND deleted_at IS NULL', [id, revision]);
      if (!changed) return false;
      await within.change('INSERT INTO design_revision (design_id, revision, document) VALUES (?, ?, ?)', [id, revision + 1, textOf(document)]);
      return true;
    });
    return saved ? this.get(id) : null;
  }

  /** Names a revision, or takes its name away with null. */
  async nameRevision(id: string, revision: number, name: string | null): Promise<void> {
    await this.database.change('UPDATE design_revision SET name = ? WHERE design_id = ? AND revision = ?', [name, id, revision]);
  }

  /** The 500 newest, and all that have a name. */
  async revisions(id: string): Promise<RevisionRow[]> {
    const rows = await this.database.rows<{ revision: number; saved_at: Date; name: string | null }>('(SELECT revision, saved_at, name FROM design_revision WHERE design_id = ? ORDER BY revision DESC LIMIT 500) UNION SELECT revision, saved_at, name FROM design_revision WHERE design_id = ? AND name IS NOT NULL ORDER BY revision DESC', [id, id]);
    return rows.map((row) => ({ revision: row.revision, savedAt: row.saved_at.toISOString(), name: row.name }));
  }

  async revision(id: string, revision: number): Promise<StoredDesign | null> {
    const [row] = await this.database.rows<Row>(`SELECT design_id AS id, revision, ${textColumn('document')}, saved_at FROM design_revision WHERE design_id = ? AND revision = ?`, [id, revision]);
    return row ? toDesign(row) : null;
  }

  async remove(id: string): Promise<boolean> {
    return await this.database.change('UPDATE design SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND deleted_at IS NULL', [id]) > 0;
  }

  async restore(id: string): Promise<boolean> {
    return await this.database.change('UPDATE design SET deleted_at = NULL WHERE id = ?', [id]) > 0;
  }
}
