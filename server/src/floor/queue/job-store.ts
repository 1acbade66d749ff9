import type { Job, JobState } from '@kettle/contract';
import { cutText } from '@kettle/core/text';
import { parseJson, type Bound, type Database, type Queryable } from '../database/database.js';
import { newId } from '../database/ids.js';
import { noteEnd } from './failure-store.js';
import { endWhatWaits } from './left-waiting.js';

/** A step a worker has claimed. `payload` is as it was written down: its kind checks it. */
export interface ClaimedJob {
  readonly id: number;
  readonly batchId: string;
  readonly owner: string;
  readonly kind: string;
  readonly payload: unknown;
  /** How often it was begun, without what other processes that ended had in hand. */
  readonly attempts: number;
  /** How often the worker that had it in hand went silent. */
  readonly lapses: number;
}

/** A step to be queued. Steps of a later stage wait until all of the earlier ones are done. */
export interface NewStep {
  readonly kind: string;
  readonly payload: object;
  readonly engine?: number;
  readonly stage?: number;
  /** Why it cannot be done, if that is known beforehand: then it is over at once, and the others go on. */
  readonly failed?: string;
}

/** A step of a run as it stands. */
export interface StoredStep {
  readonly id: number;
  readonly kind: string;
  readonly payload: unknown;
  readonly state: 'waiting' | 'queued' | 'paused' | 'running' | 'done' | 'failed' | 'cancelled';
  readonly progress: number;
  readonly message: string;
  readonly resultId: string | null;
}

/**
 * Steps of a run, or how they come about: what asks for them is then written with them, in one transaction, so that
 * nothing ever waits for a step that is not there.
 */
export type StepsOfRun = readonly NewStep[] | ((within: Queryable) => Promise<readonly NewStep[]>);

/** A run to be queued: of one design at a revision, of several, or of none. */
export interface NewBatch {
  readonly kind: Job['kind'];
  readonly design?: { readonly id: string; readonly revision: number };
  readonly designIds?: readonly string[];
}

/** Which steps a worker can do: of a kind, and needing no newer drawing code than it has. */
export interface Able {
  readonly kind: string;
  readonly engine: number;
}

/** A claim is lost after this long without a heartbeat, so that another worker can take the step over. */
export const LEASE_SECONDS = 10;

/** A step that has killed its worker this often is given up. */
export const MOST_ATTEMPTS = 3;
/** Most of what waits for the steps of a run that is cancelled which is ended with it; the keeper ends the rest. */
const MOST_ENDED = 200;
/** A step whose workers went silent this often takes them down with it. */
export const MOST_LAPSES = 10;

const BATCH = 'SELECT id, owner, kind, design_id, designs, revision, state, total, done, message FROM batch';

interface BatchRow {
  id: string;
  owner: string;
  kind: Job['kind'];
  design_id: string | null;
  designs: unknown;
  revision: number;
  state: JobState;
  total: number;
  done: number;
  message: string;
}

/** A run and whose it is. */
export interface OwnedJob {
  readonly owner: string;
  readonly job: Job;
}

/** The oldest queued step of one kind: found at the beginning of an index, whatever the queue's length. */
export const CLAIM_SQL = `SELECT id, batch_id, kind, payload, attempts, lapses FROM job FORCE INDEX (job_claim)
  WHERE state = 'queued' AND kind = ? AND engine <= ? ORDER BY engine, id LIMIT 1 FOR UPDATE SKIP LOCKED`;

/** A step whose worker has gone silent. */
export const LAPSED_SQL = `SELECT id, batch_id, kind, payload, attempts, lapses FROM job FORCE INDEX (job_lease)
  WHERE state = 'running' AND lease_until < CURRENT_TIMESTAMP(3) AND kind = ? AND engine <= ? ORDER BY lease_until LIMIT 1 FOR UPDATE SKIP LOCKED`;

interface StepRow {
  id: number;
  batch_id: string;
  kind: string;
  payload: unknown;
  attempts: number;
  lapses: number;
}

/** The queue. A batch is one run; its steps are claimed one by one by any number of workers. */
export class JobStore {
  private readonly listeners = new Set<(mayBeTaken: boolean) => void>();

  constructor(private readonly database: Database) {}

  /**
   * Hears whenever this process changed the queue, and whether a step may be taken since. Answers how to stop.
   */
  onChange(heard: (mayBeTaken: boolean) => void): () => void {
    this.listeners.add(heard);
    return () => this.listeners.delete(heard);
  }

  private changed(mayBeTaken: boolean): void {
    for (const heard of this.listeners) heard(mayBeTaken);
  }

