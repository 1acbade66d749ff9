import { readRows } from './part-table.js';

const AS = { delimiter: ',', most: 5000, skipsEmpty: false };

describe('a table of text', () => {
  it('is read as it is written, whatever its marks and ends of lines', async () => {
    expect(await readRows('\uFEFFname,words\r\n"Ada, M.","says ""no"""\r\n\r\nBo,', AS)).toEqual([
      ['name', 'words'],
      ['Ada, M.', 'says "no"'],
      [''],
      ['Bo', ''],
    ]);
    expect((await readRows('a;b\n\nc;d', { ...AS, delimiter: [',', ';'], skipsEmpty: true })).length).toBe(2);
  });

  it('is read across the pieces it comes in', async () => {
    const rows = Array.from({ length: 4000 }, (_, i) => [`Name ${i}`, `“quoted, ${i}”\nand more`]);
    const text = rows.map((row) => row.map((cell) => `"${cell}"`).join(',')).join('\n');
    expect(text.length).toBeGreaterThan(100_000);
    expect(await readRows(text, AS)).toEqual(rows);
  });

  it('is read no further than it may be, and leaves others their turn', async () => {
    for (const [name, text, rows] of [
      ['blank rows', '\n'.repeat(5e6), 5001],
      ['short rows', 'a\n'.repeat(1.8e6), 5001],
      // A row of commas alone holds no letters: it is one row of many empty cells.
      ['commas', ','.repeat(2e6), 1],
      ['spaces', ' '.repeat(5e6), null],
      ['an open mark', `"${'a,\n'.repeat(1e6)}`, null],
    ] as const) {
      let turns = 0;
      let reads = true;
      const others = (): void => {
        turns++;
        if (reads) setImmediate(others);
      };
      setImmediate(others);
      const read = readRows(text, AS);
      if (rows === null)
        await expectAsync(read)
          .withContext(name)
          .toBeRejectedWithError(/Row 1 .* is longer than any row can be/);
      else
        expect((await read).length)
          .withContext(name)
          .toBe(rows);
      reads = false;
      // Those that are refused or full after a piece need no more turns than that.
      if (name === 'commas') expect(turns).toBeGreaterThan(20);
    }
  });

  it('is refused with the row when a quotation mark is open', async () => {
    await expectAsync(readRows('a,b\nc,"d', AS)).toBeRejectedWithError(/cannot be read around row 2: a quotation mark/);
  });
});
