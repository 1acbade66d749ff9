import type { Requirement, RequirementFields } from '@kettle/core/model';
import { parseJson, type Database } from '../floor/database/database.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import { newId } from '../floor/database/ids.js';

interface Row {
  id: string;
  revision: number;
  fields: unknown;
}

const toRequirement = (row: Row): Requirement => ({
  ...parseJson<RequirementFields>(row.fields),
  id: row.id,
  revision: row.revision,
});

export class RequirementStore {
  constructor(private readonly database: Database) {}

  async list(owner: string): Promise<Requirement[]> {
    return (
      await this.database.rows<Row>(
        'SELECT id, revision, fields FROM requirement WHERE owner = ? AND deleted_at IS NULL ORDER BY position',
        [owner],
      )
    ).map(toRequirement);
  }

  /** Ids of all there ever were, deleted ones too. */
  async everyId(owner: string): Promise<string[]> {
    return (await this.database.rows<{ id: string }>('SELECT id FROM requirement WHERE owner = ?', [owner])).map(
      ({ id }) => id,
    );
  }

  async get(owner: string, id: string): Promise<Requirement | null> {
    const [row] = await this.database.rows<Row>(
      'SELECT id, revision, fields FROM requirement WHERE id = ? AND owner = ? AND deleted_at IS NULL',
      [id, owner],
    );
    return row ? toRequirement(row) : null;
  }

  /** @throws ProblemError 404 */
  async demand(owner: string, id: string): Promise<Requirement> {
    const requirement = await this.get(owner, id);
    if (!requirement) throw new ProblemError(404, 'no-such-requirement', 'There is no requirement with this id.');
    return requirement;
  }

  async add(owner: string, fields: RequirementFields, id = newId()): Promise<Requirement> {
    // One that was deleted comes back as it is now; its revision grows, so that what was made of it is out of date.
    const revived = await this.database.change(
      'UPDATE requirement SET fields = ?, revision = revision + 1, deleted_at = NULL WHERE id = ? AND owner = ? AND deleted_at IS NOT NULL',
      [JSON.stringify(fields), id, owner],
    );
    if (revived) return (await this.get(owner, id))!;
    await this.database.change('INSERT INTO requirement (id, owner, revision, fields) VALUES (?, ?, 1, ?)', [
      id,
      owner,
      JSON.stringify(fields),
    ]);
    return { ...fields, id, revision: 1 };
  }

  /** The changed requirement, or null when it was changed by somebody else since `revision`. */
  async change(owner: string, id: string, revision: number, fields: RequirementFields): Promise<Requirement | null> {
    const changed = await this.database.change(
      'UPDATE requirement SET fields = ?, revision = revision + 1 WHERE id = ? AND owner = ? AND revision = ? AND deleted_at IS NULL',
      [JSON.stringify(fields), id, owner, revision],
    );
    return changed ? { ...fields, id, revision: revision + 1 } : null;
  }

  /** Adds and changes several, all of them or none. @param changes with the id of the one that is changed, or null */
  async takeIn(
    owner: string,
    changes: readonly { readonly fields: RequirementFields; readonly id: string | null }[],
  ): Promise<void> {
    await this.database.transaction(async (within) => {
      for (const { fields, id } of changes) {
        const text = JSON.stringify(fields);
        if (id)
          await within.change(
            'UPDATE requirement SET fields = ?, revision = revision + 1 WHERE id = ? AND owner = ? AND deleted_at IS NULL',
            [text, id, owner],
          );
        else
          await within.change('INSERT INTO requirement (id, owner, revision, fields) VALUES (?, ?, 1, ?)', [
            newId(),
            owner,
            text,
          ]);
      }
    });
  }

  async remove(owner: string, id: string): Promise<void> {
    await this.database.change('UPDATE requirement SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND owner = ?', [
      id,
      owner,
    ]);
  }
}