  /** True while there is a step that may be begun, whoever can do it: one look for all workers of a process. */
  async hasOpenSteps(): Promise<boolean> {
    return (
      (
        await this.database.rows(
          `SELECT 1 FROM (SELECT id FROM job WHERE state = 'queued' LIMIT 1) queued
           UNION ALL SELECT 1 FROM (SELECT id FROM job WHERE state = 'running' AND lease_until < CURRENT_TIMESTAMP(3) LIMIT 1) lapsed`,
        )
      ).length > 0
    );
  }

  async addBatch(
    owner: string,
    { kind, design, designIds = design ? [design.id] : [] }: NewBatch,
    asked: StepsOfRun,
  ): Promise<Job> {
    const id = newId();
    await this.database.transaction(async (within) => {
      const steps = typeof asked === 'function' ? await asked(within) : asked;
      const first = Math.min(...steps.map((step) => step.stage ?? 0));
      const over = steps.filter((step) => step.failed !== undefined);
      await within.change(
        'INSERT INTO batch (id, owner, kind, design_id, revision, designs, total, done, failed, message) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
        [
          id,
          owner,
          kind,
          design?.id ?? null,
          design?.revision ?? 0,
          JSON.stringify(designIds),
          steps.length,
          over.length,
          over.length,
          cutText([...new Set(over.map((step) => step.failed))].join(' '), 2000),
        ],
      );
      for (let from = 0; from < steps.length; from += 500) {
        const rows = steps
          .slice(from, from + 500)
          .map((step) => [
            id,
            step.kind,
            JSON.stringify(step.payload),
            step.engine ?? 0,
            step.stage ?? 0,
            step.failed !== undefined ? 'failed' : (step.stage ?? 0) === first ? 'queued' : 'waiting',
            cutText(step.failed ?? '', 500),
          ]);
        await within.rowsOnce('INSERT INTO job (batch_id, kind, payload, engine, stage, state, message) VALUES ?', [
          rows as unknown as Bound[],
        ]);
      }
      if (over.length) await settle(within, id);
    });
    this.changed(true);
    return (await this.get(owner, id))!;
  }

  /** Steps of a run in the order they were asked for, with how far each is. */
  async steps(batchId: string): Promise<StoredStep[]> {
    const rows = await this.database.rows<{
      id: number;
      kind: string;
      payload: unknown;
      state: StoredStep['state'];
      progress: number;
      message: string;
      result_id: string | null;
    }>('SELECT id, kind, payload, state, progress, message, result_id FROM job WHERE batch_id = ? ORDER BY id', [
      batchId,
    ]);
    return rows.map(({ id, kind, payload, state, progress, message, result_id: resultId }) => ({
      id: Number(id),
      kind,
      payload: parseJson(payload),
      state,
      progress: Number(progress),
      message,
      resultId,
    }));
  }

  /** Holds a run: what is in hand is finished, nothing else is begun. */
  async pause(batchId: string): Promise<void> {
    await this.database.transaction(async (within) => {
      const held = await within.change(
        "UPDATE batch SET state = 'paused', changed_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND state IN ('queued', 'running')",
        [batchId],
      );
      if (held)
        await within.change("UPDATE job SET state = 'paused' WHERE batch_id = ? AND state = 'queued'", [batchId]);
    });
    this.changed(false);
  }

  /** Goes on with a run that was held. */
  async resume(batchId: string): Promise<void> {
    await this.database.transaction(async (within) => {
      const freed = await within.change(
        "UPDATE batch SET state = IF(done > 0, 'running', 'queued'), changed_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND state = 'paused'",
        [batchId],
      );
      if (freed)
        await within.change("UPDATE job SET state = 'queued' WHERE batch_id = ? AND state = 'paused'", [batchId]);
    });
    this.changed(true);
  }

  /** Steps that are not begun. */
  async waiting(): Promise<number> {
    const [{ n }] = await this.database.rows<{ n: number }>(
      "SELECT COUNT(*) AS n FROM job WHERE state IN ('queued', 'waiting', 'paused')",
    );
    return Number(n);
  }

  /** How many steps are in each state. */
  async counts(): Promise<{ state: string; count: number }[]> {
    return (
      await this.database.rows<{ state: string; count: number }>(
        'SELECT state, COUNT(*) AS count FROM job GROUP BY state',
      )
    ).map(({ state, count }) => ({ state, count: Number(count) }));
  }

  async get(owner: string, batchId: string): Promise<Job | null> {
    const [row] = await this.database.rows<BatchRow>(`${BATCH} WHERE id = ? AND owner = ?`, [batchId, owner]);
    return row ? (await this.toJobs([row]))[0].job : null;
  }

  /** Runs that are open or changed in the last seconds, without what they made: a look four times a second lists no files. */
  async lively(seconds: number): Promise<OwnedJob[]> {
    return this.toJobs(
      await this.database.rows<BatchRow>(
        `${BATCH} WHERE state IN ('queued', 'running', 'paused') UNION ${BATCH} WHERE changed_at > DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL ? SECOND) ORDER BY id`,
        [seconds],
      ),
      false,
    );
  }

