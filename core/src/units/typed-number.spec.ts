import fc from 'fast-check';
import { readNumber, refuseNumber } from './typed-number.js';

describe('a number that is typed', () => {
  it('is read with point or comma, and with thousands apart', () => {
    for (const [text, value] of [
      ['12', 12],
      ['12.5', 12.5],
      ['12,5', 12.5],
      [' 14,5 ', 14.5],
      ['-3,25', -3.25],
      ['−3', -3],
      ['+ 7', 7],
      ['.5', 0.5],
      [',5', 0.5],
      ['7.', 7],
      ['1.125', 1.125],
      ['0,125', 0.125],
      ['12,5000', 12.5],
      ['1200,5', 1200.5],
      ['1 200', 1200],
      ['1\u202f200,5', 1200.5],
      ['12’500', 12500],
      ['1,234.5', 1234.5],
      ['1.234,5', 1234.5],
      ['1,234,567', 1234567],
      ['1.234.567', 1234567],
    ] as const)
      expect(readNumber(text)).withContext(text).toEqual({ kind: 'number', value });
  });

  it('is asked where it can be two', () => {
    expect(readNumber('1,200')).toEqual({ kind: 'either', values: [1200, 1.2] });
    expect(readNumber('-12,500')).toEqual({ kind: 'either', values: [-12500, -12.5] });
    expect(refuseNumber(' 1,200 ', 'Width')).toBe('“1,200” can be 1200 or 1.2: write one of them.');
  });

  it('is none otherwise, whatever a program would make of it', () => {
    for (const text of [
      '',
      'wide',
      '1e3',
      '0x10',
      'Infinity',
      'NaN',
      '1,2,3',
      '1.2.3',
      '12,34.5',
      '--1',
      '1-2',
      '.',
      ',',
      '1 2',
    ])
      expect(readNumber(text)).withContext(text).toEqual({ kind: 'none' });
    expect(refuseNumber('wide', 'Width')).toBe('Width must be a number.');
    expect(refuseNumber('3', 'Width')).toBeNull();
  });

  it('is what any program writes with a point', () => {
    fc.assert(
      fc.property(fc.integer({ min: -1e9, max: 1e9 }), fc.integer({ min: 0, max: 6 }), (units, scale) => {
        const text = (units / 10 ** scale).toFixed(scale);
        expect(readNumber(text)).toEqual({ kind: 'number', value: Number(text) });
      }),
    );
  });
});
