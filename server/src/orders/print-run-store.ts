import type { Interest } from '@kettle/contract';
import type { HandingKind } from '@kettle/contract';
import type {
  InterestFields,
  InterestSource,
  OrderLine,
  PrintRunFields,
  PrintRunState,
  RunPrice,
} from '@kettle/core/orders';
import { parseJson, type Database, type Queryable } from '../floor/database/database.js';
import { linkHash } from '../floor/safety/secrets.js';
import { noteEvent } from '../documents/design-events.js';
import { newId } from '../floor/database/ids.js';

export interface Ordered {
  readonly lines: readonly OrderLine[];
  readonly price: RunPrice | null;
}

export interface StoredPrintRun extends PrintRunFields {
  readonly id: string;
  readonly owner: string;
  readonly designId: string;
  readonly designName: string;
  readonly savedRevision: number;
  readonly state: PrintRunState;
  readonly token: string | null;
  readonly madeAt: string;
  readonly orderedAt: string | null;
  readonly ordered: Ordered | null;
  /** Oldest first. */
  readonly interests: readonly Interest[];
}

interface Row {
  id: string;
  owner: string;
  design_id: string;
  design_name: string;
  revision: number;
  fields: unknown;
  state: PrintRunState;
  token: string | null;
  ordered: unknown;
  made_at: Date;
  ordered_at: Date | null;
}

const EVENTS: Readonly<Record<PrintRunState, HandingKind>> = {
  open: 'run-open',
  closed: 'run-closed',
  ordered: 'run-ordered',
  delivered: 'run-delivered',
};
const SELECT = 'SELECT r.*, d.name AS design_name FROM print_run r JOIN design d ON d.id = r.design_id';
const MOST_LISTED = 100;

/** Orders in hand, and who wants what. */
export class PrintRunStore {
  constructor(private readonly database: Database) {}

  /** Newest first. */
  async of(owner: string, designId: string): Promise<StoredPrintRun[]> {
    return this.whole(
      await this.database.rows<Row>(
        `${SELECT} WHERE r.owner = ? AND r.design_id = ? ORDER BY r.made_at DESC, r.id LIMIT ${MOST_LISTED}`,
        [owner, designId],
      ),
    );
  }

  async get(owner: string, id: string): Promise<StoredPrintRun | null> {
    return (
      (await this.whole(await this.database.rows<Row>(`${SELECT} WHERE r.id = ? AND r.owner = ?`, [id, owner])))[0] ??
      null
    );
  }

  /** The one under a public link, whoever's it is. */
  async byToken(token: string): Promise<StoredPrintRun | null> {
    return (
      (
        await this.whole(
          await this.database.rows<Row>(`${SELECT} WHERE r.token_hash = ? AND d.deleted_at IS NULL`, [linkHash(token)]),
        )
      )[0] ?? null
    );
  }

  async add(owner: string, designId: string, fields: PrintRunFields): Promise<string> {
    const id = newId();
    await this.database.transaction(async (within) => {
      await within.change('INSERT INTO print_run (id, owner, design_id, fields) VALUES (?, ?, ?, ?)', [
        id,
        owner,
        designId,
        JSON.stringify(fields),
      ]);
      await noteEvent(within, { owner, designId, kind: EVENTS.open, whom: '', said: fields.name });
    });
    return id;
  }

  /** Changes what can be ordered, unless it was changed since `revision`, or is ordered by now. */
  async change(id: string, revision: number, fields: PrintRunFields): Promise<'changed' | 'stale' | 'ordered'> {
    return this.database.transaction(async (within) => {
      const [run] = await within.rows<{ state: PrintRunState; revision: number }>(
        'SELECT state, revision FROM print_run WHERE id = ? FOR UPDATE',
        [id],
      );
      if (run?.state === 'ordered' || run?.state === 'delivered') return 'ordered';
      if (run?.revision !== revision) return 'stale';
      await within.change('UPDATE print_run SET fields = ?, revision = revision + 1 WHERE id = ?', [
        JSON.stringify(fields),
        id,
      ]);
      return 'changed';
    });
  }

  async remove(id: string): Promise<void> {
    await this.database.change('DELETE FROM print_run WHERE id = ?', [id]);
  }

  async link(id: string, token: string | null): Promise<void> {
    await this.database.change('UPDATE print_run SET token = ?, token_hash = ? WHERE id = ?', [
      token,
      token && linkHash(token),
      id,
    ]);
  }

  /** Brings a run from one state into another. False when it was in another meanwhile. */
  async become(run: StoredPrintRun, state: PrintRunState, ordered: Ordered | null = null): Promise<boolean> {
    return this.database.transaction(async (within) => {
      const moved = await within.change(
        `UPDATE print_run SET state = ?, ordered = COALESCE(?, ordered),
           closed_at = IF(? = 'closed', CURRENT_TIMESTAMP(3), closed_at),
           ordered_at = IF(? = 'ordered', CURRENT_TIMESTAMP(3), ordered_at) WHERE id = ? AND state = ?`,
        [state, ordered && JSON.stringify(ordered), state, state, run.id, run.state],
      );
      if (moved) await noteEvent(within, { ...run, kind: EVENTS[state], whom: '', said: run.name });
      if (moved && state === 'delivered')
        await within.change(
          'UPDATE interest SET delivered_at = COALESCE(delivered_at, CURRENT_TIMESTAMP(3)) WHERE run_id = ?',
          [run.id],
        );
      return moved > 0;
    });
  }

