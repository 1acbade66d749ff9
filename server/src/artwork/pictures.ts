import { join } from 'node:path';
import type { Asset } from '@kettle/contract';
import type { DesignDocument, Treatment } from '@kettle/core/model';
import { pictureKey, treatedBy, treatmentName, type Treated } from '@kettle/core/treatments';
import { picturesOf, type ShownPicture } from '@kettle/core/layers';
import { asVersion, backdropIdsOf, seenBy, versionsOf } from '@kettle/core/document';
import type { Caller } from '../floor/basics/caller.js';
import { drawnFile, type AssetsById } from '../render/documents/derive.js';
import type { Traced } from '../render/artwork/trace.js';
import { DiedError } from '../floor/processes/process-pool.js';
import type { RenderPools } from '../render/render-pools.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { AssetStore } from './asset-store.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { StoredDesign } from '../documents/stored-design.js';
import type { TreatedRow, TreatedStore } from './treated-store.js';
import { FileCache } from '../floor/files/file-cache.js';

/** What it works with. */
export interface PictureDeps {
  readonly assetStore: AssetStore;
  readonly treatedStore: TreatedStore;
  readonly blobs: BlobStore;
  readonly pools: RenderPools;
  readonly cache: string;
}

/**
 * Pictures as designs show them: files, and what is done to them. Whoever judges or draws a design asks here for what is
 * known of its pictures, and hears of the treated ones.
 */
export class PictureService {
  private readonly fileCache = new FileCache();
  /** Looking at pictures under way: two who ask at once wait for the same look. */
  private readonly looking = new Map<string, Promise<TreatedRow>>();

  constructor(private readonly deps: PictureDeps) {}

  /** What is known of the pictures of a design, of all its targets and versions, by their keys. */
  async of(design: Pick<StoredDesign, 'owner' | 'outline'>): Promise<AssetsById> {
    return this.byKey(design.owner, shownBy(design.outline));
  }

  /**
   * What is known of them already: nothing is looked at, so that it is answered at once.
   * @returns `isWhole` false when some of them were never looked at; those are not among the assets
   */
  async known(design: Pick<StoredDesign, 'owner' | 'outline'>): Promise<{ assets: AssetsById; isWhole: boolean }> {
    let isWhole = true;
    const assets = await this.byKey(design.owner, shownBy(design.outline), async () => {
      isWhole = false;
      return null;
    });
    return { assets, isWhole };
  }

  /** The same for several designs at once. */
  async ofAll(owner: string, documents: readonly DesignDocument[]): Promise<AssetsById> {
    return this.byKey(owner, documents.flatMap(shownBy));
  }

  /** @param look at a picture that was never looked at; one that it answers null for is left out */
  private async byKey(
    owner: string,
    pictures: readonly ShownPicture[],
    look: (asset: Asset, treatments: readonly Treatment[]) => Promise<TreatedRow | null> = (...one) =>
      this.look(...one),
  ): Promise<AssetsById> {
    const assets: Record<string, Asset> = await this.deps.assetStore.byId(
      owner,
      pictures.map((one) => one.assetId),
    );
    const treated = new Map(
      pictures
        .filter((one) => one.key !== one.assetId && Object.hasOwn(assets, one.assetId))
        .map((one) => [one.key, one]),
    );
    if (!treated.size) return assets;
    const pairs = [...treated.values()].map(({ assetId, treatments }) => ({
      assetId,
      name: treatmentName(treatments),
    }));
    const known = new Map((await this.deps.treatedStore.some(pairs)).map((row) => [`${row.assetId}.${row.name}`, row]));
    for (const [key, { assetId, treatments }] of treated) {
      const row = known.get(key) ?? (await look(assets[assetId], treatments ?? []));
      if (row) assets[key] = withFacts(assets[assetId], row);
    }
    return assets;
  }

  /** Looks at a picture with treatments, and remembers what is done to it and what was found. */
  async treat(who: Caller, assetId: string, treatments: readonly Treatment[]): Promise<Asset> {
    const asset = await this.asset(who, assetId);
    if (!treatmentName(treatments)) return asset;
    const known = await this.deps.treatedStore.get(assetId, treatmentName(treatments));
    return withFacts(asset, known ?? (await this.look(asset, treatments)));
  }

