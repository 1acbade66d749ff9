import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { pngProfile, profileName } from '../render/colour/icc.js';
import { machineSentence } from '../floor/basics/problem-error.js';
import { freshFolder, until } from '../testing/test-house.js';
import { cleanName } from '../floor/files/incoming.js';
import { asker } from '../floor/safety/asker.js';
import { FileCache } from '../floor/files/file-cache.js';
import { recipeHash, shaOf, shaOrMissing } from '../documents/design-processor.js';

describe('names of uploads', () => {
  it('lose folders, control characters and endless length', () => {
    expect(cleanName('C:\\Users\\me\\fog.png')).toBe('fog.png');
    expect(cleanName('../../../etc/passwd')).toBe('passwd');
    expect(cleanName('a\u0000b\u001f.png')).toBe('ab.png');
    expect(cleanName('x'.repeat(500)).length).toBe(200);
    expect(cleanName('  ')).toBe('untitled');
  });
});

describe('kept files', () => {
  it('are made once, however many ask at once, and again after a failure', async () => {
    const kept = new FileCache();
    const path = join(await freshFolder(), 'deep', 'one.txt');
    let made = 0;
    await expectAsync(
      kept.path(path, async () => {
        made++;
        throw new Error('not now');
      }),
    ).toBeRejectedWithError('not now');
    await Promise.all(
      [1, 2, 3].map(() =>
        kept.path(path, async () => {
          made++;
          await writeFile(path, 'kettle');
        }),
      ),
    );
    await kept.path(path, async () => {
      made++;
    });
    expect([made, await readFile(path, 'utf8')]).toEqual([2, 'kettle']);
  });

  it('are made as long as somebody waits for them, and made anew for whoever comes after the last has left', async () => {
    const kept = new FileCache();
    const folder = await freshFolder();
    const path = join(folder, 'one.txt');
    const [first, second] = [new AbortController(), new AbortController()];
    const told: AbortSignal[] = [];
    const inner: AbortSignal[] = [];
    const make = (left: AbortSignal) =>
      new Promise<void>((resolve, reject) => {
        told.push(left);
        inner.push(asker.getStore()!);
        // What is under way takes a while to end: who comes meanwhile does not end with it.
        left.addEventListener('abort', () => setTimeout(() => reject(new Error('Nobody waits.')), 50));
        if (told.length > 1) void writeFile(path, 'kettle').then(resolve);
      });
    const ask = (left?: AbortController) => {
      const asked = left ? asker.run(left.signal, () => kept.path(path, make)) : kept.path(path, make);
      return asked.catch((error: Error) => error.message);
    };
    const both = [ask(first), ask(second)];
    await until(
      async () => told.length,
      (n) => n === 1,
    );
    first.abort();
    expect(told[0].aborted).toBeFalse();
    second.abort();
    expect(told[0].aborted).toBeTrue();
    // What it asks for itself waits for the same.
    expect(inner[0]).toBe(told[0]);
    const third = ask();
    expect(await Promise.all(both)).toEqual(['Nobody waits.', 'Nobody waits.']);
    expect(await third).toBe(path);
    expect(told.length).toBe(2);
  });
});

describe('recipes', () => {
  it('have one hash whatever the order of their keys, and need their pictures', () => {
    expect(recipeHash({ a: 1, b: 2 })).toBe(recipeHash({ b: 2, a: 1 }));
    expect(() => shaOf({})('gone')).toThrowError(/could not be found/);
    expect(shaOrMissing({})('gone')).toBe('missing gone');
  });
});

describe('profiles', () => {
  it('are named from their bytes, old kind and new, and never break on rubbish', async () => {
    for (const [profile, name] of [
      ['srgb', /sRGB/],
      ['p3', /P3/],
      ['cmyk', /./],
    ] as const) {
      const { icc } = await sharp(
        await sharp({ create: { width: 1, height: 1, channels: 3, background: '#fff' } })
          .withIccProfile(profile)
          .jpeg()
          .toBuffer(),
      ).metadata();
      expect(profileName(icc!)).toMatch(name);
    }
    expect(profileName(Buffer.alloc(10))).toBe('an unreadable profile');
    expect((await pngProfile('rgb')).name).toBe('sRGB');
  });
});

describe('a machine in trouble', () => {
  it('is spoken of in a sentence, and only when it is known', () => {
    expect(machineSentence({ code: 'ENOSPC' })).toContain('The disk is full');
    expect(machineSentence(new Error('something'))).toBeNull();
  });
});