  /**
   * Adds people, once for each form. False when the form came before, or the run is not open any more.
   * @param most entries that a run may have
   */
  async addInterests(
    runId: string,
    form: string,
    source: InterestSource,
    interests: readonly InterestFields[],
    most: number,
    back: string | null = null,
  ): Promise<'added' | 'known' | 'closed' | 'full'> {
    return this.database.transaction(async (within) => {
      const [run] = await within.rows<{ state: PrintRunState }>('SELECT state FROM print_run WHERE id = ? FOR UPDATE', [
        runId,
      ]);
      if (run?.state !== 'open') return 'closed';
      const [{ count }] = await within.rows<{ count: number }>(
        'SELECT COUNT(*) AS count FROM interest WHERE run_id = ?',
        [runId],
      );
      if (Number(count) + interests.length > most) return 'full';
      for (const [i, one] of interests.entries())
        if (!(await addOne(within, runId, `${form}-${i}`, source, one, back))) return 'known';
      return 'added';
    });
  }

  async changeInterest(
    runId: string,
    id: string,
    { deposit, delivered }: { readonly deposit?: number; readonly delivered?: boolean },
  ): Promise<boolean> {
    return (
      (await this.database.change(
        `UPDATE interest SET deposit = COALESCE(?, deposit),
           delivered_at = CASE WHEN ? IS NULL THEN delivered_at WHEN ? THEN COALESCE(delivered_at, CURRENT_TIMESTAMP(3)) ELSE NULL END
         WHERE id = ? AND run_id = ?`,
        [deposit ?? null, delivered ?? null, delivered ?? false, id, runId],
      )) > 0
    );
  }

  /**
   * While the run is open an entry goes; afterwards only its person does, so that what was ordered stays true. False for none.
   */
  async removeInterest(runId: string, id: string): Promise<boolean> {
    return this.database.transaction(async (within) => {
      const [run] = await within.rows<{ state: PrintRunState }>('SELECT state FROM print_run WHERE id = ? FOR UPDATE', [
        runId,
      ]);
      const gone =
        run?.state === 'open'
          ? await within.change('DELETE FROM interest WHERE id = ? AND run_id = ?', [id, runId])
          : await this.erase(runId, id, within);
      return gone > 0;
    });
  }

  /** Takes the person out of an entry, or out of all of them; what is counted stays. */
  async erase(runId: string, id: string | null, within: Queryable = this.database): Promise<number> {
    return within.change(
      `UPDATE interest SET name = '', contact = '', back_hash = NULL, erased_at = COALESCE(erased_at, CURRENT_TIMESTAMP(3))
       WHERE run_id = ? AND (? IS NULL OR id = ?)`,
      [runId, id, id],
    );
  }

  /** Takes back what somebody entered on the public page. False when it is gone, or the run is not open any more. */
  async takeBack(runId: string, back: string): Promise<boolean> {
    return (
      (await this.database.change(
        `DELETE i FROM interest i JOIN print_run r ON r.id = i.run_id
         WHERE i.run_id = ? AND i.back_hash = ? AND r.state = 'open'`,
        [runId, linkHash(back)],
      )) > 0
    );
  }

  private async whole(rows: readonly Row[]): Promise<StoredPrintRun[]> {
    if (!rows.length) return [];
    const interests = await this.database.rowsOnce<{
      id: string;
      run_id: string;
      name: string;
      contact: string;
      size: string;
      colour: string;
      copies: number;
      deposit: number;
      source: InterestSource;
      noted_at: Date;
      delivered_at: Date | null;
      erased_at: Date | null;
    }>('SELECT * FROM interest WHERE run_id IN (?) ORDER BY noted_at, id', [rows.map(({ id }) => id)]);
    return rows.map((row) => ({
      ...parseJson<PrintRunFields>(row.fields),
      id: row.id,
      owner: row.owner,
      designId: row.design_id,
      designName: row.design_name,
      savedRevision: Number(row.revision),
      state: row.state,
      token: row.token,
      madeAt: row.made_at.toISOString(),
      orderedAt: row.ordered_at?.toISOString() ?? null,
      ordered: row.ordered === null ? null : parseJson<Ordered>(row.ordered),
      interests: interests
        .filter(({ run_id }) => run_id === row.id)
        .map((one) => ({
          id: one.id,
          name: one.name,
          contact: one.contact,
          size: one.size,
          colour: one.colour,
          copies: Number(one.copies),
          deposit: Number(one.deposit),
          source: one.source,
          notedAt: one.noted_at.toISOString(),
          deliveredAt: one.delivered_at?.toISOString() ?? null,
          erased: one.erased_at !== null,
        })),
    }));
  }
}

async function addOne(
  within: Queryable,
  runId: string,
  form: string,
  source: InterestSource,
  { name, contact, size, colour, copies, deposit }: InterestFields,
  back: string | null,
): Promise<boolean> {
  return (
    (await within.change(
      `INSERT IGNORE INTO interest (id, run_id, name, contact, size, colour, copies, deposit, source, form, back_hash)
       VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      [newId(), runId, name, contact, size, colour, copies, deposit, source, form, back && linkHash(back)],
    )) > 0
  );
}
