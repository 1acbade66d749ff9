import { readInterest } from './interest-table.js';
import { orderLines, runStanding, runTable, type InterestFields, type PrintRunFields } from './print-run.js';
import { nextBreak, priceOfRun, type PrintShopFields } from './print-shop.js';

const shop: Pick<PrintShopFields, 'breaks' | 'setUp'> = {
  breaks: [
    { from: 5, each: 1450 },
    { from: 12, each: 1150 },
    { from: 25, each: 980 },
  ],
  setUp: 1500,
};
const run: PrintRunFields = {
  name: 'Autumn print',
  requirementId: 'r',
  shopId: 's',
  position: 'Chest',
  currency: 'GBP',
  price: 1800,
  worthFrom: 20,
  sizes: ['S', 'M', 'L'],
  colours: [
    { name: 'Chalk', hex: '#F5F3EE' },
    { name: 'Harbour', hex: '#1F2B4D' },
  ],
  note: '',
};
const wants = (size: string, colour: string, copies: number, deposit = 0): InterestFields => ({
  name: 'Ada',
  contact: '',
  size,
  colour,
  copies,
  deposit,
});

describe('prices of a print shop', () => {
  it('are those of the last break that is reached, with what it costs to set up', () => {
    expect(priceOfRun(shop, 4)).toBeNull();
    expect(priceOfRun(shop, 5)).toEqual({ each: 1450, setUp: 1500, total: 8750 });
    expect(priceOfRun(shop, 11)!.each).toBe(1450);
    expect(priceOfRun(shop, 12)!.total).toBe(12 * 1150 + 1500);
    expect(priceOfRun(shop, 900)!.each).toBe(980);
  });

  it('say how many are missing until the next break', () => {
    expect(nextBreak(shop, 0)).toEqual({ from: 5, each: 1450, missing: 5 });
    expect(nextBreak(shop, 12)).toEqual({ from: 25, each: 980, missing: 13 });
    expect(nextBreak(shop, 25)).toBeNull();
  });
});

describe('orders in hand', () => {
  it('are counted by size and colour, without what the print does not offer any more', () => {
    const table = runTable(run, [
      wants('S', 'Chalk', 2),
      wants('L', 'Harbour', 1),
      wants('S', 'Chalk', 3),
      wants('XL', 'Chalk', 9),
    ]);
    expect(table.rows.map(({ copies, total }) => [copies, total])).toEqual([
      [[5, 0, 0], 5],
      [[0, 0, 1], 1],
    ]);
    expect([table.totals, table.total]).toEqual([[5, 0, 1], 6]);
  });

  it('say what is missing, what they cost and what stays', () => {
    const standing = runStanding(run, shop, [wants('S', 'Chalk', 10, 500), wants('M', 'Harbour', 3)]);
    expect(standing).toEqual({
      copies: 13,
      missing: 7,
      price: { each: 1150, setUp: 1500, total: 16450 },
      next: { from: 25, each: 980, missing: 12 },
      income: 13 * 1800,
      earns: 13 * 1800 - 16450,
      deposits: 500,
      evenFrom: 5,
    });
    // Nobody yet: nothing costs anything.
    expect(runStanding(run, shop, [])).toEqual(
      jasmine.objectContaining({ copies: 0, price: null, earns: null, missing: 20 }),
    );
  });

  it('find from how many on nobody pays, over the breaks', () => {
    const even = (price: number) => runStanding({ ...run, price }, shop, []).evenFrom;
    // 1450 each: at 1500, 30 would be needed, but from 12 on one costs 1150.
    expect(even(1500)).toBe(12);
    // 1150 each and 1500 once: at 1200 it takes 30, which the next break has; there 25 are enough.
    expect(even(1200)).toBe(25);
    expect(even(980)).toBeNull();
    expect(even(990)).toBe(150);
  });

  it('make an order sheet of what is wanted alone', () => {
    expect(orderLines(run, [wants('M', 'Harbour', 2), wants('M', 'Harbour', 1), wants('S', 'Chalk', 1)])).toEqual([
      { size: 'S', colour: run.colours[0], copies: 1 },
      { size: 'M', colour: run.colours[1], copies: 3 },
    ]);
  });
});

describe('a table of people', () => {
  const read = (...rows: string[][]) => readInterest(run, rows);

  it('is read by the names of its columns, in any order and case', () => {
    const { interests, wrong } = read(
      ['Colour', 'SIZE', 'Name', 'how many', 'Deposit', 'E-mail'],
      ['harbour', 'm', ' Ada Fell ', '2', '5.00', 'ada@example.org'],
      ['', '', '', '', '', ''],
      ['Chalk', 'S', 'Ben', '', '', ''],
    );
    expect(wrong).toEqual([]);
    expect(interests).toEqual([
      { name: 'Ada Fell', contact: 'ada@example.org', size: 'M', colour: 'Harbour', copies: 2, deposit: 500 },
      { name: 'Ben', contact: '', size: 'S', colour: 'Chalk', copies: 1, deposit: 0 },
    ]);
  });

  it('says of each row what is wrong with it, and takes the others', () => {
    const { interests, wrong } = read(
      ['name', 'size', 'colour', 'copies', 'deposit'],
      ['', 'S', 'Chalk', '1', ''],
      ['Ada', 'XXL', 'Chalk', '1', ''],
      ['Ada', 'S', 'Pink', '1', ''],
      ['Ada', 'S', 'Chalk', '1.5', ''],
      ['Ada', 'S', 'Chalk', '501', ''],
      ['Ada', 'S', 'Chalk', '1', 'lots'],
      ['Ada', 'S', 'Chalk', '500', ''],
    );
    expect(interests.length).toBe(1);
    expect(wrong.map((one) => one.slice(0, 6))).toEqual(['Row 2:', 'Row 3:', 'Row 4:', 'Row 5:', 'Row 6:', 'Row 7:']);
    expect(wrong[1]).toContain('“XXL” is not one of the sizes S, M, L');
  });

  it('needs a first row that names the columns', () => {
    expect(read(['Ada', 'S', 'Chalk']).wrong[0]).toContain('first row');
    expect(read().wrong.length).toBe(1);
    // What there is only one of need not be said.
    expect(readInterest({ ...run, sizes: ['One'], colours: [run.colours[0]] }, [['name'], ['Ada']]).interests).toEqual([
      wants('One', 'Chalk', 1),
    ]);
  });
});
