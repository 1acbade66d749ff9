import { tee } from '../testing/samples.js';
import { certify, type FileFacts } from './certificate.js';
import { demandedCanvas, demandedSizeWords, sizeAccepted, targetCanvas } from '../model/canvas.js';

const file = (change: Partial<FileFacts> = {}): FileFacts => ({
  fileType: 'png',
  widthPx: 4200,
  heightPx: 4800,
  pixelsPerMetreX: 11811,
  pixelsPerMetreY: 11811,
  mode: 'rgb',
  bitsPerChannel: 8,
  hasAlpha: true,
  transparentShare: 0.5,
  profile: 'sRGB',
  interlaced: false,
  privateData: [],
  bytes: 2_000_000,
  ...change,
});
const failed = (facts: FileFacts, requirement = tee()) =>
  certify(facts, requirement)
    .filter((row) => !row.ok)
    .map((row) => row.demand);

describe('a demanded canvas', () => {
  it('has exact whole pixels in every unit', () => {
    expect(demandedCanvas(tee())).toEqual(jasmine.objectContaining({ widthPx: 4200, heightPx: 4800 }));
    expect(demandedCanvas({ width: 210, height: 90, unit: 'mm', dpi: 300 })).toEqual(
      jasmine.objectContaining({ widthPx: 2480, heightPx: 1063 }),
    );
    expect(demandedCanvas({ width: 34, height: 44, unit: 'cm', dpi: 300 })).toEqual(
      jasmine.objectContaining({ widthPx: 4016, heightPx: 5197 }),
    );
    expect(demandedCanvas({ width: 3600, height: 3600, unit: 'px', dpi: 300 }).widthMm).toBeCloseTo(304.8, 6);
  });

  it('gives way to the seller’s own', () => {
    expect(targetCanvas(tee(), { widthPx: 100, heightPx: 50, dpi: 100 }).widthMm).toBeCloseTo(25.4, 9);
  });

  it('is judged by its size rule', () => {
    expect(sizeAccepted(tee(), 4200, 4801)).toBeFalse();
    expect(sizeAccepted(tee({ sizeRule: 'at-least' }), 4200, 9000)).toBeTrue();
    expect(sizeAccepted(tee({ sizeRule: 'at-most' }), 4200, 9000)).toBeFalse();
    expect(demandedSizeWords(tee({ sizeRule: 'at-least' }))).toBe('at least 4200 × 4800 px');
  });
});

describe('a certificate', () => {
  it('passes a file that is as demanded', () => {
    expect(failed(file())).toEqual([]);
  });

  it('finds each demand that is missed, and only that', () => {
    expect(failed(file({ widthPx: 4199 }))).toEqual(['Size']);
    expect(failed(file({ pixelsPerMetreY: 2835 }))).toEqual(['DPI']);
    expect(failed(file({ pixelsPerMetreX: null, pixelsPerMetreY: null }))).toEqual(['DPI']);
    expect(failed(file({ mode: 'palette' }))).toEqual(['Colour mode']);
    expect(failed(file({ profile: null }))).toEqual(['Colour profile']);
    expect(failed(file({ profileMeant: 'sRGB' }))).toEqual(['Colour profile']);
    expect(failed(file({ transparentShare: 0 }))).toEqual(['Transparency']);
    expect(failed(file(), tee({ transparency: 'forbidden' }))).toEqual(['Transparency']);
    expect(failed(file(), tee({ fileTypes: ['tiff'] }))).toEqual(['File type']);
    expect(failed(file({ interlaced: true }))).toEqual(['Row order']);
    expect(failed(file({ privateData: ['tEXt'] }))).toEqual(['Private data']);
    expect(failed(file({ bytes: 50_000_001 }))).toEqual(['File size']);
  });

  it('says the two axes apart when only one was set', () => {
    const row = certify(file({ pixelsPerMetreY: 2835 }), tee()).find((one) => one.demand === 'DPI');
    expect(row?.found).toBe('300 across, 72 down');
  });

  it('explains the density that a PNG can hold, and not of files that hold any', () => {
    const reason = (change: Parameters<typeof file>[0]) =>
      certify(file(change), tee({ fileTypes: ['png', 'tiff'] })).find((one) => one.demand === 'DPI')?.reason;
    expect(reason({})).toContain('a PNG can hold');
    expect(reason({ fileType: 'tiff' })).toBeUndefined();
  });
});
