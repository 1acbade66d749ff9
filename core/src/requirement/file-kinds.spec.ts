import { fileTypeFor, tiffBytes } from './file-kinds.js';
import { limitsOf, processOf } from '../model/requirement.js';
import { tee } from '../testing/samples.js';

describe('the kind of file that is made', () => {
  it('is the preferred one of those taken where it holds what is demanded, else the first that does', () => {
    const typeOf = (change: Parameters<typeof tee>[0], outlines = false) => fileTypeFor(tee(change), outlines);
    expect(typeOf({ fileTypes: ['tiff', 'png'] })).toBe('png');
    expect(typeOf({ fileTypes: ['tiff', 'png'], preferred: 'tiff' })).toBe('tiff');
    expect(typeOf({ fileTypes: ['png', 'tiff'], preferred: 'png', mode: 'cmyk' })).toBe('tiff');
    expect(typeOf({ fileTypes: ['jpeg'], transparency: 'required' })).toBeNull();
    expect(typeOf({ fileTypes: ['jpeg', 'webp'], transparency: 'required' })).toBe('webp');
    expect(typeOf({ fileTypes: ['jpeg'], transparency: 'forbidden' })).toBe('jpeg');
    expect(typeOf({ fileTypes: ['svg', 'png'], preferred: 'svg' })).toBe('png');
    expect(typeOf({ fileTypes: ['svg', 'png'], preferred: 'svg' }, true)).toBe('svg');
    expect(typeOf({ fileTypes: ['svg'], mode: 'grey' }, true)).toBeNull();
  });

  it('says its bytes beforehand where they follow from its size', () => {
    expect(tiffBytes(4500, 5400, 'cmyk', true)).toBe(4500 * 5400 * 5);
    expect(tiffBytes(10, 10, 'grey', false)).toBe(100);
  });
});

describe('limits of a print', () => {
  it('are those of the process that is said or that the product has, with the requirement’s own in their place', () => {
    expect(processOf(tee({ product: 'Mug' }))).toBe('sublimation');
    expect(processOf(tee({ product: 'Poster' }))).toBe('paper');
    expect(processOf(tee({ product: 'Poster', process: 'screen' }))).toBe('screen');
    expect(limitsOf(tee()).lineMm).toBe(0.35);
    expect(limitsOf(tee({ limits: { lineMm: 0.8, fadeMm: null } }))).toEqual(
      jasmine.objectContaining({ lineMm: 0.8, fadeMm: null, letterMm: 2 }),
    );
  });
});
