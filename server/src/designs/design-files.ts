import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { designSchema, refuse, requirementSchema, type DesignFileAnswer } from '@kettle/contract';
import type { Caller } from '../floor/basics/caller.js';
import { ownValue, MM_PER_INCH } from '@kettle/core/units';
import { IDENTITY } from '@kettle/core/geometry';
import { shortName } from '@kettle/core/text';
import {
  emptyDesign,
  MAX_LAYERS,
  SAME_SIZE_TOP,
  type DesignDocument,
  type Layer,
  type Requirement,
  type Target,
  type RequirementFields,
} from '@kettle/core/model';
import { ownSizeRequirement } from '@kettle/core/requirement';
import { assetIdsOf, fontIdsOf } from '@kettle/core/layers';
import { backdropIdsOf, layoutTarget, seenBy, withAssets, withFonts } from '@kettle/core/document';
import { filesOf, printRecipe, recipeLayers, type RecipeLayer } from '@kettle/core/recipes';
import { fileNameOf } from '@kettle/core/naming';
import type { OraLayer, OraNode } from '../render/archive/open-raster.js';
import type { RenderPools } from '../render/render-pools.js';
import type { Unpacked, ZipInput } from '../render/archive/zip.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { AssetStore } from '../artwork/asset-store.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { FontStore } from '../lettering/font-store.js';
import { newId } from '../floor/database/ids.js';
import type { RequirementStore } from '../requirements/requirement-store.js';
import { MOST_UPLOAD_BYTES, type AssetService } from '../artwork/assets.js';
import { lookedAt, targetOf, type DesignService } from './designs.js';
import { withIncoming } from '../floor/files/incoming.js';
import type { LetteringService } from '../lettering/lettering.js';
import { damagedDesign, FORMAT, type Manifest } from '../render/archive/design-manifest.js';
import { compositeOp } from '../render/archive/ora-stack.js';
import { shaOf } from '../documents/design-processor.js';

export interface MadeFile {
  readonly path: string;
  readonly filename: string;
  readonly type: string;
  done(): Promise<void>;
}

/** What it works with. */
export interface DesignFileDeps {
  readonly designs: DesignService;
  readonly requirements: RequirementStore;
  readonly assetStore: AssetStore;
  readonly assets: AssetService;
  readonly fontStore: FontStore;
  readonly lettering: LetteringService;
  readonly blobs: BlobStore;
  readonly pools: RenderPools;
  readonly cache: string;
}

/** Whole designs as files: the product's own open form, and OpenRaster. */
export class DesignFileService {
  constructor(private readonly deps: DesignFileDeps) {}

  /** The design with all that it is made of. The same design always gives the same bytes. */
  async kettle(who: Caller, id: string): Promise<MadeFile> {
    const { document } = await this.deps.designs.get(who, id);
    const inputs: ZipInput[] = [];
    const assets: Record<string, Manifest['assets'][string]> = {};
    const fonts: Record<string, Manifest['fonts'][string]> = {};
    for (const [assetId, { sha256, filename }] of Object.entries(
      await this.deps.assetStore.byId(who.owner, [...assetIdsOf(document.layers), ...backdropIdsOf(document)]),
    ).sort(([a], [b]) => (a < b ? -1 : 1))) {
      const file = `originals/${sha256.slice(0, 12)}-${fileNameOf(filename.replace(/\.\w+$/, '')).slice(0, 60)}${/\.\w{1,5}$/.exec(filename)?.[0] ?? ''}`;
      assets[assetId] = { file, filename, sha256 };
      if (!inputs.some((one) => one.name === file))
        inputs.push({ name: file, path: await this.deps.blobs.localPath(sha256), store: true });
    }
    for (const fontId of [...new Set(fontIdsOf(document.layers))].sort()) {
      const own = await this.deps.fontStore.get(who.owner, fontId);
      if (!own) continue;
      const file = `fonts/${own.sha256.slice(0, 12)}-${own.filename.replace(/[^\w.-]+/g, '-')}`;
      fonts[fontId] = { file, filename: own.filename, sha256: own.sha256 };
      inputs.push({ name: file, path: await this.deps.blobs.localPath(own.sha256), store: true });
    }
    const known = await Promise.all(
      document.targets.map((target) => this.deps.requirements.get(who.owner, target.requirementId)),
    );
    const manifest: Manifest = {
      format: FORMAT,
      version: 1,
      document,
      requirements: known.filter((one) => one !== null),
      assets,
      fonts,
    };
    return this.make(`${fileNameOf(document.name)}.kettle.zip`, 'application/zip', (out) =>
      this.deps.pools.intake.run('zip', {
        out,
        inputs: [{ name: 'design.json', content: JSON.stringify(manifest, null, 1) }, ...inputs],
      }),
    );
  }

