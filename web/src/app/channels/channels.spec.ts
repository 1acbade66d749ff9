import { breakLines, costLines, readBreaks, readCosts, wordsOf } from './lines';

describe('short lists as they are typed', () => {
  it('are words between commas or lines, each once', () => {
    expect(wordsOf(' S, M,\nL ,, S\n')).toEqual(['S', 'M', 'L']);
    expect(wordsOf('')).toEqual([]);
  });

  it('are costs and price breaks that come back as they went', () => {
    const costs = [
      { product: 'T-shirt', cost: 950 },
      { product: 'Mug = large', cost: 5 },
    ];
    expect(readCosts(costLines(costs, 'GBP'), 'GBP')).toEqual({ read: costs });
    const breaks = [
      { from: 1, each: 1450 },
      { from: 12, each: 1150 },
    ];
    expect(readBreaks(breakLines(breaks, 'GBP'), 'GBP')).toEqual({ read: breaks });
    expect(readBreaks('12 = 1150', 'JPY')).toEqual({ read: [{ from: 12, each: 1150 }] });
  });

  it('say which line cannot be read', () => {
    for (const [text, wrong] of [
      ['T-shirt', '“T-shirt”'],
      ['T-shirt = 9.505', '9.505'],
      ['= 9.50', '“= 9.50”'],
    ])
      expect(readCosts(text, 'GBP')).toEqual({ wrong: jasmine.stringContaining(wrong) });
    expect(readBreaks('a dozen = 11.50', 'GBP')).toEqual({ wrong: jasmine.stringContaining('a dozen') });
    expect(readBreaks('0 = 11.50', 'GBP')).toEqual({ wrong: jasmine.stringContaining('0 = 11.50') });
  });
});
