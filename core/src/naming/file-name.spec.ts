import { nameBy, refusePattern, safeName, uniqueNames, USUAL_PATTERN, MOST_NAME } from './file-name.js';
import { tee } from '../testing/samples.js';

describe('a name by a pattern', () => {
  const after = {
    design: 'Mostly Drizzle',
    requirement: tee({ channel: 'Larkpost', name: 'Tee, front' }),
    version: null,
  };

  it('holds what its words stand for, and no doubled separators where a word stands for nothing', () => {
    expect(nameBy(USUAL_PATTERN, after, 'png')).toBe('Mostly-Drizzle-Larkpost-Tee-front-4200x4800.png');
    expect(nameBy(USUAL_PATTERN, { ...after, version: 'dark' }, 'tif')).toBe(
      'Mostly-Drizzle-Larkpost-Tee-front-4200x4800-for-dark-cloth.tif',
    );
    expect(nameBy('{design} ({version})', after, 'png')).toBe('Mostly-Drizzle.png');
    expect(nameBy('{dpi}dpi_{mode}_{design}', after, 'pdf')).toBe('300dpi_rgb_Mostly-Drizzle.pdf');
  });

  it('is safe on every system, whatever a design is called', () => {
    const named = (design: string): string => nameBy('{design}', { ...after, design }, 'png');
    expect(named('../../etc/passwd')).toBe('etc-passwd.png');
    expect(named('a/b\\c:d*e?f"g<h>i|j')).toBe('a-b-c-d-e-f-g-h-i-j.png');
    expect(named('con')).toBe('_con.png');
    expect(named('LPT1')).toBe('_LPT1.png');
    expect(named('☂️☂️☂️')).toBe('untitled.png');
    expect(named('   ...   ')).toBe('untitled.png');
    // A mark that turns the direction around would make “gnp.exe” look like a picture.
    expect(named('fog\u202egnp.exe')).toBe('foggnp-exe.png');
    expect(named('عاصفة')).toBe('عاصفة.png');
    const long = named('Weather '.repeat(60));
    expect(long.length).toBeLessThanOrEqual(MOST_NAME);
    expect(long).toMatch(/Weather.*\.png$/);
  });

  it('is refused with a sentence when it cannot tell files apart or cannot be read', () => {
    expect(refusePattern(USUAL_PATTERN)).toBeNull();
    expect(refusePattern('{design} {size}')).toBeNull();
    expect(refusePattern('{channel}')).toContain('{design}');
    expect(refusePattern('{design}-{colour}')).toContain('“{colour}” stands for nothing');
    expect(refusePattern('{design')).toContain('brace');
    expect(refusePattern('{design}/{size}')).toContain('“/”');
    expect(refusePattern(`{design}${'x'.repeat(300)}`)).toContain('200 letters');
  });
});

describe('names side by side', () => {
  it('are told apart, also where capitals and ways of writing an accent do not count', () => {
    expect(uniqueNames(['a.png', 'b.png', 'A.png', 'a.png'])).toEqual(['a.png', 'b.png', 'A-2.png', 'a-3.png']);
    expect(uniqueNames(['caf\u00e9.png', 'cafe\u0301.png'])[1]).toBe('cafe\u0301-2.png');
    expect(uniqueNames(['a-2.png', 'a.png', 'a.png'])).toEqual(['a-2.png', 'a.png', 'a-3.png']);
    const long = safeName('x'.repeat(200), 'png');
    const [first, second] = uniqueNames([long, long]);
    expect([first.length, second.length]).toEqual([MOST_NAME, MOST_NAME]);
    expect(second).toMatch(/-2\.png$/);
  });
});
