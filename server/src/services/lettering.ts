import { fileURLToPath } from 'node:url';
import type { FontEntry, LetteringAnswer, LetteringRequest } from '@kettle/contract';
import type { RenderPool } from '../render/render-pool.js';
import { ProblemError } from '../safety/problem-error.js';
import { FONTS } from './font-catalogue.js';

/** Fonts and the setting of text in them. */
export class LetteringService {
  constructor(private readonly pool: RenderPool) {}

  readonly fonts: readonly FontEntry[] = FONTS.map(({ file: _file, ...font }) => font);

  /** Path of a font's WOFF2 file. */
  path(id: string): string {
    const font = FONTS.find((one) => one.id === id);
    if (!font) throw new ProblemError(404, 'no-such-font', 'There is no font with this id.');
    return fileURLToPath(import.meta.resolve(font.file));
  }

  async set({ text, fontId, settings }: LetteringRequest): Promise<LetteringAnswer> {
    const { outlines, missing } = await this.pool.run('lettering', { path: this.path(fontId), text, settings });
    return { outlines, missing, instead: missing.length ? await this.fontsWith(missing) : [] };
  }

  /** One font of each script that has all of the letters. */
  private async fontsWith(letters: readonly string[]): Promise<FontEntry[]> {
    const found: FontEntry[] = [];
    for (const script of ['Latin', 'Arabic', 'Devanagari'] as const) {
      const font = this.fonts.find((one) => one.script === script)!;
      const { missing } = await this.pool.run('lettering', { path: this.path(font.id), text: letters.join(''), settings: { spacing: 0, lineSpacing: 100, align: 'left', bend: 0 } });
      if (!missing.length) found.push(font);
    }
    return found;
  }
}