  private look(asset: Asset, treatments: readonly Treatment[]): Promise<TreatedRow> {
    const key = pictureKey(asset.id, treatments);
    let one = this.looking.get(key);
    if (!one) {
      one = this.lookNow(asset, treatments).finally(() => this.looking.delete(key));
      this.looking.set(key, one);
    }
    return one;
  }

  private async lookNow(asset: Asset, treatments: readonly Treatment[]): Promise<TreatedRow> {
    const path = await this.deps.blobs.localPath(drawnFile(asset));
    const facts = await this.deps.pools.view
      .run('treatedFacts', { path, treated: treatedBy(treatments)! })
      .catch((error: unknown) => {
        throw error instanceof DiedError
          ? new ProblemError(
              422,
              'too-much-to-treat',
              'This picture is too large to be worked on with these treatments. Save a smaller copy of it. Nothing was changed.',
            )
          : error;
      });
    const row = { assetId: asset.id, name: treatmentName(treatments), treatments, facts };
    await this.deps.treatedStore.put(row);
    return row;
  }

  /** What a treated picture's name stands for. @throws ProblemError when nobody asked for it yet */
  async treatedNamed(assetId: string, name: string): Promise<Treated> {
    const row = await this.deps.treatedStore.get(assetId, name);
    if (!row)
      throw new ProblemError(
        404,
        'no-such-treatment',
        'This picture was never treated like that. Load the page again.',
      );
    return treatedBy(row.treatments)!;
  }

  /** A picture with its treatments, redrawn as outlines of a few colours. Nothing is changed or kept. */
  async trace(who: Caller, assetId: string, treatments: readonly Treatment[], colours: number): Promise<Traced> {
    const sha256 = drawnFile(await this.asset(who, assetId));
    const treated = treatedBy(treatments);
    const path = await this.deps.blobs.localPath(sha256);
    return this.deps.pools.view
      .run('trace', { shown: { sha256, ...(treated ? { treated } : {}) }, path, colours })
      .catch((error: unknown) => {
        throw error instanceof DiedError
          ? new ProblemError(
              422,
              'too-much-to-trace',
              'Redrawing this picture took too long and was stopped. Choose fewer colours, or keep it as it is. Nothing was changed.',
            )
          : error;
      });
  }

  /** Path of a picture's working copy: what treatments are worked out on. */
  async working(who: Caller, assetId: string): Promise<{ path: string; sha256: string }> {
    const sha256 = drawnFile(await this.asset(who, assetId));
    const out = join(this.deps.cache, 'working', `${sha256}.rgba`);
    const path = await this.fileCache.path(out, async (unless) =>
      this.deps.pools.view.run('working', { path: await this.deps.blobs.localPath(sha256), out }, { unless }),
    );
    return { path, sha256 };
  }

  private async asset(who: Caller, id: string): Promise<Asset> {
    const asset = await this.deps.assetStore.get(who.owner, id);
    if (!asset) throw new ProblemError(404, 'no-such-asset', 'There is no artwork file with this id.');
    return asset;
  }
}

/** Pictures that a design shows anywhere: in itself, on its targets, and in their versions. */
function shownBy(document: DesignDocument): ShownPicture[] {
  try {
    const seen = document.targets.flatMap((target) =>
      versionsOf(target).map((cloth) => seenBy(document, asVersion(target, cloth, { colourways: [] }))),
    );
    const backdrops = backdropIdsOf(document).map((assetId): ShownPicture => ({
      assetId,
      key: assetId,
      treatments: undefined,
    }));
    return [...picturesOf([...document.layers, ...seen.flatMap((one) => one.layers)]), ...backdrops];
  } catch {
    // A document that is not as documents are shows nothing.
    return [];
  }
}

/** A treated picture is of pixels, whatever its file is. */
const withFacts = (asset: Asset, { facts }: TreatedRow): Asset => {
  const { liveText: _text, ...rest } = asset;
  return { ...rest, ...facts, vector: false, hasAlpha: true, dpi: null };
};
