import { appendFile, mkdtemp, readFile, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { wholeFile } from './whole-file.js';

describe('a file that is there whole or not at all', () => {
  let folder: string;
  let path: string;
  beforeEach(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-whole-'));
    path = join(folder, 'picture.png');
  });
  afterEach(() => rm(folder, { recursive: true }));

  it('is never a mixture of two who write it at once', async () => {
    const write = (letter: string) =>
      wholeFile(path, async (coming) => {
        for (let i = 0; i < 50; i++) await appendFile(coming, letter);
      });
    await Promise.all([write('a'), write('b'), write('c')]);
    expect(await readFile(path, 'utf8')).toMatch(/^(a{50}|b{50}|c{50})$/);
    expect(await readdir(folder)).toEqual(['picture.png']);
  });

  it('stays as it was when it cannot be written, and nothing is left beside it', async () => {
    await writeFile(path, 'before');
    const failing = wholeFile(path, async (coming) => {
      await writeFile(coming, 'half');
      throw Object.assign(new Error('no space'), { code: 'ENOSPC' });
    });
    await expectAsync(failing).toBeRejectedWithError('no space');
    expect(await readFile(path, 'utf8')).toBe('before');
    expect(await readdir(folder)).toEqual(['picture.png']);
  });

  it('hands on what its writer found out', async () => {
    expect(await wholeFile(path, async (coming) => (await writeFile(coming, 'x'), 7))).toBe(7);
  });
});
