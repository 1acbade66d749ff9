import { nameOfText } from '../document/text-layer.js';
import { cutText, shortName, wholeLetters } from './short-name.js';

describe('names the program gives', () => {
  it('never end in a blank or in half a letter', () => {
    expect(nameOfText('It is not the mountains we conquer, but ourselves')).toBe(
      'It is not the mountains we conquer, but',
    );
    expect(nameOfText('Happy birthday to the best grandma ever🎂')).toBe('Happy birthday to the best grandma ever');
    expect(nameOfText('Happy birthday to the best grandma eve🎂!')).toBe('Happy birthday to the best grandma eve🎂');
    for (const most of [1, 2, 3, 5, 8, 11, 12, 13]) {
      const cut = cutText('👩‍👩‍👧é🇫🇷a', most);
      expect(cut.length).toBeLessThanOrEqual(most);
      expect(['', '👩‍👩‍👧', '👩‍👩‍👧é', '👩‍👩‍👧é🇫🇷', '👩‍👩‍👧é🇫🇷a']).toContain(cut);
    }
    expect(shortName(' \n a \t b ', 10, 'x')).toBe('a b');
    expect(shortName('  ', 10, 'Untitled')).toBe('Untitled');
    expect(wholeLetters('a\ud83cb\udf82c🎂')).toBe('a\ufffdb\ufffdc🎂');
  });
});
