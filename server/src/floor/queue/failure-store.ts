import { createHash } from 'node:crypto';
import type { Failure } from '@kettle/contract';
import type { Cloth } from '@kettle/core/model';
import { targetKey } from '@kettle/core/document';
import { parseJson, type Database, type Queryable } from '../database/database.js';
import { newId } from '../database/ids.js';

/** Members that steps of outputs have in common, as they are written in the queue. */
interface MadeStep {
  readonly designId: string;
  readonly revision: number;
  readonly filename: string;
  readonly requirementId?: string;
  readonly version?: Cloth;
  readonly clipId?: string;
  readonly unjudged?: boolean;
  readonly request?: { readonly blankId: string };
}

/** A failure with the step that is queued to try it again. */
export interface StoredFailure extends Failure {
  readonly step: MadeStep;
}

interface Row {
  id: string;
  kind: string;
  about: string;
  step: unknown;
  sentence: string;
  at: Date;
}

const COLUMNS = 'id, kind, about, step, sentence, at';

/** What could not be made of designs. */
export class FailureStore {
  constructor(private readonly database: Database) {}

  /** Newest first. */
  async of(designId: string): Promise<StoredFailure[]> {
    return (
      await this.database.rows<Row>(`SELECT ${COLUMNS} FROM failure WHERE design_id = ? ORDER BY at DESC, id`, [
        designId,
      ])
    ).map(({ id, kind, about, step: kept, sentence, at }) => {
      const step = parseJson<MadeStep>(kept);
      return { id, kind, about, filename: step.filename, sentence, at: at.toISOString(), step };
    });
  }

  /** @returns false when there was none */
  async dismiss(designId: string, id: string): Promise<boolean> {
    return (await this.database.change('DELETE FROM failure WHERE design_id = ? AND id = ?', [designId, id])) > 0;
  }
}

/** Keeps or ends the failure of a step's output: in the transaction that ends the step. Steps of no design keep none. */
export async function noteEnd(
  within: Queryable,
  kind: string,
  payload: unknown,
  end: { readonly failed: boolean; readonly sentence: string },
): Promise<void> {
  const step = parseJson<MadeStep>(payload);
  // Another version's step may say anything.
  if (typeof step?.designId !== 'string' || typeof step.filename !== 'string') return;
  const { revision: _revision, filename: _filename, unjudged: _unjudged, ...rest } = step;
  const about = step.requirementId
    ? targetKey(step.requirementId, step.version ?? null)
    : (step.request?.blankId ?? step.clipId ?? '');
  if (!/^[\w/-]{0,80}$/.test(about)) return;
  const asked = createHash('sha256').update(JSON.stringify(rest)).digest();
  await within.change('DELETE FROM failure WHERE design_id = ? AND kind = ? AND about = ? AND asked = ?', [
    step.designId,
    kind,
    about,
    asked,
  ]);
  // A design that is gone for good meanwhile keeps nothing.
  if (end.failed)
    await within.change(
      'INSERT INTO failure (id, design_id, kind, about, asked, step, sentence) SELECT ?, id, ?, ?, ?, ?, ? FROM design WHERE id = ?',
      [newId(), kind, about, asked, JSON.stringify(step), end.sentence, step.designId],
    );
}
