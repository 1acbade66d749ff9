import { parse } from 'csv-parse/sync';
import { stringify } from 'csv-stringify/sync';
import {
  MOST_IMPORTED,
  readTable,
  refuse,
  requirementCells,
  requirementKey,
  requirementSchema,
  TABLE_COLUMNS,
  tableChanges,
  type ImportPlan,
  type TableFault,
} from '@kettle/contract';
import type { Requirement, RequirementFields } from '@kettle/core';
import type { Caller } from '../caller.js';
import { ProblemError } from '../safety/problem-error.js';
import type { RequirementStore } from '../stores/requirements.js';
import type { ProfileService } from './profiles.js';

interface Read {
  readonly requirements: readonly { readonly row: number; readonly fields: RequirementFields }[];
  readonly faults: readonly TableFault[];
}

/** Requirements on their way in and out: as a table for spreadsheets, as JSON for programs. */
export class RequirementLibrary {
  constructor(
    private readonly store: RequirementStore,
    private readonly profiles: ProfileService,
  ) {}

  /** The library, or a channel of it, as a file. */
  async export(who: Caller, as: 'csv' | 'json', channel: string | null): Promise<{ name: string; text: string }> {
    const all = (await this.store.list(who.owner)).filter((one) => channel === null || one.channel === channel);
    const fields = all.map(({ id: _id, revision: _revision, ...rest }) => rest);
    if (as === 'json')
      return { name: 'requirements.json', text: `${JSON.stringify({ requirements: fields }, null, 2)}\n` };
    const text = stringify([TABLE_COLUMNS, ...fields.map(requirementCells)] as string[][], {
      bom: true,
      escape_formulas: true,
      record_delimiter: '\r\n',
    });
    return { name: 'requirements.csv', text };
  }

  /**
   * What a file would change; with `apply`, it does so, wholly or not at all.
   * @throws ProblemError 422 when it is to be taken in and something in it is wrong
   */
  async import(who: Caller, text: string, apply: boolean): Promise<ImportPlan> {
    const { requirements, faults: found } = readLibrary(text);
    const known = new Map<string, Requirement[]>();
    for (const one of await this.store.list(who.owner))
      known.set(requirementKey(one), [...(known.get(requirementKey(one)) ?? []), one]);
    // Several in the library may be called the same: they are met in their order, and no more of them are made.
    const rowsOf = new Map<string, number[]>();
    const twins: TableFault[] = [];
    for (const { row, fields } of requirements) {
      const key = requirementKey(fields);
      const rows = [...(rowsOf.get(key) ?? []), row];
      rowsOf.set(key, rows);
      if (rows.length > Math.max(1, known.get(key)?.length ?? 0))
        twins.push({
          row,
          column: 'name',
          sentence: `Row ${rows[0]} is called the same: ${fields.channel}, ${fields.name}.`,
        });
    }
    const faults = [...found, ...twins, ...(await this.unknownProfiles(who, requirements))].sort(
      (a, b) => a.row - b.row,
    );
    const plan = requirements.map(({ row, fields }) => {
      const key = requirementKey(fields);
      const before = known.get(key)?.[rowsOf.get(key)!.indexOf(row)];
      const changes = before ? tableChanges(before, fields) : [];
      const state = before ? (changes.length ? 'changed' : 'same') : 'new';
      return {
        row,
        fields,
        before,
        shown: { row, channel: fields.channel, name: fields.name, state, changes } as const,
      };
    });
    if (apply) {
      if (faults.length)
        throw new ProblemError(
          422,
          'table-faults',
          `Nothing was taken in: row ${faults[0].row}, ${faults[0].column}: ${faults[0].sentence}`,
        );
      await this.store.takeIn(
        who.owner,
        plan.flatMap(({ fields, before, shown }) =>
          shown.state === 'same' ? [] : [{ fields: merged(before, fields), id: before?.id ?? null }],
        ),
      );
    }
    return { rows: plan.map(({ shown }) => shown), faults };
  }

  private async unknownProfiles(who: Caller, requirements: Read['requirements']): Promise<TableFault[]> {
    const here = new Set((await this.profiles.list(who)).map(({ id }) => id));
    return requirements.flatMap(({ row, fields }) => {
      const profile = fields.conversion?.profile;
      return profile && !here.has(profile)
        ? [
            {
              row,
              column: 'profile',
              sentence: 'This colour profile is not here. Bring it in first, or leave the cell empty.',
            },
          ]
        : [];
    });
  }
}

/** A table says less of the placement than a requirement may hold: what it does not say stays. */
const merged = (before: Requirement | undefined, fields: RequirementFields): RequirementFields =>
  before
    ? {
        ...fields,
        // A table says nothing of the shape of cloth.
        ...(before.panel && !fields.panel ? { panel: before.panel } : {}),
        placement: { ...before.placement, ...fields.placement },
      }
    : fields;

/** @throws ProblemError 422 for what is neither JSON of requirements nor a table */
function readLibrary(text: string): Read {
  const plain = text.replace(/^\uFEFF/, '');
  if (/^\s*[{[]/.test(plain)) return readJson(plain);
  const rows = readCsv(plain);
  if (rows.length - 1 > MOST_IMPORTED) throw tooMany(rows.length - 1);
  if (rows.length < 2)
    throw new ProblemError(422, 'empty-table', 'This table has no rows below its heading. Nothing was taken in.');
  return readTable(rows);
}

const tooMany = (count: number): ProblemError =>
  new ProblemError(
    422,
    'too-many-rows',
    `This file has ${count} requirements; at most ${MOST_IMPORTED} are taken in at once. Split it.`,
  );

function readJson(text: string): Read {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new ProblemError(
      422,
      'not-json',
      'This file begins as JSON and cannot be read as such. Nothing was taken in.',
    );
  }
  const list = Array.isArray(value) ? value : (value as { requirements?: unknown }).requirements;
  if (!Array.isArray(list))
    throw new ProblemError(
      422,
      'no-requirements',
      'This JSON holds no list called “requirements”. Nothing was taken in.',
    );
  if (list.length > MOST_IMPORTED) throw tooMany(list.length);
  const faults: TableFault[] = [];
  const requirements: { row: number; fields: RequirementFields }[] = [];
  list.forEach((one: unknown, i) => {
    const { id: _id, revision: _revision, ...fields } = (typeof one === 'object' && one ? one : {}) as Requirement;
    const wrong = refuse(requirementSchema, fields);
    if (wrong) for (const [column, sentence] of Object.entries(wrong)) faults.push({ row: i + 1, column, sentence });
    else requirements.push({ row: i + 1, fields });
  });
  return { requirements, faults };
}

/** Cells of a table, whichever of the usual separators it has. */
function readCsv(text: string): string[][] {
  const head = text.slice(0, text.search(/\r?\n|\r|$/));
  const count = (separator: string): number => head.split(separator).length;
  const delimiter = [',', ';', '\t', '|'].reduce((best, one) => (count(one) > count(best) ? one : best));
  try {
    return parse(text, { delimiter, relax_column_count: true, skip_empty_lines: false, trim: false });
  } catch (error) {
    const { lines } = error as { lines?: number };
    throw new ProblemError(
      422,
      'broken-table',
      `This table cannot be read${lines ? ` around row ${lines}` : ''}: a quotation mark is open or out of place. Nothing was taken in.`,
    );
  }
}
