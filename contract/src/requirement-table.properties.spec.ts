import fc from 'fast-check';
import type { RequirementFields } from '@kettle/core/model';
import { refuseRequirement } from './requirement-schema.js';
import { readTable, requirementCells, TABLE_COLUMNS } from './requirement-table.js';

/** Words as people write them, also such as a spreadsheet would take for a formula. */
const words = (most: number) =>
  fc
    .oneof(
      fc.string({ minLength: 1, maxLength: most }),
      fc.string({ unit: 'grapheme', minLength: 1, maxLength: Math.floor(most / 8) }),
      fc.constantFrom('=1+1', '+44 20', '-5', '@home', "'quoted", 'a;b', 'a,b', '"x"', '  spaced  '),
    )
    .map((text) => text.trim())
    .filter((text) => !!text && !/[\p{Cc}\p{Cf}\p{Cs}]|^'[=+\-@]/u.test(text));
/** Cells as they are written to a file: an apostrophe keeps a spreadsheet from taking words for a formula. */
const cellsOf = (fields: RequirementFields): string[] =>
  requirementCells(fields).map((cell) => (/^[=+\-@]/.test(cell) ? `'${cell}` : cell));
const hex = fc.integer({ min: 0, max: 0xffffff }).map((value) => `#${value.toString(16).padStart(6, '0')}`);

const requirement: fc.Arbitrary<RequirementFields> = fc
  .record({
    channel: words(60),
    name: words(60),
    product: words(40),
    note: words(120),
    unit: fc.constantFrom('mm' as const, 'cm' as const, 'in' as const),
    width: fc.integer({ min: 20, max: 4000 }),
    height: fc.integer({ min: 20, max: 4000 }),
    dpi: fc.integer({ min: 30, max: 600 }),
    transparency: fc.constantFrom('required' as const, 'allowed' as const),
    sizeRule: fc.constantFrom('exact' as const, 'at-least' as const, 'at-most' as const),
    maxBytes: fc.option(fc.integer({ min: 1, max: 400 }).map((megabytes) => megabytes * 1_000_000)),
    colours: fc.uniqueArray(fc.record({ name: fc.stringMatching(/^[A-Z][a-z]{2,9}$/), hex }), {
      minLength: 1,
      maxLength: 8,
      selector: (one) => one.name,
    }),
  })
  .map(({ colours, width, height, unit, ...fields }) => {
    // Tenths of a millimetre in every unit: what people type.
    const by = { mm: 10, cm: 100, in: 100 }[unit];
    return {
      ...fields,
      unit,
      width: width / by,
      height: height / by,
      mode: 'rgb' as const,
      fileTypes: ['png' as const],
      safeInsetMm: 0,
      placement: { rule: 'same-size' as const, anchor: 'top' as const, scale: 1, offsetX: 0, offsetY: 0 },
      colourways: colours,
    };
  })
  .filter((fields) => refuseRequirement(fields) === null);

describe('a table of requirements', () => {
  it('is read as what was written, whatever things are called', () => {
    fc.assert(
      fc.property(fc.array(requirement, { minLength: 1, maxLength: 5 }), (all) => {
        const { requirements, faults } = readTable([TABLE_COLUMNS, ...all.map(cellsOf)]);
        expect(faults).toEqual([]);
        expect(requirements.map(({ fields }) => fields)).toEqual(all);
      }),
      { numRuns: 60 },
    );
  });

  it('is read alike with its columns in any order', () => {
    fc.assert(
      fc.property(
        requirement,
        fc.shuffledSubarray([...TABLE_COLUMNS.keys()], { minLength: TABLE_COLUMNS.length }),
        (one, order) => {
          const cells = cellsOf(one);
          const { requirements } = readTable([order.map((at) => TABLE_COLUMNS[at]), order.map((at) => cells[at])]);
          expect(requirements.map(({ fields }) => fields)).toEqual([one]);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('that is nonsense is told by row and column, and never thrown', () => {
    fc.assert(
      fc.property(fc.array(fc.array(fc.string({ unit: 'grapheme' }), { maxLength: 20 }), { maxLength: 6 }), (rows) => {
        const { requirements, faults } = readTable([TABLE_COLUMNS, ...rows]);
        const filled = rows.filter((row) => row.some((cell) => cell.trim()));
        expect(requirements.length + new Set(faults.map(({ row }) => row)).size).toBe(filled.length);
        for (const { sentence } of faults) expect(sentence.length).toBeGreaterThan(8);
      }),
      { numRuns: 60 },
    );
  });
});
