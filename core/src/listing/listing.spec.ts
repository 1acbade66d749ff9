import type { Requirement } from '../model/requirement.js';
import { lettersOf, picturesBroken, textBroken, type ChannelRules, type ListingText } from './channel-rules.js';
import {
  filledText,
  begunFrom,
  emptyListing,
  fittingTags,
  offersBroken,
  offersOn,
  proposedTags,
  textOn,
} from './listing.js';
import { amountText, convert, moneyText, parseMoney, percentOf, timesDecimal, withRate } from './money.js';
import { earnedBy, leastPrice, priceBy } from './pricing.js';

const RULES: ChannelRules = {
  id: 'lark',
  revision: 1,
  shipped: true,
  channel: 'Larkpost Market',
  currency: 'GBP',
  title: { least: 10, most: 40 },
  description: { least: 20, most: 200 },
  tags: { least: 2, most: 4, letters: 12 },
  forbidden: ['best', 'free'],
  capitals: 0.4,
  pictures: { least: 2, most: 3, leastSide: 800, shapes: ['1:1', '4:5'], firstPlain: true },
  clip: 'allowed',
  fees: { percent: '6.5', fixed: 20 },
  costs: [{ product: 'T-shirt', cost: 895 }],
  by: 'one-call',
};
const TEXT: ListingText = {
  title: 'Mostly Drizzle shirt',
  description: 'For those who measure what falls, and like it.',
  tags: ['weather', 'rain'],
};

describe('money', () => {
  it('is read exactly as it is typed, with a point or a comma', () => {
    expect(['19.95', '19,95', ' 20 ', '0.1', '007'].map((text) => parseMoney(text, 'GBP'))).toEqual([
      1995, 1995, 2000, 10, 700,
    ]);
    expect(['', '-1', '1.999', '1e3', '12.', '99999999999', 'ten'].map((text) => parseMoney(text, 'GBP'))).toEqual(
      Array(7).fill(null),
    );
    expect([parseMoney('1200', 'JPY'), parseMoney('1.5', 'JPY'), parseMoney('1.234', 'KWD')]).toEqual([
      1200,
      null,
      1234,
    ]);
    expect(() => parseMoney('1', 'XXX')).toThrowError(RangeError);
  });

  it('is written with all of its digits', () => {
    expect([1995, 5, 0, -120].map((minor) => amountText(minor, 'EUR'))).toEqual(['19.95', '0.05', '0.00', '−1.20']);
    expect([moneyText(1200, 'JPY'), moneyText(7, 'KWD')]).toEqual(['1200 JPY', '0.007 KWD']);
  });

  it('is multiplied without losing a penny, half away from zero', () => {
    // Numbers of binary fractions get these wrong: 1.005 × 100 is 100.49999999999999.
    expect(timesDecimal(100, '1.005')).toBe(101);
    expect(timesDecimal(1010, '1.15')).toBe(1162);
    expect(timesDecimal(333, '0,333')).toBe(111);
    expect(percentOf(1050, '2.5')).toBe(26);
    expect(percentOf(-50, '1')).toBe(-1);
    expect(timesDecimal(999_999_999, '1')).toBe(999_999_999);
    expect(() => timesDecimal(1, 'twice')).toThrowError(RangeError);
  });

  it('goes over into another currency at the seller’s rates, whatever digits both have', () => {
    const rates = { GBP: '1', EUR: '0.86', JPY: '0.0053', KWD: '2.6' };
    expect(convert(1995, 'GBP', 'EUR', rates)).toBe(2320);
    expect(convert(1995, 'GBP', 'JPY', rates)).toBe(3764);
    expect(convert(1000, 'KWD', 'GBP', rates)).toBe(260);
    expect(convert(1995, 'GBP', 'GBP', {})).toBe(1995);
    expect([convert(1, 'GBP', 'USD', rates), convert(1, 'GBP', 'EUR', { GBP: '1', EUR: '0' })]).toEqual([null, null]);
  });
});

describe('prices', () => {
  it('are the least that the rule allows, and end as they should', () => {
    expect(priceBy({ factor: '2.4', ending: 95 }, 895, 'GBP')).toBe(2195);
    expect(priceBy({ factor: '2.4', ending: 95 }, 790, 'GBP')).toBe(1995);
    expect(priceBy({ factor: '2', ending: 0 }, 1000, 'GBP')).toBe(2000);
    expect(priceBy({ factor: '2', ending: 99 }, 1001, 'GBP')).toBe(2099);
    expect(priceBy({ factor: '2.35', ending: null }, 333, 'GBP')).toBe(783);
    expect(priceBy({ factor: '2', ending: 80 }, 1000, 'JPY')).toBe(2080);
  });

  it('say what the seller earns after cost and fees', () => {
    expect(earnedBy(2195, 895, RULES.fees)).toEqual({ price: 2195, cost: 895, fees: 163, earns: 1137, margin: 51.8 });
    expect(earnedBy(900, 895, RULES.fees)).toEqual({ price: 900, cost: 895, fees: 79, earns: -74, margin: -8.2 });
    expect(earnedBy(0, 895, RULES.fees).margin).toBeNull();
  });

  it('know the least at which nobody pays for selling', () => {
    for (const [cost, fees] of [
      [895, RULES.fees],
      [1, { percent: '0', fixed: 0 }],
      [333, { percent: '33,3', fixed: 7 }],
    ] as const) {
      const least = leastPrice(cost, fees)!;
      expect(earnedBy(least, cost, fees).earns).toBeGreaterThanOrEqual(0);
      expect(earnedBy(least - 1, cost, fees).earns).toBeLessThan(0);
    }
    expect(leastPrice(100, { percent: '100', fixed: 0 })).toBeNull();
  });
});