  /** The design as OpenRaster: on a target's canvas, or on its print field at 300 DPI. */
  async openRaster(who: Caller, id: string, requirementId: string | null): Promise<MadeFile> {
    const { document } = await this.deps.designs.get(who, id);
    const requirement = requirementId === null ? null : await this.deps.requirements.demand(who.owner, requirementId);
    const target = requirement && targetOf(document, requirement.id);
    const layout = requirement && target && layoutTarget(document, target, requirement);
    const seen = seenBy(document, target ?? undefined);
    const assets = await this.deps.assetStore.byId(who.owner, assetIdsOf(document.layers));
    const dpi = layout?.canvas.dpi ?? 300;
    const grid = layout
      ? { width: layout.canvas.widthPx, height: layout.canvas.heightPx }
      : {
          width: Math.round((document.field.width / MM_PER_INCH) * dpi),
          height: Math.round((document.field.height / MM_PER_INCH) * dpi),
        };
    const recipeOf = (layers: readonly Layer[]) =>
      recipeLayers({ ...seen, layers }, layout?.toCanvas ?? IDENTITY, dpi, shaOf(assets));
    const stack: OraNode[] = [];
    let group: { key: string; children: OraLayer[] } | null = null;
    for (const layer of [...seen.layers].reverse()) {
      const [recipe] = recipeOf([{ ...layer, hidden: false, opacity: 1, blend: 'normal' }]);
      const one: OraLayer = {
        name: layer.name,
        opacity: layer.opacity,
        hidden: layer.hidden,
        locked: layer.locked === true,
        composite: compositeOp(layer.blend),
        recipe,
      };
      if (layer.group && group?.key === layer.group) group.children.push(one);
      else if (layer.group) {
        group = { key: layer.group, children: [one] };
        stack.push({ name: ownValue(document.groups, layer.group) ?? 'Group', children: group.children });
      } else {
        group = null;
        stack.push(one);
      }
    }
    const all = seen.layers.map((layer) => ({ ...layer, hidden: false, opacity: 1 }));
    const files = await this.filesFor(recipeOf(all));
    return this.make(`${fileNameOf(document.name)}.ora`, 'image/openraster', (out) =>
      this.deps.pools.intake.run('openRaster', {
        name: document.name,
        grid,
        dpi,
        stack,
        merged: recipeOf(seen.layers),
        files,
        out,
      }),
    );
  }

  /**
   * Some layers alone, on a target's canvas at its DPI or on the print field at 300, with true transparency.
   * @param what.cut whether the file is as large as their ink, or as the canvas
   * @throws ProblemError 404 for layers that are not there, 422 where SVG cannot hold them
   */
  async part(
    who: Caller,
    id: string,
    what: {
      readonly layerIds: readonly string[];
      readonly requirementId: string | null;
      readonly type: 'png' | 'svg';
      readonly cut: boolean;
    },
  ): Promise<MadeFile> {
    const { document } = await this.deps.designs.get(who, id);
    const wanted = new Set(what.layerIds);
    const layers = document.layers
      .filter((layer) => wanted.has(layer.id))
      .map((layer) => ({ ...layer, hidden: false }));
    if (!layers.length) throw new ProblemError(404, 'no-such-layer', 'These layers are not in this design any more.');
    const asked =
      what.requirementId === null ? null : await this.deps.requirements.demand(who.owner, what.requirementId);
    const { width, height } = document.field;
    const requirement: Requirement = {
      ...(asked ?? {
        ...ownSizeRequirement({ width, height, unit: 'mm', dpi: 300, clear: true }),
        placement: SAME_SIZE_TOP,
        id: 'field',
        revision: 0,
      }),
      mode: 'rgb',
      transparency: 'required',
      fileTypes: [what.type],
      preferred: undefined,
      mirrored: false,
      bleedMm: undefined,
    };
    const seen = asked && lookedAt(targetOf(document, asked.id), asked);
    // What is asked for is shown, though the target hides it.
    const exceptions = Object.entries(seen?.layers ?? {}).map(([key, { hidden: _hidden, ...one }]) => [key, one]);
    const target: Target = seen
      ? { ...seen, keyline: null, layers: Object.fromEntries(exceptions) as Target['layers'] }
      : { requirementId: requirement.id };
    const assets = await this.deps.assetStore.byId(who.owner, assetIdsOf(layers));
    const { keyline: _around, ...rest } = document;
    const recipe = printRecipe({ ...rest, layers }, target, requirement, shaOf(assets), assets);
    if ((recipe.type ?? 'png') !== what.type)
      throw new ProblemError(
        422,
        'not-outlines',
        'SVG holds outlines alone, and there is a picture in it, or something was rubbed out of it. Take it as PNG.',
      );
    const [first] = layers;
    const name = `${fileNameOf(document.name)}-${layers.length === 1 ? fileNameOf(first.name) : `${layers.length}-layers`}`;
    const files = await this.filesFor(recipe.layers);
    return this.make(`${name}.${what.type}`, what.type === 'svg' ? 'image/svg+xml' : 'image/png', (out) =>
      this.deps.pools.intake.run('partFile', { recipe, files, cut: what.cut, out }),
    );
  }

