import { mkdir, open, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import type { Asset } from '@kettle/contract';
import type { Caller } from '../floor/basics/caller.js';
import type { Treated } from '@kettle/core/treatments';
import type { Inspection } from '../render/artwork/inspect.js';
import { HEIC_HEAD, isHeic } from '../render/artwork/heic.js';
import { treatedName } from '../render/artwork/treated.js';
import { DiedError, StoppedError } from '../floor/processes/process-pool.js';
import type { RenderPools } from '../render/render-pools.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { LetteringService } from '../lettering/lettering.js';
import type { AssetStore } from './asset-store.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import { newId } from '../floor/database/ids.js';
import { cleanName, withIncoming } from '../floor/files/incoming.js';
import { FileCache } from '../floor/files/file-cache.js';

/** Largest upload. */
export const MOST_UPLOAD_BYTES = 256 * 1024 * 1024;

/** Sizes a rendition comes in, px of the longer side. Any wish is rounded up to one of them. */
const RENDITION_SIZES = [256, 512, 1024, 2048];

const stoppedReader = (): ProblemError =>
  new ProblemError(
    422,
    'decoder-died',
    'This file makes the picture reader stop working, so it was not used. Export it again or in another format. Nothing is lost.',
  );

/** What it works with. */
export interface AssetDeps {
  readonly assetStore: AssetStore;
  readonly blobs: BlobStore;
  readonly pools: RenderPools;
  readonly cache: string;
  readonly lettering: LetteringService;
  readonly mostUploadBytes?: number;
}

/** Artwork files: taken in, sniffed by content, kept untouched. */
export class AssetService {
  private readonly fileCache = new FileCache();

  constructor(private readonly deps: AssetDeps) {}

  /** Takes in a stream of bytes. Its name is only a label; what it is, its bytes decide. */
  async takeIn(who: Caller, stream: Readable, name: string): Promise<Asset> {
    return withIncoming(this.deps.cache, stream, this.deps.mostUploadBytes ?? MOST_UPLOAD_BYTES, (path) =>
      this.keep(who, path, name),
    );
  }

  /** Keeps an artwork file that lies on the disk. `wanted` is an id it should have, if that is free. */
  async keep(who: Caller, path: string, name: string, wanted?: string): Promise<Asset> {
    if (await startsAsHeic(path)) return this.keepHeic(who, path, name, wanted);
    return this.keepReadable(who, path, name, [], wanted);
  }

  /** A photo that only few readers can open is kept as a PNG of the same pixels. */
  private async keepHeic(who: Caller, path: string, name: string, wanted?: string): Promise<Asset> {
    const out = `${path}.png`;
    try {
      await this.deps.pools.intake.run('fromHeic', { path, out }).catch((error: unknown) => {
        throw error instanceof DiedError ? stoppedReader() : error;
      });
      const said = 'Kept as PNG: few readers open HEIC. Its pixels and its colour profile are the same.';
      return await this.keepReadable(who, out, `${name.replace(/\.\w+$/, '')}.png`, [said], wanted);
    } finally {
      await rm(out, { force: true });
    }
  }

  private async keepReadable(
    who: Caller,
    path: string,
    name: string,
    said: readonly string[],
    wanted?: string,
  ): Promise<Asset> {
    const { facts: found, mode } = await this.inspect(who, path).catch((error: unknown) => {
      throw error instanceof DiedError ? stoppedReader() : error;
    });
    const facts = { ...found, conversions: [...said, ...found.conversions] };
    const blob = await this.deps.blobs.put(path);
    return this.deps.assetStore.add(who.owner, blob.sha256, cleanName(name), blob.bytes, mode, facts, wanted);
  }

  /** Looks at a file, and keeps what is drawn of it where that is another one. */
  private async inspect(who: Caller, path: string): Promise<Inspection> {
    const folder = join(this.deps.cache, 'incoming');
    await mkdir(folder, { recursive: true });
    const out = join(folder, newId());
    try {
      const found = await this.deps.pools.intake.run('inspect', {
        path,
        fonts: await this.deps.lettering.known(who),
        out,
      });
      if (!found.isRedrawn) return found;
      const { sha256 } = await this.deps.blobs.put(out);
      return { ...found, facts: { ...found.facts, outlined: sha256 } };
    } finally {
      await rm(out, { force: true });
    }
  }

  /** Looks again at drawings with text, because the seller has another font. @param again hears of each */
  async lookAgainAtText(who: Caller, again: () => void): Promise<void> {
    await this.deps.assetStore.lookAgainAtText(who.owner);
    await this.measureAgain(again, who.owner);
  }

  /**
   * Measures files anew that came in under an older way of measuring, a few at a time and in a lane where nobody waits.
   * @param again hears of each that was measured
   * @param of one seller's, or all
   */
  async measureAgain(again: () => void, of: string | null = null): Promise<void> {
    for (;;) {
      const some = await this.deps.assetStore.measuredBefore(20, of);
      if (!some.length) return;
      for (const { id, owner, sha256 } of some) {
        const path = await this.deps.blobs.localPath(sha256);
        const found = await this.inspect({ owner }, path).catch((error: unknown) => {
          if (error instanceof StoppedError) throw error;
          return null;
        });
        await this.deps.assetStore.measured(id, found && found.facts);
        again();
      }
    }
  }

  /**
   * The drawing with all of its live text in a face that prints alike everywhere, as a file of its own. The original
   * stays.
   */
  async inFace(who: Caller, id: string, family: string): Promise<Asset> {
    const { asset, path } = await this.content(who, id);
    if (!asset.vector) throw new ProblemError(422, 'no-text', 'Only an SVG has text that can be set in a face.');
    const { shipped, own } = await this.deps.lettering.known(who);
    if (![...shipped, ...own.map((one) => one.family)].includes(family))
      throw new ProblemError(
        422,
        'no-such-font',
        'There is no face of this name. Choose a shipped one, or upload your own first.',
      );
    const folder = join(this.deps.cache, 'incoming');
    await mkdir(folder, { recursive: true });
    const out = join(folder, newId());
    try {
      await this.deps.pools.intake.run('setFace', { path, out, face: family });
      return await this.keep(who, out, `${asset.filename.replace(/\.\w+$/, '')} in ${family}.svg`);
    } finally {
      await rm(out, { force: true });
    }
  }

  async get(who: Caller, id: string): Promise<Asset> {
    const asset = await this.deps.assetStore.get(who.owner, id);
    if (!asset) throw new ProblemError(404, 'no-such-asset', 'There is no artwork file with this id.');
    return asset;
  }

  async content(who: Caller, id: string): Promise<{ asset: Asset; path: string }> {
    const asset = await this.get(who, id);
    return { asset, path: await this.deps.blobs.localPath(asset.sha256) };
  }

  /**
   * Path of a PNG no side longer than `size` px (rounded up to a kept size). @param light reduced in linear light
   */
  async rendition(sha256: string, size: number, treated?: Treated, light = false): Promise<string> {
    const kept = RENDITION_SIZES.find((one) => one >= size) ?? RENDITION_SIZES.at(-1)!;
    const out = join(
      this.deps.cache,
      'renditions',
      `${treated ? treatedName(sha256, treated) : sha256}-${kept}${light ? '-light' : ''}.png`,
    );
    return this.fileCache.path(out, async (unless) => {
      const path = await this.deps.blobs.localPath(sha256);
      return this.deps.pools.view.run('rendition', { sha256, treated, path, size: kept, light, out }, { unless });
    });
  }
}

async function startsAsHeic(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEIC_HEAD), 0, HEIC_HEAD, 0);
    return isHeic(buffer.subarray(0, bytesRead));
  } finally {
    await file.close();
  }
}
