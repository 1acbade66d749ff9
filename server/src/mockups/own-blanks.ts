import { mkdir, mkdtemp, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Readable } from 'node:stream';
import type { Blank } from '@kettle/core/model';
import { treatedBy } from '@kettle/core/treatments';
import { filesOfBlank } from '@kettle/core/mockup';
import { fileNameOf } from '@kettle/core/naming';
import type { OwnBlankSource } from '@kettle/core/own-blank';
import type { Caller } from '../floor/basics/caller.js';
import { DiedError } from '../floor/processes/process-pool.js';
import type { RenderPools } from '../render/render-pools.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { AssetStore } from '../artwork/asset-store.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import { newId } from '../floor/database/ids.js';
import { readManifest, type BlankService } from './blanks.js';
import { withIncoming } from '../floor/files/incoming.js';

/** Largest pack that is taken in, bytes. */
const MOST_PACK_BYTES = 120 * 1024 * 1024;

/** What it works with. */
export interface OwnBlankDeps {
  readonly blanks: BlankService;
  readonly assetStore: AssetStore;
  readonly blobs: BlobStore;
  readonly pools: RenderPools;
  readonly cache: string;
}

/** Blanks that a seller makes of photos, and packs that come and go as archives. */
export class OwnBlankService {
  constructor(private readonly deps: OwnBlankDeps) {}

  /** Makes a blank of a photo, or makes one anew. @returns it, and what the seller should know of it */
  async make(
    who: Caller,
    source: OwnBlankSource,
    id: string | null,
  ): Promise<{ readonly blank: Blank; readonly doubts: readonly string[] }> {
    const asset = await this.deps.assetStore.get(who.owner, source.assetId);
    if (!asset)
      throw new ProblemError(404, 'no-such-asset', 'The photo of this blank is not here any more. Put it in again.');
    if (id !== null && !(await this.deps.blanks.source(who, id)))
      throw new ProblemError(409, 'no-source', 'This blank came as a pack. It cannot be changed here.');
    const treatments = source.treatments.filter((one) => one.kind !== 'crop');
    return this.within(async (folder) => {
      const doubts = await this.deps.pools.intake
        .run('ownPack', {
          id: id ?? `own-${newId()}`,
          source,
          path: await this.deps.blobs.localPath(asset.sha256),
          sha256: asset.sha256,
          treated: treatedBy(treatments) ?? null,
          folder,
        })
        .catch((error: unknown) => {
          throw error instanceof DiedError
            ? new ProblemError(
                422,
                'too-large',
                'This photo is too large to be made into a blank. Save a smaller copy of it.',
              )
            : error;
        });
      const blank =
        id === null
          ? await this.deps.blanks.add(who, folder, source)
          : await this.deps.blanks.replace(who, folder, source);
      return { blank, doubts };
    });
  }

  /** A pack as an archive: its manifest and its pictures. */
  async export(who: Caller, id: string): Promise<{ filename: string; content: Buffer }> {
    const { blank, files } = await this.deps.blanks.wholePack(who, id);
    const inputs = [
      { name: 'blank.json', content: JSON.stringify(blank, null, 1) },
      ...filesOfBlank(blank).map((name) => ({ name, path: files[name], store: true })),
    ];
    return this.within(async (folder) => {
      const out = join(folder, 'pack.zip');
      await this.deps.pools.intake.run('zip', { out, inputs });
      return { filename: `${fileNameOf(blank.name)}.blank.zip`, content: await readFile(out) };
    });
  }

  /** Takes in a pack that came as an archive. One whose id is taken gets another. @throws ProblemError with a sentence */
  import(who: Caller, stream: Readable): Promise<Blank> {
    return withIncoming(this.deps.cache, stream, MOST_PACK_BYTES, (path) =>
      this.within(async (folder) => {
        const { files } = await this.deps.pools.intake.run('unzip', { path, folder });
        const pathOf = (name: string): string | null => files.find((one) => one.name === name)?.path ?? null;
        const manifest = pathOf('blank.json');
        if (!manifest) throw badPack('A blank pack needs a manifest, blank.json.');
        const blank = await readManifest(manifest).catch((error: Error) => {
          throw badPack(error.message);
        });
        const found: Record<string, string> = {};
        for (const name of filesOfBlank(blank)) {
          const file = pathOf(name);
          if (!file) throw badPack(`The picture “${name}” of this blank pack is missing.`);
          found[name] = file;
        }
        await this.deps.pools.intake.run('checkPack', { blank, files: found });
        const pack = join(folder, 'pack');
        await mkdir(pack);
        for (const [name, file] of Object.entries(found)) {
          await mkdir(dirname(join(pack, name)), { recursive: true });
          await rename(file, join(pack, name));
        }
        // Where it came from another blank may have its name.
        const named = { ...blank, id: `own-${newId()}` };
        await writeFile(join(pack, 'blank.json'), JSON.stringify(named));
        return this.deps.blanks.add(who, pack);
      }),
    );
  }

  private async within<T>(work: (folder: string) => Promise<T>): Promise<T> {
    await mkdir(join(this.deps.cache, 'unpacked'), { recursive: true });
    const folder = await mkdtemp(join(this.deps.cache, 'unpacked', 'blank-'));
    try {
      return await work(folder);
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }
}

const badPack = (sentence: string): ProblemError => new ProblemError(422, 'bad-pack', sentence);
