import { deltaE2000, labOf } from './lab.js';
import { contrast, encodedOf, hexOf, LINEAR_OF_CODE, linearOf, rgbOf } from './srgb.js';

describe('sRGB', () => {
  it('goes to linear light and back', () => {
    for (let code = 0; code < 256; code++) expect(Math.round(encodedOf(LINEAR_OF_CODE[code]) * 255)).toBe(code);
    expect(linearOf(0.5)).toBeCloseTo(0.21404, 5);
  });

  it('reads and writes hex, and refuses the rest', () => {
    expect(hexOf(rgbOf('#1F2b4D'))).toBe('#1f2b4d');
    expect(() => rgbOf('navy')).toThrowError(RangeError);
  });

  it('has the contrast of black on white', () => {
    expect(contrast(rgbOf('#000000'), rgbOf('#ffffff'))).toBeCloseTo(21, 6);
  });
});

describe('CIEDE2000', () => {
  // Pairs 1, 7, 13, 17, 20, 25 and 34 of the test data published with the formula's source.
  const pairs = [
    [50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425],
    [50, 0, 0, 50, -1, 2, 2.3669],
    [50, -0.001, 2.49, 50, 0.0009, -2.49, 4.8045],
    [50, 2.5, 0, 73, 25, -18, 27.1492],
    [50, 2.5, 0, 58, 24, 15, 19.4535],
    [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
    [2.0776, 0.0795, -1.135, 0.9033, -0.0636, -0.5514, 0.9082],
  ];
  it('matches its published test data to four places', () => {
    for (const [L1, a1, b1, L2, a2, b2, expected] of pairs) {
      expect(deltaE2000({ L: L1, a: a1, b: b1 }, { L: L2, a: a2, b: b2 })).toBeCloseTo(expected, 4);
      expect(deltaE2000({ L: L2, a: a2, b: b2 }, { L: L1, a: a1, b: b1 })).toBeCloseTo(expected, 4);
    }
  });

  it('stands on a Lab whose white is 100 and grey is neutral', () => {
    expect(labOf(rgbOf('#ffffff')).L).toBeCloseTo(100, 3);
    expect(Math.abs(labOf(rgbOf('#808080')).a)).toBeLessThan(0.01);
    expect(labOf(rgbOf('#ff0000')).L).toBeCloseTo(53.24, 1);
  });
});
