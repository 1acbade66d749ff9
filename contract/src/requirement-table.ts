import { LENGTH_UNITS, readNumber, refuseNumber } from '@kettle/core/units';
import {
  ANCHORS,
  COLOUR_MODES,
  FILE_TYPES,
  INTENTS,
  NO_LIMITS,
  PLACEMENT_RULES,
  PRINT_PROCESSES,
  SIZE_RULES,
  TIFF_PACKINGS,
  TRANSPARENCIES,
  USUAL_CONVERSION,
  type Colourway,
  type FileType,
  type Intent,
  type PressLimits,
  type PrintProcess,
  type RequirementFields,
  type TiffPacking,
} from '@kettle/core/model';
import { refuseRequirement } from './requirement-schema.js';

/** Most requirements that are taken in at once. */
export const MOST_IMPORTED = 5000;

/** Something in a table that cannot be taken in. Rows count as a spreadsheet counts them, the heading being row 1. */
export interface TableFault {
  readonly row: number;
  readonly column: string;
  readonly sentence: string;
}

/** What taking in a table would do. */
export interface ImportPlan {
  readonly rows: readonly {
    readonly row: number;
    readonly channel: string;
    readonly name: string;
    readonly state: 'new' | 'changed' | 'same';
    /** What would be otherwise, in words. */
    readonly changes: readonly { readonly column: string; readonly from: string; readonly to: string }[];
  }[];
  readonly faults: readonly TableFault[];
}

class CellFault extends Error {}

interface Column {
  readonly title: string;
  /** Fields that a complaint about it may be filed under. */
  readonly field: string;
  readonly needed?: boolean;
  write(fields: RequirementFields): string;
  /** @throws CellFault */
  read(cell: string, fields: Draft): void;
}

/** A row while it is read. */
type Draft = { -readonly [K in keyof RequirementFields]?: RequirementFields[K] };

const number = (cell: string, title: string): number => {
  const read = readNumber(cell);
  if (read.kind === 'none') throw new CellFault(`“${cell}” is not a number: ${title} needs one.`);
  if (read.kind === 'either') throw new CellFault(refuseNumber(cell, title)!);
  return read.value;
};
const oneOf = <T extends string>(cell: string, values: readonly T[], title: string): T => {
  const found = values.find((value) => value === cell.toLowerCase());
  if (!found) throw new CellFault(`“${cell}” is not among the choices of ${title}: ${values.join(', ')}.`);
  return found;
};
const yes = (cell: string, title: string): boolean => oneOf(cell, ['yes', 'no'] as const, title) === 'yes';

const text = (title: string, field: 'channel' | 'name' | 'product' | 'note', needed = false): Column => ({
  title,
  field,
  needed,
  write: (fields) => fields[field],
  read: (cell, fields) => {
    fields[field] = cell;
  },
});
const measure = (title: string, field: 'width' | 'height' | 'dpi' | 'safeInsetMm', needed = false): Column => ({
  title,
  field,
  needed,
  write: (fields) => String(fields[field]),
  read: (cell, fields) => {
    fields[field] = number(cell, title);
  },
});
const choice = <K extends 'unit' | 'mode' | 'transparency' | 'sizeRule'>(
  title: string,
  field: K,
  values: readonly (RequirementFields[K] & string)[],
  needed = false,
): Column => ({
  title,
  field,
  needed,
  write: (fields) => fields[field] as string,
  read: (cell, fields) => {
    (fields as Record<string, unknown>)[field] = oneOf(cell, values, title);
  },
});
const limit = (title: string, key: keyof PressLimits): Column => ({
  title,
  field: 'limits',
  write: ({ limits }) => (limits?.[key] === undefined ? '' : limits[key] === null ? 'none' : String(limits[key])),
  read: (cell, fields) => {
    const value = cell.toLowerCase() === 'none' ? null : number(cell, title);
    fields.limits = { ...fields.limits, [key]: value };
  },
});