  /** Paths of the files that layers are drawn from. */
  private async filesFor(layers: readonly RecipeLayer[]): Promise<Record<string, string>> {
    return Object.fromEntries(
      await Promise.all(
        filesOf(layers).map(async (sha256) => [sha256, await this.deps.blobs.localPath(sha256)] as const),
      ),
    );
  }

  /** Takes in a design file of either form. What cannot be read is left out and told. */
  takeIn(who: Caller, stream: Readable, name: string): Promise<DesignFileAnswer> {
    return withIncoming(this.deps.cache, stream, MOST_UPLOAD_BYTES, async (path) => {
      await mkdir(join(this.deps.cache, 'unpacked'), { recursive: true });
      const folder = await mkdtemp(join(this.deps.cache, 'unpacked', 'design-'));
      try {
        const unpacked = await this.deps.pools.intake.run('unzip', { path, folder });
        const told = unpacked.salvaged ? ['The file is damaged: what could be found in it was taken.'] : [];
        const file = (wanted: string) => unpacked.files.find((one) => one.name === wanted);
        if (file('design.json')) return await this.takeKettle(who, unpacked, told);
        if (file('stack.xml')) return await this.takeOpenRaster(who, unpacked, told, name);
        throw new ProblemError(
          415,
          'no-design',
          'This archive holds no design: neither design.json nor an OpenRaster stack.xml is in it.',
        );
      } finally {
        await rm(folder, { recursive: true, force: true });
      }
    });
  }

  private async takeKettle(who: Caller, unpacked: Unpacked, told: string[]): Promise<DesignFileAnswer> {
    const list = unpacked.files.find((one) => one.name === 'design.json')?.path;
    if (!list)
      throw damagedDesign('design.json in it cannot be read, and without it there is no arrangement to restore');
    const manifest = (await this.deps.pools.intake.run('manifest', { path: list })) as Manifest;
    const pathOf = (file: string): string | null => unpacked.files.find((one) => one.name === file)?.path ?? null;
    for (const requirement of listOf(manifest.requirements, MOST_TARGETS)) {
      if (typeof requirement !== 'object' || requirement === null) continue;
      const { id, revision: _revision, ...fields } = requirement;
      if (typeof id !== 'string' || !/^[\w-]{1,64}$/.test(id)) continue;
      if (await this.deps.requirements.get(who.owner, id)) continue;
      if (refuse(requirementSchema, fields)) {
        told.push(`The requirement “${String(requirement.name)}” is damaged; its target was left out.`);
        continue;
      }
      await this.deps.requirements.add(who.owner, fields as RequirementFields, id);
    }
    const assets: Record<string, string> = {};
    for (const assetId of new Set([...assetIdsOf(manifest.document.layers), ...backdropIdsOf(manifest.document)])) {
      const { file, filename } = entryOf(manifest.assets, assetId) ?? { file: '', filename: assetId };
      const path = pathOf(file);
      try {
        if (!path) throw new ProblemError(422, 'missing', 'it is damaged or not in the file');
        assets[assetId] = (await this.deps.assets.keep(who, path, filename, ownId(assetId))).id;
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error;
        told.push(`The picture “${filename}” was left out with its layers: ${error.message}`);
      }
    }
    const fonts: Record<string, string> = {};
    for (const fontId of new Set(fontIdsOf(manifest.document.layers).filter((one) => entryOf(manifest.fonts, one)))) {
      const { file, filename } = entryOf(manifest.fonts, fontId)!;
      const path = pathOf(file);
      try {
        if (!path) throw new ProblemError(422, 'missing', 'it is damaged or not in the file');
        fonts[fontId] = (await this.deps.lettering.keep(who, path, filename, ownId(fontId))).id;
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error;
        told.push(`The font “${filename}” was left out, its letters stay as they are: ${error.message}`);
      }
    }
    const known = new Set((await this.deps.requirements.list(who.owner)).map((one) => one.id));
    const { document } = manifest;
    const whole = withFonts(withAssets(document, assets), fonts);
    const targets = whole.targets.filter((target) => known.has(target.requirementId));
    return {
      design: await this.deps.designs.add(who, {
        ...whole,
        ...(targets.length < whole.targets.length ? { targets } : {}),
      }),
      told,
    };
  }