describe('rules of a channel', () => {
  const said = (change: Partial<ListingText>): string =>
    textBroken(RULES, { ...TEXT, ...change })
      .map(({ field, sentence }) => `${field}: ${sentence}`)
      .join(' ');

  it('take a listing that is as they want it', () => {
    expect(textBroken(RULES, TEXT)).toEqual([]);
  });

  it('say what is wrong, and by how much', () => {
    expect(said({ title: 'Rain' })).toContain('title: The title has 4 letters; at least 10 are needed, 6 more.');
    expect(said({ title: 'x'.repeat(43) })).toContain('43 letters, 3 more than the 40');
    expect(said({ title: 'MOSTLY DRIZZLE shirt' })).toContain('72 % of the title’s letters are capitals; at most 40 %');
    expect(said({ description: '' })).toContain('description: The description is missing');
    expect(said({ tags: ['rain'] })).toContain('tags: There is one tag; at least 2 are needed.');
    expect(said({ tags: ['a', 'b', 'c', 'd', 'e'] })).toContain('There are 5 tags, 1 more than 4.');
    expect(said({ tags: ['thunderstorms', 'rain'] })).toContain('“thunderstorms” has 13 letters, 1 more than 12.');
    expect(said({ tags: ['rain', 'Rain'] })).toContain('The tag “Rain” is there twice.');
  });

  it('find forbidden words by themselves alone, whatever their case', () => {
    expect(said({ title: 'The BEST drizzle shirt' })).toContain('title: The title may not have the word “best”.');
    expect(said({ title: 'Bestow drizzle upon me' })).toBe('');
    expect(said({ tags: ['carefree', 'free rain'] })).toContain('tags: Tags may not have the word “free”.');
  });

  it('count letters as people do', () => {
    expect([lettersOf('Żółć'), lettersOf('👩‍👩‍👧 rain'), lettersOf('  x ')]).toEqual([4, 6, 1]);
  });

  it('look at the number, size and shape of pictures, and at the first one', () => {
    const picture = { width: 1200, height: 1200, plain: true };
    const told = (pictures: (typeof picture)[], clip = false, rules = RULES): string =>
      picturesBroken(rules, pictures, clip)
        .map(({ sentence }) => sentence)
        .join(' ');
    expect(told([picture, { ...picture, height: 1500, plain: false }])).toBe('');
    expect(told([])).toContain('There is no picture; at least 2 are needed.');
    expect(told(Array(5).fill(picture))).toContain('There are 5 pictures, 2 more than 3.');
    expect(told([picture, { ...picture, width: 640, height: 640 }])).toContain('Picture 2 has 640 px');
    expect(told([picture, { ...picture, width: 1920 }])).toContain('its shape has to be 1:1 or 4:5');
    expect(told([{ ...picture, plain: false }, picture])).toContain('The first picture has to show');
    expect(told([picture, picture], true, { ...RULES, clip: 'none' })).toBe('It takes no clip.');
    expect(told([picture, picture], false, { ...RULES, clip: 'needed' })).toBe('A clip is needed.');
  });
});

