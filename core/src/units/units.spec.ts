import { densityReason, dpiOfPixelsPerMetre, nominalDpi, pixelsPerMetre, storesDpi } from './dpi.js';
import { formatBytes } from './bytes.js';
import { formatLength, formatSize, fromMm, LENGTH_UNITS, toMm } from './length.js';

describe('lengths', () => {
  it('come back unchanged through every unit', () => {
    for (const unit of LENGTH_UNITS) expect(toMm(fromMm(123.456, unit, 300), unit, 300)).toBeCloseTo(123.456, 9);
  });

  it('are what rulers say', () => {
    expect(toMm(14, 'in', 300)).toBeCloseTo(355.6, 9);
    expect(toMm(300, 'px', 300)).toBeCloseTo(25.4, 9);
    expect(toMm(50, 'cm', 72)).toBe(500);
  });

  it('are written with their unit and no false precision', () => {
    expect(formatLength(231.4449, 'mm', 300)).toBe('231.4 mm');
    expect(formatLength(-0.01, 'mm', 300)).toBe('0 mm');
    expect(formatSize(231.4, 118.2, 'mm', 300)).toBe('231 × 118 mm');
    expect(formatSize(90, 41.27, 'mm', 300)).toBe('90 × 41.3 mm');
    expect(formatSize(254, 127, 'in', 300)).toBe('10 × 5 in');
  });
});

describe('density', () => {
  it('of 300 DPI is stored as 11,811 whole pixels per metre and read as 300 DPI', () => {
    expect(pixelsPerMetre(300)).toBe(11811);
    expect(dpiOfPixelsPerMetre(11811)).toBeCloseTo(299.9994, 4);
    expect(nominalDpi(11811)).toBe(300);
    expect(storesDpi(11811, 300)).toBeTrue();
    expect(densityReason(11811)).toContain('299.999');
  });

  it('tells neighbours apart', () => {
    for (const dpi of [72, 96, 150, 300, 600, 1200]) {
      expect(nominalDpi(pixelsPerMetre(dpi))).toBe(dpi);
      expect(storesDpi(pixelsPerMetre(dpi), dpi + 1)).toBeFalse();
    }
    expect(storesDpi(11810, 300)).toBeFalse();
  });
});

describe('file sizes', () => {
  it('are short', () => {
    expect(formatBytes(812)).toBe('812 B');
    expect(formatBytes(410_400)).toBe('410 KB');
    expect(formatBytes(1_440_000)).toBe('1.4 MB');
    expect(formatBytes(50_000_000)).toBe('50 MB');
  });
});
