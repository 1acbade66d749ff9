import { createHash } from 'node:crypto';
import { readFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { pictureSetSchema, refuse, type PictureRequest, type SheetSet } from '@kettle/contract';
import type { DesignDocument, Requirement } from '@kettle/core/model';
import {
  coloursOf,
  PICTURE_ENGINE,
  requirementForBlank,
  soldIn,
  type PictureSet,
  type PictureSetFields,
} from '@kettle/core/mockup';
import type { Caller } from '../floor/basics/caller.js';
import type { Log } from '../floor/basics/log.js';
import type { PictureRecipes } from './picture.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { DesignStore } from '../designs/design-store.js';
import type { PictureSetStore, StoredShot } from './picture-set-store.js';
import type { SheetDesign } from '../designs/sheet-store.js';
import type { StoredDesign } from '../documents/stored-design.js';
import type { BlankPack } from './blanks.js';

/** One picture of a set, as it is asked for of a design. */
export interface WantedPicture {
  /** What it is called in the set. */
  readonly name: string;
  readonly blankName: string;
  readonly request: PictureRequest;
}

/** A picture of a set, or why there cannot be one. */
type Wanted = WantedPicture | { readonly name: string; readonly wrong: string };

/** Usual rows of listing pictures: those that are shipped and the seller's own, and how far designs are with them. */
export class PictureSetService {
  private constructor(
    private readonly shipped: readonly PictureSet[],
    private readonly store: PictureSetStore,
    private readonly designs: DesignStore,
    private readonly recipes: PictureRecipes,
  ) {}

  /** Reads the shipped sets. One that is not as it should be is left out and said so. */
  static async open(
    folder: string,
    store: PictureSetStore,
    designs: DesignStore,
    recipes: PictureRecipes,
    log: Log,
  ): Promise<PictureSetService> {
    const names = (await readdir(folder)).filter((name) => name.endsWith('.json')).sort();
    const sets: PictureSet[] = [];
    for (const name of names) {
      const fields = JSON.parse(await readFile(join(folder, name), 'utf8')) as PictureSetFields;
      const wrong = refuse(pictureSetSchema, fields);
      if (wrong) log.error({ set: name, wrong }, 'a picture set was left out');
      else sets.push({ ...fields, id: name.replace('.json', ''), revision: 1, shipped: true });
    }
    return new PictureSetService(sets, store, designs, recipes);
  }

  async list(who: Caller): Promise<readonly PictureSet[]> {
    return [...this.shipped, ...(await this.store.list(who.owner))];
  }

  /** @throws ProblemError 404 */
  async get(who: Caller, id: string): Promise<PictureSet> {
    const set = (await this.list(who)).find((one) => one.id === id);
    if (!set) throw new ProblemError(404, 'no-such-set', 'There is no picture set with this id.');
    return set;
  }

  add(who: Caller, fields: PictureSetFields): Promise<PictureSet> {
    return this.store.add(who.owner, fields);
  }

  async change(who: Caller, id: string, revision: number, fields: PictureSetFields): Promise<PictureSet> {
    await this.own(who, id);
    const changed = await this.store.change(who.owner, id, revision, fields);
    if (!changed)
      throw new ProblemError(
        412,
        'stale-revision',
        'This set was changed elsewhere in the meantime. Nothing was overwritten; look at the newer one first.',
      );
    return changed;
  }

  async remove(who: Caller, id: string): Promise<void> {
    await this.own(who, id);
    await this.store.remove(who.owner, id);
  }

  private async own(who: Caller, id: string): Promise<void> {
    if ((await this.get(who, id)).shipped)
      throw new ProblemError(404, 'shipped-set', 'This set came with Kettle Sheet. Copy it, and change the copy.');
  }

  async use(who: Caller, designIds: readonly string[], setId: string | null): Promise<void> {
    if (setId !== null) await this.get(who, setId);
    await this.store.use(who.owner, designIds, setId);
  }

  /** The pictures of a set for a design. Shots whose blank is gone say so; the others are none the worse. */
  private async wanted(
    who: Caller,
    set: PictureSetFields,
    outline: DesignDocument,
    requirements: readonly Requirement[],
  ): Promise<Wanted[]> {
    const blanks = new Map((await this.recipes.blanks.of(who)).map((blank) => [blank.id, blank]));
    return set.shots.flatMap((shot): Wanted[] => {
      const blank = blanks.get(shot.blankId);
      if (!blank) return [{ name: shot.name, wrong: `${shot.name}: its blank is not there any more.` }];
      const { id: _id, name, garment: _garment, colours: _colours, ...look } = shot;
      const requirement = requirementForBlank(outline, blank, requirements, null);
      return coloursOf(shot, blank, soldIn(outline, requirement, blank)).map((colourway) => ({
        name,
        blankName: blank.name,
        request: {
          ...look,
          colourway,
          size: set.size,
          format: set.format,
          ...(set.fit ? { fit: set.fit } : {}),
        } as PictureRequest,
      }));
    });
  }

  /** What a design's set is still missing. @throws ProblemError 409 when it has no set */
  async missing(
    who: Caller,
    design: StoredDesign,
    of: SheetDesign,
  ): Promise<{ readonly wanted: readonly WantedPicture[]; readonly wrong: readonly string[] }> {
    const set = of.pictureSet === null ? undefined : (await this.list(who)).find((one) => one.id === of.pictureSet);
    if (!set) throw new ProblemError(409, 'no-set', `“${of.name}” has no picture set. Choose one for it first.`);
    const requirements = await this.recipes.reader.requirementsOf(who);
    const [wanted, shots] = await Promise.all([
      this.wanted(who, set, design.outline, requirements),
      this.shotsOf(who, [of], requirements),
    ]);
    const made = shots.get(of.id) ?? [];
    return {
      wanted: wanted.filter((one, i): one is WantedPicture => !('wrong' in one) && !made[i]?.pictureId),
      wrong: wanted.flatMap((one) => ('wrong' in one ? [one.wrong] : [])),
    };
  }

  /** How far some designs are with their sets; worked out where that was not done since something changed. */
  async progressOf(
    who: Caller,
    designs: readonly SheetDesign[],
    requirements: readonly Requirement[],
  ): Promise<Map<string, SheetSet>> {
    if (!designs.some((one) => one.pictureSet !== null)) return new Map();
    const sets = new Map((await this.list(who)).map((set) => [set.id, set]));
    const shots = await this.shotsOf(who, designs, requirements);
    return new Map(
      designs.flatMap((design): [string, SheetSet][] => {
        const set = design.pictureSet === null ? undefined : sets.get(design.pictureSet);
        if (!set) return [];
        const own = shots.get(design.id) ?? [];
        const made = own.flatMap(({ pictureId }) => pictureId ?? []);
        return [
          [
            design.id,
            {
              id: set.id,
              name: set.name,
              wanted: own.length,
              made: made.length,
              shown: made.slice(0, 3),
              wrong: own.find((one) => one.wrong)?.wrong ?? null,
            },
          ],
        ];
      }),
    );
  }

  private async shotsOf(
    who: Caller,
    designs: readonly SheetDesign[],
    requirements: readonly Requirement[],
  ): Promise<Map<string, StoredShot[]>> {
    const sets = new Map((await this.list(who)).map((set) => [set.id, set]));
    const withSet = designs.flatMap((design) => {
      const set = design.pictureSet === null ? undefined : sets.get(design.pictureSet);
      return set ? [{ design, set }] : [];
    });
    const packs = new Map<string, BlankPack | null>();
    for (const { set } of withSet)
      for (const { blankId } of set.shots)
        if (!packs.has(blankId)) packs.set(blankId, await this.recipes.blanks.pack(who, blankId).catch(() => null));
    const stamps = new Map(
      withSet.map(({ design, set }) => [
        design.id,
        stampOf(design, set, requirements, (id) => packs.get(id)?.hash ?? null),
      ]),
    );
    const ids = withSet.map(({ design }) => design.id);
    let shots = await this.store.shots(ids);
    const current = new Set(shots.filter((one) => one.stamp === stamps.get(one.designId)).map((one) => one.designId));
    const open = withSet.filter(({ design }) => !current.has(design.id));
    if (open.length) {
      const stored = new Map(
        (await this.designs.some(open.map(({ design }) => design.id))).map((one) => [one.id, one]),
      );
      for (const { design, set } of open) {
        const document = stored.get(design.id);
        if (!document) continue;
        const worked = await this.work(who, document, set, requirements, packs);
        await this.store.keepShots(design.id, stamps.get(design.id)!, worked);
        // Others are answered in between.
        await new Promise((resolve) => setImmediate(resolve));
      }
      shots = await this.store.shots(ids);
    }
    const byDesign = new Map<string, StoredShot[]>();
    for (const shot of shots) byDesign.set(shot.designId, [...(byDesign.get(shot.designId) ?? []), shot]);
    return byDesign;
  }

  private async work(
    who: Caller,
    design: StoredDesign,
    set: PictureSetFields,
    requirements: readonly Requirement[],
    packs: ReadonlyMap<string, BlankPack | null>,
  ): Promise<Pick<StoredShot, 'recipe' | 'wrong'>[]> {
    const assets = await this.recipes.reader.assetsOf(design);
    const out: Pick<StoredShot, 'recipe' | 'wrong'>[] = [];
    for (const one of await this.wanted(who, set, design.outline, requirements)) {
      const pack = 'wrong' in one ? null : packs.get(one.request.blankId);
      if ('wrong' in one || !pack) {
        out.push({ recipe: null, wrong: 'wrong' in one ? one.wrong : `${one.name}: its blank is not there any more.` });
        continue;
      }
      try {
        const { hash } = await this.recipes.of(who, {
          design,
          pack,
          request: one.request,
          requirements,
          assets,
        });
        out.push({ recipe: hash, wrong: null });
      } catch (error) {
        out.push({ recipe: null, wrong: `${one.name}: ${(error as Error).message}` });
      }
    }
    return out;
  }
}

/** Everything that what is worked out for a design's set hangs on. */
function stampOf(
  { id, revision }: SheetDesign,
  set: PictureSet,
  requirements: readonly Requirement[],
  packOf: (blankId: string) => string | null,
): string {
  return createHash('sha256')
    .update(
      JSON.stringify([
        PICTURE_ENGINE,
        id,
        revision,
        set.id,
        set,
        requirements.map((one) => [one.id, one.revision]),
        set.shots.map(({ blankId }) => packOf(blankId)),
      ]),
    )
    .digest('hex')
    .slice(0, 32);
}
