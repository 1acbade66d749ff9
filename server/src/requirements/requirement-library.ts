import { setImmediate as others } from 'node:timers/promises';
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
import type { Requirement, RequirementFields } from '@kettle/core/model';
import type { Caller } from '../floor/basics/caller.js';
import { readRows } from '../documents/part-table.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { RequirementStore } from './requirement-store.js';
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
    const { requirements, faults: found } = await readLibrary(text);
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

/** Rows that are judged before others are answered. */
const PIECE = 200;

/** @throws ProblemError 422 for what is neither JSON of requirements nor a table */
async function readLibrary(text: string): Promise<Read> {
  const plain = text.replace(/^\uFEFF/, '');
  if (/^\s*[{[]/.test(plain)) return readJson(plain);
  const rows = await readRows(plain, { delimiter: delimiterOf(plain), most: MOST_IMPORTED + 1, skipsEmpty: false });
  if (rows.length > MOST_IMPORTED + 1) throw tooMany();
  if (rows.length < 2)
    throw new ProblemError(422, 'empty-table', 'This table has no rows below its heading. Nothing was taken in.');
  const heading = readTable(rows.slice(0, 1));
  if (heading.faults.length) return heading;
  return inPieces(rows.slice(1), (piece, from) => readTable([rows[0], ...piece], from + 2));
}

/** Reads rows a piece at a time: however many there are, others are answered in between. */
async function inPieces<T>(rows: readonly T[], read: (piece: readonly T[], from: number) => Read): Promise<Read> {
  const all: Read[] = [];
  for (let from = 0; from < rows.length; from += PIECE) {
    all.push(read(rows.slice(from, from + PIECE), from));
    await others();
  }
  return { requirements: all.flatMap((one) => one.requirements), faults: all.flatMap((one) => one.faults) };
}

const tooMany = (): ProblemError =>
  new ProblemError(
    422,
    'too-many-rows',
    `This file has more than ${MOST_IMPORTED} requirements, which is the most that is taken in at once. Split it.`,
  );

async function readJson(text: string): Promise<Read> {
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
  if (list.length > MOST_IMPORTED) throw tooMany();
  return inPieces(list as unknown[], (piece, from) => {
    const faults: TableFault[] = [];
    const requirements: { row: number; fields: RequirementFields }[] = [];
    piece.forEach((one, i) => {
      const row = from + i + 1;
      const { id: _id, revision: _revision, ...fields } = (typeof one === 'object' && one ? one : {}) as Requirement;
      const wrong = refuse(requirementSchema, fields);
      if (wrong) for (const [column, sentence] of Object.entries(wrong)) faults.push({ row, column, sentence });
      else requirements.push({ row, fields });
    });
    return { requirements, faults };
  });
}

/** The separator of a table: of the usual ones the one that its heading has most of. */
function delimiterOf(text: string): string {
  const head = text.slice(0, Math.min(MOST_HEADING, text.search(/\r?\n|\r|$/)));
  const count = (separator: string): number => head.split(separator).length;
  return [',', ';', '\t', '|'].reduce((best, one) => (count(one) > count(best) ? one : best));
}
/** Letters of a heading that are looked at. */
const MOST_HEADING = 20_000;