  private async takeOpenRaster(
    who: Caller,
    unpacked: Unpacked,
    told: string[],
    filename: string,
  ): Promise<DesignFileAnswer> {
    const fileOf = (name: string) => unpacked.files.find((one) => one.name === name);
    const list = fileOf('stack.xml')?.path;
    if (!list)
      throw new ProblemError(422, 'damaged-ora', 'This OpenRaster file is damaged: its list of layers cannot be read.');
    const stack = await this.deps.pools.intake.run('oraStack', { path: list });
    told.push(...stack.told);
    const mm = (pixels: number): number => (pixels / stack.dpi) * MM_PER_INCH;
    const layers: Layer[] = [];
    const groups: Record<string, string> = {};
    for (const { name, src, x, y, opacity, hidden, locked, blend, group } of stack.layers) {
      if (layers.length === MAX_LAYERS) {
        told.push(`A design holds at most ${MAX_LAYERS} layers; the others were left out.`);
        break;
      }
      const path = fileOf(src)?.path;
      try {
        if (!path) throw new ProblemError(422, 'missing', 'it is damaged or not in the file.');
        const asset = await this.deps.assets.keep(who, path, `${fileNameOf(name)}.png`);
        const [width, height] = [mm(asset.width), mm(asset.height)];
        layers.push({
          kind: 'picture',
          id: newId(),
          name,
          assetId: asset.id,
          opacity,
          hidden,
          ...(locked ? { locked } : {}),
          ...(blend === 'normal' ? {} : { blend }),
          ...(group ? { group: group.key } : {}),
          place: { x: mm(x) + width / 2, y: mm(y) + height / 2, width, height, turn: 0, flipX: false, flipY: false },
        });
        if (group) groups[group.key] = group.name;
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error;
        told.push(`The layer “${name}” was left out: ${error.message}`);
      }
    }
    if (!layers.length)
      throw new ProblemError(
        422,
        'nothing-readable',
        `No layer of this OpenRaster file can be read. ${told[0] ?? ''}`.trim(),
      );
    const [first] = await this.deps.requirements.list(who.owner);
    const title = stack.name.trim() || filename.replace(/\.\w+$/, '').replace(/[_-]+/g, ' ');
    const document: DesignDocument = {
      ...emptyDesign(shortName(title, 120, 'Untitled design'), { width: mm(stack.width), height: mm(stack.height) }),
      layers,
      groups,
      targets: first ? [{ requirementId: first.id }] : [],
    };
    const wrong = refuse(designSchema, document);
    if (wrong) throw new ProblemError(422, 'not-as-demanded', Object.values(wrong)[0]);
    return { design: await this.deps.designs.add(who, document), told };
  }

  /** Makes a file in the cache; the caller sends it and then calls `done`. */
  private async make(filename: string, type: string, write: (out: string) => Promise<unknown>): Promise<MadeFile> {
    const folder = join(this.deps.cache, 'outgoing');
    await mkdir(folder, { recursive: true });
    const path = join(folder, newId());
    await write(path);
    return { path, filename, type, done: () => rm(path, { force: true }) };
  }
}

/** Most requirements a design file can have use for. */
const MOST_TARGETS = 100;

/** A list out of a file that anybody may have written; empty when it is none. */
const listOf = <T>(value: readonly T[] | undefined, most: number): readonly T[] =>
  Array.isArray(value) ? (value as readonly T[]).slice(0, most) : [];

/** What a file says of one of its pictures or fonts, if it says so in words. */
function entryOf(entries: Manifest['assets'] | undefined, id: string): { file: string; filename: string } | undefined {
  const entry: unknown = typeof entries === 'object' && entries !== null ? ownValue(entries, id) : undefined;
  if (typeof entry !== 'object' || entry === null) return undefined;
  const { file, filename } = entry as Record<string, unknown>;
  return { file: typeof file === 'string' ? file : '', filename: typeof filename === 'string' ? filename : id };
}

/** An id that can be taken over as it is. */
const ownId = (id: string): string | undefined => (/^[\w-]{1,32}$/.test(id) ? id : undefined);
