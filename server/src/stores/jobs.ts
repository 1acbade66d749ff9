import type { Job, JobState } from '@kettle/contract';
import { cutText } from '@kettle/core';
import { parseJson, type Database } from '../database/database.js';
import { newId } from './ids.js';

/** A step a worker has claimed. */
export interface ClaimedJob { readonly id: number; readonly batchId: string; readonly kind: string; readonly payload: unknown; readonly attempts: number }

interface StepRow { batch_id: string; batch_kind: Job['kind']; design_id: string; revision: number; state: JobState; message: string; result_id: string | null }

/** A claim is lost after this long without a heartbeat, so that another worker can take the step over. */
export const LEASE_SECONDS = 10;

/** A step that has killed its worker this often is given up. */
export const MOST_ATTEMPTS = 3;

const STEPS = 'SELECT j.batch_id, b.kind AS batch_kind, b.design_id, b.revision, j.state, j.message, j.result_id FROM job j JOIN batch b ON b.id = j.batch_id';

/** The queue. A batch is one run; its steps are claimed one by one by any number of workers. */
export class JobStore {
  constructor(private readonly database: Database) {}

  async addBatch(kind: Job['kind'], { id: designId, revision }: { readonly id: string; readonly revision: number }, steps: readonly { kind: string; payload: object }[]): Promise<Job> {
    const id = newId();
    await this.database.transaction(async (within) => {
      await within.change('INSERT INTO batch (id, kind, design_id, revision) VALUES (?, ?, ?, ?)', [id, kind, designId, revision]);
      for (const step of steps) await within.change('INSERT INTO job (batch_id, kind, payload) VALUES (?, ?, ?)', [id, step.kind, JSON.stringify(step.payload)]);
    });
    return (await this.get(id))!;
  }

  /** How many steps are in each state. */
  async counts(): Promise<{ state: JobState; count: number }[]> {
    return (await this.database.rows<{ state: JobState; count: number }>('SELECT state, COUNT(*) AS count FROM job GROUP BY state')).map(({ state, count }) => ({ state, count: Number(count) }));
  }

  async get(batchId: string): Promise<Job | null> {
    return toJobs(await this.database.rows<StepRow>(`${STEPS} WHERE j.batch_id = ? ORDER BY j.id`, [batchId]))[0] ?? null;
  }

  /** Batches with a step that is open or changed in the last seconds. */
  async lively(seconds: number): Promise<Job[]> {
    return toJobs(await this.database.rows<StepRow>(
      `${STEPS} WHERE j.batch_id IN (SELECT batch_id FROM job WHERE state IN ('queued', 'running') OR changed_at > DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL ? SECOND)) ORDER BY j.id`, [seconds],
    ));
  }

  /** Claims the oldest open step: a queued one, or one whose worker has gone silent. */
  async claim(worker: string): Promise<ClaimedJob | null> {
    return this.database.transaction(async (within) => {
      const [row] = await within.rows<{ id: number; batch_id: string; kind: string; payload: unknown; attempts: number }>(
        `SELECT id, batch_id, kind, payload, attempts FROM job
         WHERE state = 'queued' OR (state = 'running' AND lease_until < CURRENT_TIMESTAMP(3)) ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED`,
      );
      if (!row) return null;
      await within.change(
        `UPDATE job SET state = 'running', worker = ?, attempts = attempts + 1, lease_until = DATE_ADD(CURRENT_TIMESTAMP(3), INTERVAL ${LEASE_SECONDS} SECOND) WHERE id = ?`, [worker, row.id],
      );
      return { id: Number(row.id), batchId: row.batch_id, kind: row.kind, payload: parseJson(row.payload), attempts: row.attempts + 1 };
    });
  }

  /** Keeps a claim alive. False when the step was cancelled or taken over: the worker must stop. */
  async heartbeat(id: number, worker: string): Promise<boolean> {
    return await this.database.change(
      `UPDATE job SET lease_until = DATE_ADD(CURRENT_TIMESTAMP(3), INTERVAL ${LEASE_SECONDS} SECOND) WHERE id = ? AND worker = ? AND state = 'running'`, [id, worker],
    ) > 0;
  }

  async finish(id: number, worker: string, resultId: string): Promise<void> {
    await this.database.change("UPDATE job SET state = 'done', result_id = ?, lease_until = NULL WHERE id = ? AND worker = ? AND state = 'running'", [resultId, id, worker]);
  }

  async fail(id: number, worker: string, sentence: string): Promise<void> {
    await this.database.change("UPDATE job SET state = 'failed', message = ?, lease_until = NULL WHERE id = ? AND worker = ? AND state = 'running'", [cutText(sentence, 500), id, worker]);
  }

  /** Puts a claimed step back: another try, soon. @param counted false when it was not the step's fault, so that it is not a try */
  async giveBack(id: number, worker: string, counted: boolean): Promise<void> {
    await this.database.change(`UPDATE job SET state = 'queued', worker = NULL, lease_until = NULL${counted ? '' : ', attempts = GREATEST(attempts, 1) - 1'} WHERE id = ? AND worker = ? AND state = 'running'`, [id, worker]);
  }

  async cancel(batchId: string): Promise<void> {
    await this.database.change("UPDATE job SET state = 'cancelled', lease_until = NULL WHERE batch_id = ? AND state IN ('queued', 'running')", [batchId]);
  }
}

function toJobs(rows: readonly StepRow[]): Job[] {
  const batches = new Map<string, StepRow[]>();
  for (const row of rows) batches.set(row.batch_id, [...(batches.get(row.batch_id) ?? []), row]);
  return [...batches].map(([id, steps]) => {
    const states = new Set(steps.map((step) => step.state));
    const state: JobState = states.has('running') ? 'running' : states.has('queued') ? (states.has('done') ? 'running' : 'queued')
      : states.has('failed') ? 'failed' : states.has('cancelled') ? 'cancelled' : 'done';
    const kind = steps[0].batch_kind;
    return {
      id, kind, designId: steps[0].design_id, revision: steps[0].revision, state, total: steps.length,
      done: steps.filter((step) => step.state !== 'queued' && step.state !== 'running').length,
      message: [...new Set(steps.map((step) => step.message).filter(Boolean))].join(' '),
      results: steps.flatMap((step) => (step.result_id ? [{ kind: kind === 'print-files' ? 'print-file' as const : 'picture' as const, id: step.result_id }] : [])),
    };
  });
}