  private async toJobs(rows: readonly BatchRow[], withResults = true): Promise<OwnedJob[]> {
    if (!rows.length) return [];
    const ids = rows.map((row) => row.id);
    const results = withResults
      ? await this.database.rowsOnce<{ batch_id: string; id: string; kind: string }>(
          "SELECT j.batch_id, o.id, o.kind FROM job j JOIN output o ON o.id = j.result_id WHERE j.batch_id IN (?) AND j.state = 'done' ORDER BY j.id",
          [ids],
        )
      : [];
    const within = await this.database.rowsOnce<{ batch_id: string; progress: number }>(
      "SELECT batch_id, SUM(progress) AS progress FROM job WHERE batch_id IN (?) AND state = 'running' GROUP BY batch_id",
      [ids],
    );
    return rows.map((row) => ({
      owner: row.owner,
      job: {
        id: row.id,
        kind: row.kind,
        designId: row.design_id,
        designIds: parseJson<string[]>(row.designs),
        revision: row.revision,
        state: row.state,
        total: Number(row.total),
        done: Number(row.done),
        within: Math.round(Number(within.find((one) => one.batch_id === row.id)?.progress ?? 0) * 100) / 100,
        message: row.message,
        results: results
          .filter((one) => one.batch_id === row.id)
          .map(({ id, kind }) => ({ kind: kind as Job['results'][number]['kind'], id })),
      },
    }));
  }

  /** Results of the stages before a step's own, in the order of their steps. */
  async before({ id, batchId }: Pick<ClaimedJob, 'id' | 'batchId'>): Promise<string[]> {
    const rows = await this.database.rows<{ result_id: string }>(
      "SELECT result_id FROM job WHERE batch_id = ? AND state = 'done' AND result_id IS NOT NULL AND stage < (SELECT stage FROM job WHERE id = ?) ORDER BY id",
      [batchId, id],
    );
    return rows.map((row) => row.result_id);
  }

  /**
   * Claims the oldest step that a worker can do: first of the kinds named first, and of each a queued one or one whose
   * worker has gone silent.
   */
  async claim(worker: string, able: readonly Able[]): Promise<ClaimedJob | null> {
    for (const { kind, engine } of able) {
      const claimed = await this.database.transaction(async (within) => {
        const [lapsed] = await within.rows<StepRow>(LAPSED_SQL, [kind, engine]);
        const [row] = lapsed ? [lapsed] : await within.rows<StepRow>(CLAIM_SQL, [kind, engine]);
        if (!row) return null;
        const { attempts, lapses } = lapsed
          ? { ...row, lapses: row.lapses + 1 }
          : { ...row, attempts: row.attempts + 1 };
        await within.change(
          `UPDATE job SET state = 'running', worker = ?, attempts = ?, lapses = ?, progress = 0,
             lease_until = DATE_ADD(CURRENT_TIMESTAMP(3), INTERVAL ${LEASE_SECONDS} SECOND) WHERE id = ?`,
          [worker, attempts, lapses, row.id],
        );
        return { ...row, attempts, lapses };
      });
      if (!claimed) continue;
      // The run's own row is written outside: workers that claim steps of one run do not wait for each other.
      await this.database.change(
        "UPDATE batch SET state = 'running', changed_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND state IN ('queued', 'running')",
        [claimed.batch_id],
      );
      const [{ owner }] = await this.database.rows<{ owner: string }>('SELECT owner FROM batch WHERE id = ?', [
        claimed.batch_id,
      ]);
      this.changed(false);
      return {
        id: Number(claimed.id),
        batchId: claimed.batch_id,
        owner,
        kind: claimed.kind,
        payload: parseJson(claimed.payload),
        attempts: claimed.attempts,
        lapses: claimed.lapses,
      };
    }
    return null;
  }

  /** Keeps a claim alive. False when the step was cancelled or taken over: the worker must stop. */
  async heartbeat(id: number, worker: string): Promise<boolean> {
    return (
      (await this.database.change(
        `UPDATE job SET lease_until = DATE_ADD(CURRENT_TIMESTAMP(3), INTERVAL ${LEASE_SECONDS} SECOND) WHERE id = ? AND worker = ? AND state = 'running'`,
        [id, worker],
      )) > 0
    );
  }

  /** Says how far a step is, 0 to 1. */
  async progress(id: number, worker: string, share: number): Promise<void> {
    await this.database.change(
      "UPDATE job j JOIN batch b ON b.id = j.batch_id SET j.progress = ?, b.changed_at = CURRENT_TIMESTAMP(3) WHERE j.id = ? AND j.worker = ? AND j.state = 'running'",
      [Math.min(1, Math.max(0, share)), id, worker],
    );
    this.changed(false);
  }