const COLOURWAY = /^(.*?)\s*(#[0-9a-fA-F]{6})$/;

/** Columns of a table of requirements, in their order. An empty cell leaves what is usual. */
const COLUMNS: readonly Column[] = [
  text('channel', 'channel', true),
  text('name', 'name', true),
  text('product', 'product'),
  measure('width', 'width', true),
  measure('height', 'height', true),
  choice('unit', 'unit', LENGTH_UNITS, true),
  measure('dpi', 'dpi', true),
  choice('colour mode', 'mode', COLOUR_MODES),
  choice('transparency', 'transparency', TRANSPARENCIES),
  {
    title: 'file types',
    field: 'fileTypes',
    write: ({ fileTypes }) => fileTypes.join(' '),
    read: (cell, fields) => {
      fields.fileTypes = cell.split(/[\s;,]+/).map((one): FileType => oneOf(one, FILE_TYPES, 'file types'));
    },
  },
  {
    title: 'preferred type',
    field: 'preferred',
    write: ({ preferred }) => preferred ?? '',
    read: (cell, fields) => {
      fields.preferred = oneOf<FileType>(cell, FILE_TYPES, 'preferred type');
    },
  },
  {
    title: 'tiff packing',
    field: 'packing',
    write: ({ packing }) => packing ?? '',
    read: (cell, fields) => {
      fields.packing = oneOf<TiffPacking>(cell, TIFF_PACKINGS, 'tiff packing');
    },
  },
  {
    title: 'ground',
    field: 'ground',
    write: ({ ground }) => ground ?? '',
    read: (cell, fields) => {
      fields.ground = cell;
    },
  },
  {
    title: 'largest file mb',
    field: 'maxBytes',
    write: ({ maxBytes }) => (maxBytes === null ? '' : String(maxBytes / 1e6)),
    read: (cell, fields) => {
      fields.maxBytes = Math.round(number(cell, 'largest file mb') * 1e6);
    },
  },
  choice('size rule', 'sizeRule', SIZE_RULES),
  measure('safe inset mm', 'safeInsetMm'),
  {
    title: 'bleed mm',
    field: 'bleedMm',
    write: ({ bleedMm }) => (bleedMm === undefined ? '' : String(bleedMm)),
    read: (cell, fields) => {
      fields.bleedMm = number(cell, 'bleed mm');
    },
  },
  {
    title: 'placement',
    field: 'placement.rule',
    write: ({ placement }) => placement.rule,
    read: (cell, fields) => {
      fields.placement = { ...fields.placement!, rule: oneOf(cell, PLACEMENT_RULES, 'placement') };
    },
  },
  {
    title: 'held to',
    field: 'placement.anchor',
    write: ({ placement }) => placement.anchor,
    read: (cell, fields) => {
      fields.placement = { ...fields.placement!, anchor: oneOf(cell, ANCHORS, 'held to') };
    },
  },
  {
    title: 'process',
    field: 'process',
    write: ({ process }) => process ?? '',
    read: (cell, fields) => {
      fields.process = oneOf<PrintProcess>(cell, PRINT_PROCESSES, 'process');
    },
  },
  {
    title: 'mirrored',
    field: 'mirrored',
    write: ({ mirrored }) => (mirrored === undefined ? '' : mirrored ? 'yes' : 'no'),
    read: (cell, fields) => {
      fields.mirrored = yes(cell, 'mirrored');
    },
  },
  limit('thinnest line mm', 'lineMm'),
  limit('smallest letters mm', 'letterMm'),
  limit('smallest dot mm', 'speckMm'),
  limit('widest fade mm', 'fadeMm'),
  limit('most ink %', 'coverage'),
  {
    title: 'intent',
    field: 'conversion',
    write: ({ conversion }) => conversion?.intent ?? '',
    read: (cell, fields) => {
      fields.conversion = {
        ...(fields.conversion ?? USUAL_CONVERSION),
        intent: oneOf<Intent>(cell, INTENTS, 'intent'),
      };
    },
  },
  {
    title: 'black point',
    field: 'conversion',
    write: ({ conversion }) => (conversion === undefined ? '' : conversion.blackPoint ? 'yes' : 'no'),
    read: (cell, fields) => {
      fields.conversion = { ...(fields.conversion ?? USUAL_CONVERSION), blackPoint: yes(cell, 'black point') };
    },
  },
  {
    title: 'profile',
    field: 'conversion',
    write: ({ conversion }) => conversion?.profile ?? '',
    read: (cell, fields) => {
      fields.conversion = { ...(fields.conversion ?? USUAL_CONVERSION), profile: cell };
    },
  },
  {
    title: 'colours',
    field: 'colourways',
    write: ({ colourways }) => colourways.map(({ name, hex }) => `${name} ${hex}`).join('; '),
    read: (cell, fields) => {
      fields.colourways = cell
        .split(';')
        .filter((one) => one.trim())
        .map((one): Colourway => {
          const found = COLOURWAY.exec(one.trim());
          if (!found)
            throw new CellFault(`“${one.trim()}” is not a colour: write a name and a value, as in Navy #1f2b4d.`);
          return { name: found[1] || found[2], hex: found[2] };
        });
    },
  },
  text('note', 'note'),
];

/** Titles of the table's columns. */
export const TABLE_COLUMNS: readonly string[] = COLUMNS.map(({ title }) => title);

/** A requirement as cells under {@link TABLE_COLUMNS}. */
export const requirementCells = (fields: RequirementFields): string[] => COLUMNS.map((column) => column.write(fields));

const usual = (): Draft => ({
  product: '',
  mode: 'rgb',
  transparency: 'required',
  fileTypes: ['png'],
  maxBytes: null,
  sizeRule: 'exact',
  safeInsetMm: 0,
  placement: { rule: 'same-size', anchor: 'top', scale: 1, offsetX: 0, offsetY: 0 },
  colourways: [{ name: 'White', hex: '#ffffff' }],
  note: '',
});

/**
 * Rows of a table as requirements, or what is wrong with it, row by row and column by column.
 * @param rows the heading, and rows below it
 * @param first number of the first row below the heading, when some were read before
 */
export function readTable(
  rows: readonly (readonly string[])[],
  first = 2,
): {
  readonly requirements: readonly { readonly row: number; readonly fields: RequirementFields }[];
  readonly faults: readonly TableFault[];
} {
  const faults: TableFault[] = [];
  const requirements: { row: number; fields: RequirementFields }[] = [];
  const head = (rows[0] ?? []).map((title) => title.trim().toLowerCase());
  const missing = COLUMNS.filter(({ title, needed }) => needed && !head.includes(title)).map(({ title }) => title);
  if (missing.length)
    return {
      requirements,
      faults: [
        {
          row: 1,
          column: missing[0],
          sentence: `The heading has no “${missing.join('”, “')}”. Export the library once to see all columns.`,
        },
      ],
    };
  rows.slice(1).forEach((cells, i) => {
    const row = i + first;
    if (cells.every((cell) => !cell.trim())) return;
    const fields = usual();
    const before = faults.length;
    for (const column of COLUMNS) {
      const at = head.indexOf(column.title);
      const cell = (at < 0 ? '' : (cells[at] ?? '')).trim();
      const fault = (sentence: string): void => void faults.push({ row, column: column.title, sentence });
      if (!cell) {
        if (column.needed) fault(`Row ${row} has no ${column.title}.`);
        continue;
      }
      if (/^=/.test(cell)) {
        fault(`“${cell.slice(0, 40)}” is a formula of a spreadsheet. Put its value there.`);
        continue;
      }
      try {
        // An apostrophe before such a sign is how a table keeps it from being a formula.
        column.read(cell.replace(/^'(?=[=+\-@])/, ''), fields);
      } catch (error) {
        if (!(error instanceof CellFault)) throw error;
        fault(error.message);
      }
    }
    if (faults.length > before) return;
    const complete = { ...fields, ...(fields.limits ? { limits: ownLimits(fields.limits) } : {}) } as RequirementFields;
    const wrong = refuseRequirement(complete);
    if (wrong) {
      for (const [field, sentence] of Object.entries(wrong))
        faults.push({ row, column: COLUMNS.find((one) => field.startsWith(one.field))?.title ?? field, sentence });
      return;
    }
    requirements.push({ row, fields: complete });
  });
  return { requirements, faults };
}

const ownLimits = (limits: Partial<PressLimits>): Partial<PressLimits> =>
  Object.fromEntries(
    Object.keys(NO_LIMITS).flatMap((key) => (key in limits ? [[key, limits[key as keyof PressLimits]]] : [])),
  );

/** By this two requirements are the same one: channel and name, whatever their capitals. */
export const requirementKey = ({ channel, name }: Pick<RequirementFields, 'channel' | 'name'>): string =>
  `${channel.trim().toLowerCase()}\n${name.trim().toLowerCase()}`;

/** What would be otherwise, column by column. */
export function tableChanges(from: RequirementFields, to: RequirementFields): ImportPlan['rows'][number]['changes'] {
  const [before, after] = [requirementCells(from), requirementCells(to)];
  return TABLE_COLUMNS.flatMap((column, i) =>
    before[i] === after[i] ? [] : [{ column, from: before[i], to: after[i] }],
  );
}
