import type { KeptListing } from '@kettle/contract';
import type { EarlierTag, ListingFields } from '@kettle/core/listing';
import { parseJson, type Database } from '../floor/database/database.js';

/** What a design is sold with, and how often it was changed. */
export type StoredListing = ListingFields & { readonly revision: number };

/** Listings of designs: one each. */
export class ListingStore {
  constructor(private readonly database: Database) {}

  async get(owner: string, designId: string): Promise<StoredListing | null> {
    const [row] = await this.database.rows<{ revision: number; fields: unknown }>(
      `SELECT l.revision, l.fields FROM listing l JOIN design d ON d.id = l.design_id
       WHERE l.design_id = ? AND d.owner = ?`,
      [designId, owner],
    );
    return row ? { ...parseJson<ListingFields>(row.fields), revision: Number(row.revision) } : null;
  }

  /** The saved one, or null when it is not at `revision` any more; 0 is that of one that was never saved. */
  async save(designId: string, revision: number, fields: ListingFields): Promise<StoredListing | null> {
    const text = JSON.stringify(fields);
    const changed =
      revision === 0
        ? await this.database.change('INSERT IGNORE INTO listing (design_id, fields) VALUES (?, ?)', [designId, text])
        : await this.database.change(
            'UPDATE listing SET fields = ?, revision = revision + 1 WHERE design_id = ? AND revision = ?',
            [text, designId, revision],
          );
    return changed ? { ...fields, revision: revision + 1 } : null;
  }

  /** Listings of all designs that are there, those saved last first. */
  async list(owner: string, most: number): Promise<KeptListing[]> {
    const rows = await this.database.rows<{ design_id: string; name: string; fields: unknown }>(
      `SELECT l.design_id, d.name, l.fields FROM listing l JOIN design d ON d.id = l.design_id
       WHERE d.owner = ? AND d.deleted_at IS NULL ORDER BY l.saved_at DESC, l.design_id LIMIT ${most}`,
      [owner],
    );
    return rows.map(({ design_id: designId, name, fields }) => ({
      designId,
      name,
      fields: parseJson<ListingFields>(fields),
    }));
  }

  /**
   * Tags of the seller's other listings, each with the share of those that have it: those with which most was sold
   * first, then those used most often.
   */
  async tags(owner: string, butOf: string, most: number): Promise<EarlierTag[]> {
    const rows = await this.database.rows<{ tag: string; times: number; listings: number }>(
      `SELECT j.tag, COUNT(*) AS times,
         (SELECT COUNT(*) FROM listing l JOIN design d ON d.id = l.design_id
          WHERE d.owner = ? AND d.deleted_at IS NULL AND l.design_id <> ? AND JSON_LENGTH(l.fields, '$.tags') > 0) AS listings, COALESCE(SUM((SELECT SUM(s.copies) FROM sale s WHERE s.design_id = l.design_id)), 0) AS sold
       FROM listing l JOIN design d ON d.id = l.design_id,
         JSON_TABLE(l.fields, '$.tags[*]' COLUMNS (tag VARCHAR(100) PATH '$')) j
       WHERE d.owner = ? AND d.deleted_at IS NULL AND l.design_id <> ?
       GROUP BY j.tag ORDER BY sold DESC, times DESC, j.tag LIMIT ${most}`,
      [owner, butOf, owner, butOf],
    );
    return rows.map(({ tag, times, listings }) => ({ tag, times, share: times / Math.max(1, listings) }));
  }
}
