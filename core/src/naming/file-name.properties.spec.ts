import fc from 'fast-check';
import { fileNameOf, MOST_NAME, safeName, uniqueNames } from './file-name.js';

const text = fc.oneof(
  fc.string(),
  fc.string({ unit: 'grapheme' }),
  fc.constantFrom('../../etc/passwd', 'CON', ' . ', 'a/b\\c', '\u202Egnp.exe'),
);

describe('names of files', () => {
  it('climb nowhere and hold nothing that a system refuses, whatever a design is called', () => {
    fc.assert(
      fc.property(text, (one) => {
        for (const name of [fileNameOf(one), safeName(one, 'png')]) {
          // eslint-disable-next-line no-control-regex
          expect(name).not.toMatch(/[/\\:*?"<>|\u0000-\u001f]/);
          expect(name).not.toMatch(/^\.+$|^\s|\s$/);
        }
        expect(safeName(one, 'png').length).toBeLessThanOrEqual(MOST_NAME + '.png'.length);
        expect(safeName(one, 'png')).toMatch(/\.png$/);
      }),
    );
  });

  it('are different from each other, as many as there were, and unchanged where they were already', () => {
    const names = fc.array(fc.constantFrom('a.png', 'b.png', 'A.png', 'a-2.png', 'a-3.png', 'c.tiff'), {
      maxLength: 30,
    });
    fc.assert(
      fc.property(names, (all) => {
        const unique = uniqueNames(all);
        expect(unique.length).toBe(all.length);
        // Some systems do not tell a from A.
        expect(new Set(unique.map((one) => one.toLowerCase())).size).toBe(all.length);
        if (new Set(all.map((one) => one.toLowerCase())).size === all.length) expect(unique).toEqual(all);
      }),
    );
  });
});