describe('a listing', () => {
  const requirement = (id: string, channel: string, product: string): Requirement =>
    ({
      id,
      channel,
      product,
      name: id,
      colourways: [
        { name: 'Chalk', hex: '#ffffff' },
        { name: 'Ink', hex: '#111111' },
      ],
    }) as unknown as Requirement;
  const all = [requirement('tee', 'Larkpost Market', 'T-shirt'), requirement('cup', 'Larkpost Market', 'Mug')];
  const targets = [{ requirementId: 'tee' }, { requirementId: 'cup' }, { requirementId: 'gone' }];

  it('says one thing everywhere, and another where a channel needs it', () => {
    const listing = { ...emptyListing('Fog'), exceptions: { quill: { title: 'Fog Signal, a shirt' } } };
    expect([textOn(listing, 'lark').title, textOn(listing, 'quill').title]).toEqual(['Fog', 'Fog Signal, a shirt']);
    expect(textOn(listing, 'quill').description).toBe('');
  });

  it('offers each target of a channel at a price made of its cost, in the colours on sale', () => {
    const listing = { ...emptyListing('Fog'), products: { tee: { without: ['#111111'] } } };
    const [tee, cup] = offersOn(listing, RULES, targets, all);
    expect([tee.cost, tee.price, tee.colourways.map(({ name }) => name)]).toEqual([895, 2195, ['Chalk']]);
    expect([cup.cost, cup.price]).toEqual([null, null]);
    expect(offersBroken([tee, cup])).toEqual(['cup has no price: say what it costs.']);
    const priced = { ...listing, products: { cup: { cost: 400, price: 1250 }, tee: { off: true } } };
    const again = offersOn(priced, RULES, targets, all);
    expect(again.map(({ price, off }) => [price, off])).toEqual([
      [2195, true],
      [1250, false],
    ]);
    expect(offersBroken(again)).toEqual([]);
    expect(offersBroken(offersOn(listing, { ...RULES, channel: 'Elsewhere' }, targets, all))[0]).toContain(
      'No product',
    );
  });

  it('begins as another one, with the design’s own name in it', () => {
    const fog = {
      ...emptyListing('Fog'),
      title: 'Fog, a shirt',
      description: 'FOG or Foggy, fog is fog. (Fog)',
      tags: ['fog', 'shirt'],
      prices: { factor: '3', ending: 0 },
      products: { tee: { price: 5 } },
      pictures: ['p'],
      exceptions: { quill: { title: 'Fog at Quillmere', off: true } },
    };
    expect(begunFrom(fog, 'Fog', 'Mostly Drizzle')).toEqual({
      title: 'Mostly Drizzle, a shirt',
      description: 'MOSTLY DRIZZLE or Foggy, mostly drizzle is mostly drizzle. (Mostly Drizzle)',
      tags: ['mostly drizzle', 'shirt'],
      prices: { factor: '3', ending: 0 },
      products: {},
      exceptions: { quill: { title: 'Mostly Drizzle at Quillmere', off: true } },
    });
    // Names are names, not patterns, and an empty one stands nowhere.
    expect(begunFrom({ ...fog, title: 'A+B (c)' }, 'A+B', '$&').title).toBe('$& (c)');
    expect(begunFrom(fog, ' ', 'Rain').title).toBe('Fog, a shirt');
  });

  it('has no tags proposed that belong to another design', () => {
    const earlier = [
      { tag: 'lighthouse', times: 1, share: 0.1 },
      { tag: 'fog signal', times: 2, share: 0.2 },
      { tag: 'gift', times: 6, share: 0.6 },
      { tag: 'avocado lover', times: 1, share: 0.1 },
      { tag: 'only one yet', times: 1, share: 1 },
    ];
    const text = { title: 'Ripe', description: 'For those who wait.', tags: [] };
    expect(fittingTags(text, 'Sad Avocado', earlier)).toEqual(['gift', 'avocado lover']);
    expect(fittingTags({ ...text, tags: ['fog'] }, 'Ripe', earlier)).toEqual(['fog signal', 'gift']);
  });

  it('has tags proposed from its words and from earlier listings, each once', () => {
    expect(proposedTags({ ...TEXT, tags: ['Rain'] }, ['clouds', 'drizzle'], 6)).toEqual([
      'mostly drizzle shirt',
      'mostly',
      'drizzle',
      'shirt',
      'clouds',
      'those',
    ]);
  });
});

describe('placeholders of a listing', () => {
  const chalk = { name: 'Chalk', hex: '#F5F3EE' };
  const offers = [
    { colourways: [chalk, { name: 'Harbour', hex: '#1F2B4D' }], off: false },
    { colourways: [chalk, { name: 'Soot', hex: '#1B1B1D' }], off: false },
    { colourways: [{ name: 'Rose', hex: '#E3B5AE' }], off: true },
  ];

  it('stand for the name and the colours on sale, each once', () => {
    expect(
      filledText(
        { title: '{name}: {name}', description: 'In {colours}.', tags: ['{name} shirt', '{colours}', 'rain'] },
        'Fog',
        offers,
      ),
    ).toEqual({
      title: 'Fog: Fog',
      description: 'In Chalk, Harbour and Soot.',
      tags: ['Fog shirt', 'chalk', 'harbour', 'soot', 'rain'],
    });
    const text = (some: typeof offers): string =>
      filledText({ title: '{colours}', description: '', tags: [] }, '', some).title;
    expect([text([]), text([offers[2]])]).toEqual(['', '']);
    expect(text([{ colourways: [chalk], off: false }])).toBe('Chalk');
  });
});

describe('rates that a seller enters', () => {
  it('are kept as they were typed, taken away by nothing, and left alone by what is no number', () => {
    const rates = { GBP: '1', EUR: '0.85' };
    expect(withRate(rates, 'SEK', ' 0,074 ')).toEqual({ ...rates, SEK: '0.074' });
    expect(withRate(rates, 'EUR', '')).toEqual({ GBP: '1' });
    expect(withRate(rates, 'EUR', 'much')).toBeNull();
    expect(withRate(rates, 'EUR', '-1')).toBeNull();
  });
});
