import { createHash } from 'node:crypto';
import { readFile, readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { blankSchema, refuse, type ListedBlank } from '@kettle/contract';
import type { Box } from '@kettle/core/geometry';
import type { Blank } from '@kettle/core/model';
import {
  areaSeen,
  asStill,
  filesOfBlank,
  isMovingBlank,
  MAPS_EDITION,
  viewOf,
  type AreaGrid,
} from '@kettle/core/mockup';
import type { OwnBlankSource } from '@kettle/core/own-blank';
import type { Caller } from '../floor/basics/caller.js';
import type { Log } from '../floor/basics/log.js';
import type { RenderPool } from '../render/render-pool.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { BlankPackStore, StoredPack } from './blank-pack-store.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import { FileCache } from '../floor/files/file-cache.js';
import { AnswerCache } from '../floor/basics/answer-cache.js';

/** A blank with its pictures. */
export interface BlankPack {
  readonly blank: Blank;
  /**
   * SHA-256 over the manifest and every picture, hex: recipes name it, so that a pack that is changed makes its
   * pictures out of date.
   */
  readonly hash: string;
  /** Local paths of its pictures by their names in the manifest. */
  readonly files: Readonly<Record<string, string>>;
}

/** Blanks: those that are shipped, read once and checked, and the seller's own in the database. */
export class BlankService {
  private readonly fileCache = new FileCache();
  private readonly hashes = new Map<string, Promise<string>>();
  /** Where print areas are seen is found on the maps once per pack and area. */
  private readonly grids = new AnswerCache<AreaGrid>(500);

  private constructor(
    private readonly folder: string,
    private readonly shipped: readonly Blank[],
    private readonly own: BlankPackStore,
    private readonly blobs: BlobStore,
    private readonly pool: RenderPool,
    private readonly cache: string,
  ) {}

  /**
   * Reads the shipped packs. One that is not as it should be is left out and said so: the others are none the worse.
   */
  static async open(
    folder: string,
    own: BlankPackStore,
    blobs: BlobStore,
    pool: RenderPool,
    cache: string,
    log: Log,
  ): Promise<BlankService> {
    const names = (await readdir(folder, { withFileTypes: true }))
      .filter((entry) => entry.isDirectory())
      .map((entry) => entry.name)
      .sort();
    const blanks = await Promise.all(
      names.map(async (name) => {
        try {
          return await readPack(join(folder, name), name);
        } catch (error) {
          log.error({ pack: name, cause: (error as Error).message }, 'a blank pack was left out');
          return null;
        }
      }),
    );
    const sound = blanks.filter((blank) => blank !== null);
    // The shirt front is what nearly everyone wants first.
    sound.sort(
      (a, b) => Number(b.id === 'tee-front') - Number(a.id === 'tee-front') || a.category.localeCompare(b.category),
    );
    return new BlankService(folder, sound, own, blobs, pool, cache);
  }

  /** Blanks that are shipped. */
  get all(): readonly Blank[] {
    return this.shipped;
  }

  /** All that a seller can use. */
  async of(who: Caller): Promise<readonly ListedBlank[]> {
    const own = await this.own.list(who.owner);
    return [...this.shipped, ...own.map(({ blank }): ListedBlank => ({ ...blank, own: true }))];
  }

  async get(who: Caller, id: string): Promise<Blank> {
    return this.shipped.find((one) => one.id === id) ?? (await this.ownPack(who, id)).blank;
  }

  private async ownPack(who: Caller, id: string): Promise<StoredPack> {
    const pack = await this.own.get(who.owner, id);
    if (!pack) throw new ProblemError(404, 'no-such-blank', 'There is no blank with this id.');
    return pack;
  }

  /** A blank with its hash and its pictures as local files; one that moves as it stands still. */
  async pack(who: Caller, id: string): Promise<BlankPack> {
    const pack = await this.wholePack(who, id);
    return { ...pack, blank: asStill(pack.blank) };
  }

  /** A blank with its hash and all of its pictures. */
  async wholePack(who: Caller, id: string): Promise<BlankPack> {
    const shipped = this.shipped.find((one) => one.id === id);
    if (shipped)
      return {
        blank: shipped,
        hash: await this.hashOf(shipped),
        files: Object.fromEntries(filesOfBlank(shipped).map((name) => [name, join(this.folder, shipped.id, name)])),
      };
    const { blank, hash, files } = await this.ownPack(who, id);
    return {
      blank,
      hash,
      files: Object.fromEntries(
        await Promise.all(
          Object.entries(files).map(async ([name, sha256]) => [name, await this.blobs.localPath(sha256)]),
        ),
      ),
    };
  }

  private hashOf(blank: Blank): Promise<string> {
    let hash = this.hashes.get(blank.id);
    if (!hash) this.hashes.set(blank.id, (hash = hashOfFolder(join(this.folder, blank.id), blank)));
    return hash;
  }

  /**
   * Keeps a pack of the seller's own from a folder with a manifest and its pictures.
   * @param source what it was made from, for one that was made here
   * @throws ProblemError 422 when it is not as it should be, 409 when its id is taken
   */
  async add(who: Caller, folder: string, source: OwnBlankSource | null = null): Promise<Blank> {
    const blank = await readPack(folder, null).catch((error: Error) => {
      throw new ProblemError(422, 'bad-pack', error.message);
    });
    if (this.shipped.some((one) => one.id === blank.id) || !(await this.own.isFree(blank.id)))
      throw new ProblemError(409, 'blank-taken', `There is a blank “${blank.id}” already. Give this one another id.`);
    return this.put(who, folder, blank, source);
  }

  /** Keeps a changed pack under its id: pictures made with it become out of date. */
  async replace(who: Caller, folder: string, source: OwnBlankSource): Promise<Blank> {
    const blank = await readPack(folder, null);
    await this.ownPack(who, blank.id);
    return this.put(who, folder, blank, source);
  }

  private async put(who: Caller, folder: string, blank: Blank, source: OwnBlankSource | null): Promise<Blank> {
    const files: Record<string, string> = {};
    for (const name of filesOfBlank(blank)) files[name] = (await this.blobs.put(join(folder, name))).sha256;
    await this.own.put(who.owner, { blank, hash: await hashOfFolder(folder, blank), files, source });
    return blank;
  }

  /** What an own blank was made from; null for one that came as a pack. */
  async source(who: Caller, id: string): Promise<OwnBlankSource | null> {
    return (await this.ownPack(who, id)).source;
  }

  async remove(who: Caller, id: string): Promise<void> {
    if (!(await this.own.remove(who.owner, id)))
      throw new ProblemError(404, 'no-such-blank', 'There is no blank of your own with this id.');
  }

  async restore(who: Caller, id: string): Promise<Blank> {
    const { blank } = await this.ownPack(who, id);
    await this.own.restore(who.owner, id);
    return blank;
  }

  /** Path of a small picture of the bare product. */
  async thumbnail(who: Caller, id: string): Promise<string> {
    const { blank, hash, files } = await this.pack(who, id);
    const out = join(this.cache, 'thumbnails', `${MAPS_EDITION}-${hash.slice(0, 32)}.webp`);
    return this.fileCache.path(out, (unless) => this.pool.run('blankThumbnail', { blank, files, out }, { unless }));
  }

  /**
   * Path of everything a preview of a blank, or of a part of it, needs at a size: maps reduced as the picture would have
   * them, in one compressed file. `alone` leaves out everything but the print area.
   */
  async preview(
    who: Caller,
    id: string,
    { areaId, crop, size, alone = false }: { areaId: string; crop: Box | null; size: number; alone?: boolean },
  ): Promise<{ path: string; tag: string }> {
    const { blank, hash, files } = await this.pack(who, id);
    demandArea(blank, areaId);
    const tag = `${MAPS_EDITION}-${hash.slice(0, 32)}-${areaId}-${size}${crop ? `-${cropName(crop)}` : ''}${alone ? '-area' : ''}`;
    const out = join(this.cache, 'previews', `${tag}.bin.gz`);
    const path = await this.fileCache.path(out, async (unless) => {
      const view = viewOf(blank, crop, size);
      const part = crop ? areaSeen(await this.grid(who, id, areaId), blank, view).part : undefined;
      await this.pool.run(
        'blankPreview',
        { blank, files, area: { areaId, alone, ...(part ? { part } : {}) }, view, out },
        { unless },
      );
    });
    return { path, tag };
  }

  /** Path of an archive with all pictures of a moving blank, those that are as large as it at half their size. */
  async halfFrames(who: Caller, id: string): Promise<{ path: string; tag: string }> {
    const { blank, hash, files } = await this.wholePack(who, id);
    if (!isMovingBlank(blank))
      throw new ProblemError(404, 'stands-still', 'This blank stands still: it has no frames.');
    const tag = `${MAPS_EDITION}-${hash.slice(0, 32)}-half`;
    const out = join(this.cache, 'previews', `${tag}.zip`);
    return {
      path: await this.fileCache.path(out, (unless) => this.pool.run('halfPack', { blank, files, out }, { unless })),
      tag,
    };
  }

  /** Path of a pack's picture. Only names that the pack itself lists are served. */
  async file(who: Caller, id: string, name: string): Promise<string> {
    const { files } = await this.pack(who, id);
    if (!Object.hasOwn(files, name)) throw new ProblemError(404, 'no-such-file', 'This blank has no such picture.');
    return files[name];
  }

  /** Where a print area is seen on its blank. */
  async grid(who: Caller, id: string, areaId: string): Promise<AreaGrid> {
    const { blank, hash, files } = await this.pack(who, id);
    demandArea(blank, areaId);
    return this.grids.get(`${hash} ${areaId}`, () => this.pool.run('areaGrid', { blank, files, areaId }));
  }
}

const cropName = (crop: Box | null): string => (crop ? [crop.x, crop.y, crop.width, crop.height].join('-') : 'whole');

function demandArea(blank: Blank, areaId: string): void {
  if (!blank.areas.some((area) => area.id === areaId))
    throw new ProblemError(404, 'no-such-area', `${blank.name} has no print area “${areaId}”.`);
}

/** Reads a pack's manifest. @throws Error with a sentence */
export async function readManifest(path: string): Promise<Blank> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new Error('A blank pack needs a manifest, blank.json.');
  });
  let manifest: unknown;
  try {
    manifest = JSON.parse(text);
  } catch {
    throw new Error('The manifest of this blank pack, blank.json, cannot be read as JSON.');
  }
  const wrong = refuse(blankSchema, manifest);
  if (wrong)
    throw new Error(
      `The manifest of this blank pack is not as it should be: ${Object.entries(wrong).map(([field, sentence]) => `${field}: ${sentence}`)[0]}`,
    );
  return manifest as Blank;
}

/**
 * Reads a pack's manifest and makes sure that its pictures are there. @param name the id it must have, or null for any
 * @throws Error with a sentence
 */
async function readPack(folder: string, name: string | null): Promise<Blank> {
  const blank = await readManifest(join(folder, 'blank.json'));
  if (name !== null && blank.id !== name)
    throw new Error(`The blank in the folder “${name}” says that its id is “${blank.id}”.`);
  for (const file of filesOfBlank(blank))
    await stat(join(folder, file)).catch(() => {
      throw new Error(`The picture “${file}” of this blank pack is missing.`);
    });
  return blank;
}

async function hashOfFolder(folder: string, blank: Blank): Promise<string> {
  const hash = createHash('sha256').update(JSON.stringify(blank));
  for (const name of filesOfBlank(blank).sort()) hash.update(name).update(await readFile(join(folder, name)));
  return hash.digest('hex');
}