  async finish(id: number, worker: string, resultId: string): Promise<void> {
    await this.end(id, worker, 'done', resultId, '');
  }

  async fail(id: number, worker: string, sentence: string): Promise<void> {
    await this.end(id, worker, 'failed', null, cutText(sentence, 500));
  }

  private async end(
    id: number,
    worker: string,
    state: 'done' | 'failed',
    resultId: string | null,
    message: string,
  ): Promise<void> {
    await this.database.transaction(async (within) => {
      const ended = await within.change(
        "UPDATE job SET state = ?, result_id = ?, message = ?, progress = 1, lease_until = NULL WHERE id = ? AND worker = ? AND state = 'running'",
        [state, resultId, message, id, worker],
      );
      if (!ended) return;
      const [{ batch_id: batchId, stage, kind, payload }] = await within.rows<StepRow & { stage: number }>(
        'SELECT batch_id, stage, kind, payload FROM job WHERE id = ?',
        [id],
      );
      await noteEnd(within, kind, payload, { failed: state === 'failed', sentence: message });
      await count(within, batchId, { done: 1, failed: state === 'failed' ? 1 : 0 }, message);
      await release(within, batchId, stage);
      await settle(within, batchId);
    });
    this.changed(true);
  }

  /**
   * Puts a claimed step back: another try, soon. @param counted false when it was not the step's fault, so that it is
   * not a try
   */
  async giveBack(id: number, worker: string, counted: boolean): Promise<void> {
    await this.database.change(
      `UPDATE job SET state = IF((SELECT state FROM batch WHERE batch.id = batch_id) = 'paused', 'paused', 'queued'), worker = NULL, lease_until = NULL${counted ? '' : ', attempts = GREATEST(attempts, 1) - 1'} WHERE id = ? AND worker = ? AND state = 'running'`,
      [id, worker],
    );
    this.changed(true);
  }

  async cancel(batchId: string): Promise<void> {
    await this.database.transaction(async (within) => {
      const ended = await within.change(
        "UPDATE job SET state = 'cancelled', lease_until = NULL WHERE batch_id = ? AND state IN ('waiting', 'queued', 'paused', 'running')",
        [batchId],
      );
      if (!ended) return;
      await count(within, batchId, { done: ended, failed: 0 }, '');
      await settle(within, batchId);
      await endWhatWaits(within, MOST_ENDED);
    });
    this.changed(false);
  }
}

/** Counts steps of a run as over. A sentence is kept once, however many steps say it. */
async function count(
  within: Queryable,
  batchId: string,
  { done, failed }: { done: number; failed: number },
  message: string,
): Promise<void> {
  await within.change(
    `UPDATE batch SET done = done + ?, failed = failed + ?, changed_at = CURRENT_TIMESTAMP(3),
       message = IF(? = '' OR LOCATE(?, message) > 0, message, LEFT(TRIM(CONCAT(message, ' ', ?)), 2000)) WHERE id = ?`,
    [done, failed, message, message, message, batchId],
  );
}

/**
 * Lets the next stage begin once nothing of this one is open; ends what can no longer be made because a step before it
 * failed.
 */
async function release(within: Queryable, batchId: string, stage: number): Promise<void> {
  // The batch's row is locked by the count: two last steps of a stage come here one after the other.
  const open = await within.rows(
    "SELECT id FROM job WHERE batch_id = ? AND state IN ('queued', 'paused', 'running') LIMIT 1",
    [batchId],
  );
  if (open.length) return;
  const [next] = await within.rows<{ stage: number }>(
    "SELECT MIN(stage) AS stage FROM job WHERE batch_id = ? AND state = 'waiting'",
    [batchId],
  );
  if (!next || next.stage === null) return;
  const failed = await within.rows(
    "SELECT id FROM job WHERE batch_id = ? AND state = 'failed' AND stage <= ? LIMIT 1",
    [batchId, stage],
  );
  if (!failed.length) {
    await within.change("UPDATE job SET state = 'queued' WHERE batch_id = ? AND state = 'waiting' AND stage = ?", [
      batchId,
      next.stage,
    ]);
    return;
  }
  const ended = await within.change("UPDATE job SET state = 'cancelled' WHERE batch_id = ? AND state = 'waiting'", [
    batchId,
  ]);
  await count(within, batchId, { done: ended, failed: 0 }, '');
}

/** The state of a run whose steps are all over. */
async function settle(within: Queryable, batchId: string): Promise<void> {
  await within.change(
    `UPDATE batch b SET b.state = CASE WHEN b.failed > 0 THEN 'failed'
       WHEN EXISTS (SELECT 1 FROM job j WHERE j.batch_id = b.id AND j.state = 'cancelled') THEN 'cancelled' ELSE 'done' END
     WHERE b.id = ? AND b.done >= b.total`,
    [batchId],
  );
}
