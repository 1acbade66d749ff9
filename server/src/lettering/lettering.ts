import type { Readable } from 'node:stream';
import type { FontFamily, LetteringAnswer, LetteringRequest } from '@kettle/contract';
import type { Caller } from '../floor/basics/caller.js';
import type { KnownFonts } from '../render/artwork/inspect.js';
import type { RenderPools } from '../render/render-pools.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { FontStore, OwnFont } from './font-store.js';
import { FAMILIES, shippedFiles } from '../render/text/font-catalogue.js';
import { cleanName, withIncoming } from '../floor/files/incoming.js';

/** Largest font file. */
export const MOST_FONT_BYTES = 40 * 1024 * 1024;

const PROBE = { spacing: 0, lineSpacing: 100, align: 'left', bend: 0 } as const;

/** What it works with. */
export interface LetteringDeps {
  readonly pools: Pick<RenderPools, 'type'>;
  readonly fontStore: FontStore;
  readonly blobs: BlobStore;
  readonly cache: string;
}

/** Fonts, shipped ones and the seller's own, and the setting of text in them. */
export class LetteringService {
  private readonly listeners: ((who: Caller) => Promise<void>)[] = [];

  constructor(private readonly deps: LetteringDeps) {}

  /** `hear` is told when a seller has other fonts, and waited for. */
  onChange(hear: (who: Caller) => Promise<void>): void {
    this.listeners.push(hear);
  }

  /** What live text may be set in. */
  async known(who: Caller): Promise<KnownFonts> {
    return {
      shipped: FAMILIES.map(({ name }) => name),
      own: await Promise.all(
        (await this.deps.fontStore.list(who.owner)).map(async ({ family, sha256 }) => ({
          family,
          path: await this.deps.blobs.localPath(sha256),
        })),
      ),
    };
  }

  async families(who: Caller): Promise<FontFamily[]> {
    return [...familiesOf(await this.deps.fontStore.list(who.owner)), ...FAMILIES];
  }

  /** Paths of a face's files, in the order they are asked for letters. */
  async paths(who: Caller, id: string): Promise<string[]> {
    const shipped = shippedFiles(id);
    if (shipped) return shipped;
    const font = await this.deps.fontStore.get(who.owner, id);
    if (!font) throw new ProblemError(404, 'no-such-font', 'There is no font with this id.');
    return [await this.deps.blobs.localPath(font.sha256)];
  }

  async path(who: Caller, id: string, index: number): Promise<string> {
    const path = (await this.paths(who, id))[index];
    if (!path) throw new ProblemError(404, 'no-such-font', 'There is no font with this id.');
    return path;
  }

  /** Takes in a seller's own font once it has been read whole and tried. */
  async takeIn(who: Caller, stream: Readable, name: string): Promise<FontFamily> {
    return withIncoming(this.deps.cache, stream, MOST_FONT_BYTES, async (path) => {
      const font = await this.keep(who, path, name);
      return familiesOf((await this.deps.fontStore.list(who.owner)).filter((one) => one.family === font.family))[0];
    });
  }

  /** Keeps a font file that lies on the disk. `wanted` is an id it should have, if that is free. */
  async keep(who: Caller, path: string, name: string, wanted?: string): Promise<OwnFont> {
    const { family, weight, scripts } = await this.deps.pools.type.run('checkFont', { path });
    const { sha256 } = await this.deps.blobs.put(path);
    const filename = cleanName(name);
    const font = await this.deps.fontStore.add(
      who.owner,
      { sha256, filename, family: family || filename.replace(/\.\w+$/, ''), weight, scripts },
      wanted && (await this.deps.fontStore.isFree(wanted)) && !shippedFiles(wanted) ? wanted : undefined,
    );
    for (const hear of this.listeners) await hear(who);
    return font;
  }

  /** Takes an own face off, or with it its whole family. @throws ProblemError 404 */
  async remove(who: Caller, id: string, isWholeFamily = false): Promise<void> {
    if (!(await this.deps.fontStore.remove(who.owner, id, isWholeFamily)))
      throw new ProblemError(404, 'no-such-font', 'There is no font of your own with this id.');
  }

  async set(who: Caller, { text, fontId, settings }: LetteringRequest): Promise<LetteringAnswer> {
    const { outlines, missing } = await this.deps.pools.type.run('lettering', {
      paths: await this.paths(who, fontId),
      text,
      settings,
    });
    return { outlines, missing, instead: missing.length ? await this.familiesWith(who, missing) : [] };
  }

  /** The first family of each script, and those of the seller's own, that have all of the letters. */
  private async familiesWith(who: Caller, letters: readonly string[]): Promise<FontFamily[]> {
    const all = await this.families(who);
    const first = (['Latin', 'Arabic', 'Devanagari', 'Japanese'] as const).map((script) =>
      FAMILIES.find(
        (family) => family.scripts.includes(script) && (script !== 'Latin' || family.scripts.length === 1),
      )!,
    );
    const able: FontFamily[] = [];
    for (const family of [...all.filter((one) => one.category === 'own').slice(0, 6), ...first]) {
      const { missing } = await this.deps.pools.type.run('lettering', {
        paths: await this.paths(who, family.start),
        text: letters.join(''),
        settings: PROBE,
      });
      if (!missing.length) able.push(family);
    }
    return able;
  }
}

function familiesOf(fonts: readonly OwnFont[]): FontFamily[] {
  const byName = new Map<string, OwnFont[]>();
  for (const font of fonts) byName.set(font.family, [...(byName.get(font.family) ?? []), font]);
  return [...byName].map(([name, members]): FontFamily => ({
    name,
    category: 'own',
    scripts: members[0].scripts,
    faces: members.map(({ id, weight }) => ({ id, weight, files: 1 })),
    start: members.reduce((best, one) => (Math.abs(one.weight - 400) < Math.abs(best.weight - 400) ? one : best)).id,
  }));
}
