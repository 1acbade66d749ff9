import fc from 'fast-check';
import { dpiOfPixelsPerMetre, nominalDpi, pixelsPerMetre, storesDpi } from './dpi.js';
import { DECIMALS, formatLength, fromMm, lengthNumber, LENGTH_UNITS, toMm } from './length.js';

const unit = fc.constantFrom(...LENGTH_UNITS);
const dpi = fc.integer({ min: 1, max: 2400 });
const mm = fc.double({ min: 0, max: 10_000, noNaN: true });

describe('lengths', () => {
  it('are the same again when they come back from any unit', () => {
    fc.assert(
      fc.property(mm, unit, dpi, (length, of, density) => {
        const back = toMm(fromMm(length, of, density), of, density);
        return Math.abs(back - length) <= 1e-9 * Math.max(1, length);
      }),
    );
  });

  it('are longer in every unit when they are longer', () => {
    fc.assert(
      fc.property(
        mm,
        mm,
        unit,
        dpi,
        (a, b, of, density) =>
          Math.sign(a - b) === Math.sign(fromMm(a, of, density) - fromMm(b, of, density)) || Math.abs(a - b) < 1e-9,
      ),
    );
  });

  it('are shown within half of the last digit, and as the same number in words', () => {
    fc.assert(
      fc.property(mm, unit, dpi, (length, of, density) => {
        const shown = lengthNumber(length, of, density);
        expect(Math.abs(shown - fromMm(length, of, density))).toBeLessThanOrEqual(0.5 * 10 ** -DECIMALS[of] + 1e-9);
        expect(formatLength(length, of, density)).toBe(`${shown} ${of}`);
        expect(Object.is(shown, -0)).toBeFalse();
      }),
    );
  });
});

describe('densities', () => {
  it('that a person may ask for are found again in what a file stores', () => {
    fc.assert(
      fc.property(dpi, (asked) => {
        const stored = pixelsPerMetre(asked);
        expect(Number.isInteger(stored)).toBeTrue();
        expect(storesDpi(stored, asked)).toBeTrue();
        expect(nominalDpi(stored)).toBe(asked);
        // Half a pixel per metre is 0.0127 DPI: what is read back is never farther off.
        expect(Math.abs(dpiOfPixelsPerMetre(stored) - asked)).toBeLessThanOrEqual(0.0127 + 1e-12);
      }),
    );
  });

  it('next to each other are never taken for one another', () => {
    fc.assert(fc.property(dpi, (asked) => !storesDpi(pixelsPerMetre(asked), asked + 1)));
  });
});
