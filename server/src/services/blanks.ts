import { readFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Blank } from '@kettle/core';
import type { RenderPool } from '../render/render-pool.js';
import { ProblemError } from '../safety/problem-error.js';
import { KeptFiles } from './kept-files.js';

/** The shipped blank packs, read once. */
export class BlankService {
  private readonly keptFiles = new KeptFiles();

  private constructor(private readonly folder: string, readonly all: readonly Blank[]) {}

  static async open(folder: string): Promise<BlankService> {
    const names = (await readdir(folder, { withFileTypes: true })).filter((entry) => entry.isDirectory()).map((entry) => entry.name).sort();
    const blanks = await Promise.all(names.map(async (name) => JSON.parse(await readFile(join(folder, name, 'blank.json'), 'utf8')) as Blank));
    // The shirt front is what nearly everyone wants first.
    return new BlankService(folder, blanks.sort((a, b) => Number(b.id === 'tee-front') - Number(a.id === 'tee-front') || a.category.localeCompare(b.category)));
  }

  get(id: string): Blank {
    const blank = this.all.find((one) => one.id === id);
    if (!blank) throw new ProblemError(404, 'no-such-blank', 'There is no blank with this id.');
    return blank;
  }

  folderOf(blank: Blank): string { return join(this.folder, blank.id); }

  /** Path of a small picture of the bare product. */
  thumbnail(id: string, pool: RenderPool, cache: string): Promise<string> {
    const blank = this.get(id);
    const out = join(cache, 'thumbnails', `${blank.id}.webp`);
    return this.keptFiles.path(out, () => pool.run('blankThumbnail', { blank, folder: this.folderOf(blank), out }));
  }

  /** Path of a pack's picture. Only names that the pack itself lists are served. */
  file(id: string, name: string): string {
    const blank = this.get(id);
    const known = [...Object.values(blank.files), ...blank.areas.map((area) => area.uv)];
    if (!known.includes(name)) throw new ProblemError(404, 'no-such-file', 'This blank has no such picture.');
    return join(this.folderOf(blank), name);
  }
}
