import { harmoniesOf, hslOf, oklchOf, rgbOfHsl, rgbOfOklch } from './harmony.js';
import { hexOf, rgbOf } from './srgb.js';

describe('harmonies', () => {
  it('come back from hue, saturation and lightness, and keep the lightness the eye sees', () => {
    for (const hex of ['#f2bd4b', '#1f2b4d', '#808080', '#00ff00']) {
      expect(hexOf(rgbOfHsl(hslOf(rgbOf(hex)))).toLowerCase()).toBe(hex);
      const { l, c, h } = oklchOf(rgbOf(hex));
      const back = rgbOfOklch(l, c, h);
      for (const channel of ['r', 'g', 'b'] as const)
        expect(Math.abs(back[channel] - rgbOf(hex)[channel])).toBeLessThanOrEqual(1);
    }
    const [opposite] = harmoniesOf('#3a6ea5');
    expect(Math.abs(oklchOf(rgbOf(opposite.colours[0])).l - oklchOf(rgbOf('#3a6ea5')).l)).toBeLessThan(0.02);
    expect(
      Math.abs(((oklchOf(rgbOf(opposite.colours[0])).h - oklchOf(rgbOf('#3a6ea5')).h + 360) % 360) - 180),
    ).toBeLessThan(6);
  });
});
