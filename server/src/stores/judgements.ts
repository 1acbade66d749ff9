import type { Requirement } from '@kettle/core';
import type { Database } from '../database/database.js';
import type { Judgement } from '../render/derive.js';

interface Row { requirement_id: string; requirement_revision: number; recipe: Buffer; printable: number; gravest: string | null }

/** What was found of large designs, by revision of the design, of the requirement and of the drawing code. */
export class JudgementStore {
  constructor(private readonly database: Database) {}

  async of({ id, revision }: { readonly id: string; readonly revision: number }, engine: number): Promise<{ requirementId: string; requirementRevision: number; judgement: Judgement }[]> {
    const rows = await this.database.rows<Row>('SELECT requirement_id, requirement_revision, recipe, printable, gravest FROM judgement WHERE design_id = ? AND revision = ? AND engine = ?', [id, revision, engine]);
    return rows.map((row) => ({ requirementId: row.requirement_id, requirementRevision: row.requirement_revision, judgement: { recipe: row.recipe.toString('hex'), printable: Boolean(row.printable), gravest: row.gravest } }));
  }

  /** Keeps judgements of the newest revision; those of older ones are not asked for again. */
  async add({ id, revision }: { readonly id: string; readonly revision: number }, engine: number, found: readonly { readonly requirement: Requirement; readonly judgement: Judgement }[]): Promise<void> {
    await this.database.change('DELETE FROM judgement WHERE design_id = ? AND (revision < ? OR engine <> ?)', [id, revision, engine]);
    for (const { requirement, judgement } of found) {
      await this.database.change(
        'REPLACE INTO judgement (design_id, revision, requirement_id, requirement_revision, engine, recipe, printable, gravest) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
        [id, revision, requirement.id, requirement.revision, engine, Buffer.from(judgement.recipe, 'hex'), judgement.printable, judgement.gravest],
      );
    }
  }
}
