import { createReadStream } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import { artworkPath, DEMO_DESIGNS, DEMO_REQUIREMENTS, type DemoDesign } from '@kettle/demo';
import {
  emptyDesign,
  SAME_SIZE_TOP,
  type Blank,
  type Clip,
  type DesignDocument,
  type KeptScene,
  type Layer,
} from '@kettle/core/model';
import { placeLayer } from '@kettle/core/document';
import { acceptFinding } from '@kettle/core/checks';
import { defaultScene } from '@kettle/core/mockup';
import { shownOf } from '@kettle/core/clip';
import { fileNameOf } from '@kettle/core/naming';
import { emptyListing } from '@kettle/core/listing';
import { SELLER } from '../floor/basics/caller.js';
import type { House } from '../app/house.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import { newId } from '../floor/database/ids.js';
import type { StoredDesign } from '../documents/stored-design.js';

/** Id of a demo design: the same at every start, so that a load which was killed goes on where it was. */
export const demoId = (name: string): string => `demo-${fileNameOf(name).toLowerCase()}`;

/** What the database remembers of the demo. */
interface DemoMark {
  /** False where people had something of their own before. */
  readonly wanted: boolean;
  /** Names of the designs that are loaded whole. */
  readonly whole: readonly string[];
}

/**
 * Reads the mark, and sets it at the first asking: the demo is wanted where nothing of a seller is. What people make
 * while it is being loaded changes nothing about that.
 */
async function markOf({ designs, requirements, settings }: House): Promise<DemoMark> {
  const kept = await settings.get<DemoMark>(SELLER.owner, 'demo');
  if (kept) return kept;
  const [its, ours] = [await designs.everyId(SELLER), await requirements.everyId(SELLER.owner)];
  const whole = DEMO_DESIGNS.filter(({ name }) => its.includes(demoId(name))).map(({ name }) => name);
  const wanted = !(its.length + ours.length) || !!whole.length || DEMO_REQUIREMENTS.some(({ id }) => ours.includes(id));
  await settings.put(SELLER.owner, 'demo', { wanted, whole });
  return { wanted, whole };
}

/**
 * Puts the demo requirements in, once: those that are there or were deleted stay as they are, and a load that was
 * killed goes on.
 */
export async function loadRequirements(house: House): Promise<void> {
  if (!(await markOf(house)).wanted) return;
  const ids = await house.requirements.everyId(SELLER.owner);
  for (const { id, ...fields } of DEMO_REQUIREMENTS)
    if (!ids.includes(id)) await house.requirements.add(SELLER.owner, fields, id);
}

/**
 * Puts the Tarn End Weather Club's designs in, once, and asks for some of their files and pictures. One that cannot be
 * made keeps none of the others away, and one that a killed process left half made is made whole.
 * @throws DemoError naming those that could not be made
 */
export async function loadDesigns(house: House): Promise<void> {
  const { wanted, whole } = await markOf(house);
  if (!wanted) return;
  const done = new Set(whole);
  const failed: string[] = [];
  for (const demo of DEMO_DESIGNS.filter(({ name }) => !done.has(name)))
    try {
      await loadDesign(house, demo);
      done.add(demo.name);
      await house.settings.put(SELLER.owner, 'demo', { wanted, whole: [...done] });
    } catch (error) {
      failed.push(`“${demo.name}”: ${error instanceof ProblemError ? error.message : 'it could not be made.'}`);
      house.log.error({ err: error, design: demo.name }, 'a design of the demo could not be loaded');
    }
  if (failed.length) throw new DemoError(failed);
}

/** Some of the demo could not be loaded. */
export class DemoError extends Error {
  constructor(failed: readonly string[]) {
    super(`Not all of the demo could be loaded. ${failed.join(' ')}`);
  }
}

/** How long after a failure the demo is tried again, in ms. */
const AGAIN_MS = [5000, 60_000, 600_000];

/**
 * Loads the designs, again and again when some of them fail; meanwhile a line on every page says which.
 * @param signal ends the trying
 */
export async function loadDesignsPatiently(house: House, signal: AbortSignal, waits = AGAIN_MS): Promise<void> {
  for (const after of [...waits, null]) {
    try {
      await loadDesigns(house);
      house.remarks.delete('demo');
      return;
    } catch (error) {
      if (signal.aborted) return;
      const sentence = error instanceof DemoError ? error.message : 'The demo could not be loaded.';
      house.remarks.set(
        'demo',
        `${sentence} ${after === null ? 'It is tried once more at the next start.' : 'It is tried again by itself.'}`,
      );
      if (!(error instanceof DemoError)) house.log.error({ err: error }, 'the demo could not be loaded');
      if (after !== null) await pause(after, undefined, { signal, ref: false }).catch(() => undefined);
    }
  }
}

/** @returns the revision in which the finding is taken as it is */
async function acceptIn(
  { designs, requirements }: House,
  { id, revision, document }: Pick<StoredDesign, 'id' | 'revision' | 'document'>,
  { requirementId, code, reason }: NonNullable<DemoDesign['accepted']>,
): Promise<number> {
  if (document.targets.some(({ accepted }) => accepted?.length)) return revision;
  const requirement = (await requirements.get(SELLER.owner, requirementId))!;
  const finding = (await designs.findings(SELLER, id, requirementId)).find((one) => one.code === code);
  if (!finding) throw new Error(`There is no ${code} to accept.`);
  const target = document.targets.find((one) => one.requirementId === requirementId)!;
  const accepted = acceptFinding(finding, reason, { target, requirement, cloth: null })(document);
  return (await designs.save(SELLER, id, revision, accepted)).revision;
}

function unlessGone(error: unknown): null {
  if (error instanceof ProblemError && error.status === 404) return null;
  throw error;
}

async function loadDesign(house: House, demo: DemoDesign): Promise<void> {
  const { designs, listings, printRuns } = house;
  const known = demoId(demo.name);
  const kept = (await designs.everyId(SELLER)).includes(known)
    ? await designs.get(SELLER, known).catch(unlessGone)
    : await designs.add(SELLER, await documentOf(house, demo), known);
  // Somebody has deleted it already.
  if (!kept) return;
  const { id, document } = kept;
  const revision = demo.accepted ? await acceptIn(house, kept, demo.accepted) : kept.revision;
  if (demo.listing && !(await listings.get(SELLER, id)).savedRevision)
    await listings.save(SELLER, id, 0, { ...emptyListing(demo.name), ...demo.listing });
  if (demo.orders && !(await printRuns.list(SELLER, id)).length) await gatherOrders(house, id, demo);
  if (demo.made.length) await house.outputs.askForPrintFiles(SELLER, id, demo.made);
  // A later nudge makes what was asked for out of date, as it happens in real work.
  const newest =
    demo.moved && document.layers[1].place.turn !== 8
      ? await house.designs.save(SELLER, id, revision, placeLayer(document.layers[1].id, { turn: 8 })(document))
      : { id, revision };
  for (const { blankId, requirementId, colours } of demo.pictures) {
    await house.pictureOutputs.askForPictures(SELLER, newest.id, {
      blankId,
      requirementId,
      colourways: blankOf(house, blankId).colourways.filter((one) => colours.includes(one.name)),
      size: 1200,
      format: 'jpeg',
    });
  }
}

/** Orders in hand of a demo design. */
async function gatherOrders(
  { database, printRuns, requirements, printShops }: House,
  id: string,
  { name, orders }: DemoDesign,
) {
  const { people, requirementId, shopId, position, price, worthFrom, note } = orders!;
  const requirement = (await requirements.get(SELLER.owner, requirementId))!;
  const shop = await printShops.get(SELLER, shopId);
  const wanted = new Set(people.map(([, , colour]) => colour));
  const run = await printRuns.add(SELLER, id, {
    name: `${name}, autumn print`,
    requirementId,
    shopId,
    position,
    currency: shop.currency,
    price,
    worthFrom,
    sizes: shop.sizes,
    colours: requirement.colourways.filter((one) => wanted.has(one.name)),
    note,
  });
  const interests = people.map(([who, size, colour, copies]) => ({
    name: who,
    contact: '',
    size,
    colour,
    copies,
    deposit: 0,
  }));
  const { interests: added } = await printRuns.addInterests(SELLER, run.id, 'demo', 'typed', interests);
  // They came one by one, a few days apart.
  for (const [i, { name: who }] of interests.entries())
    await database.change('UPDATE interest SET noted_at = DATE_SUB(noted_at, INTERVAL ? DAY) WHERE id = ?', [
      3 * (interests.length - i) - 2,
      added.find((one) => one.name === who)!.id,
    ]);
}

const blankOf = ({ blanks }: House, id: string): Blank => blanks.all.find((blank) => blank.id === id)!;

async function documentOf(house: House, demo: DemoDesign): Promise<DesignDocument> {
  const layers: Layer[] = [];
  for (const { file, name, place } of demo.layers) {
    const asset = await house.assets.takeIn(SELLER, createReadStream(artworkPath(file)), file);
    layers.push({
      kind: 'picture',
      id: newId(),
      name,
      assetId: asset.id,
      opacity: 1,
      hidden: false,
      place: { turn: 0, flipX: false, flipY: false, ...place },
    });
  }
  const scenes = demo.pictures.flatMap(({ blankId, requirementId, colours }): KeptScene[] => {
    const blank = blankOf(house, blankId);
    return colours.map((colour) => ({
      ...defaultScene(blank, requirementId),
      id: newId(),
      name: `${blank.name}, ${colour}`,
      garment: blank.colourways.find((one) => one.name === colour)?.hex ?? blank.colourways[0].hex,
    }));
  });
  const { id: keptAs, name: _name, ...scene } = scenes[0];
  return {
    ...emptyDesign(demo.name),
    layers,
    scene: { ...scene, keptAs },
    scenes,
    ...(demo.clip ? { clips: [clipOf(demo.clip, scenes)] } : {}),
    targets: demo.targets.map(({ id, garment, cover }) => ({
      requirementId: id,
      ...(garment ? { garment } : {}),
      ...(cover
        ? {
            placement: { ...SAME_SIZE_TOP, rule: 'cover' as const, anchor: 'centre' as const, scale: 1.26, offsetY: 4 },
          }
        : {}),
    })),
  };
}

/** Frames that a scene of the demo's clip is seen, and that it takes to become the next. */
const [SEEN, BECOMES] = [54, 12];

const clipOf = (
  { name, movements, title, line, trackId }: NonNullable<DemoDesign['clip']>,
  scenes: readonly KeptScene[],
): Clip => ({
  id: newId(),
  name,
  shape: '4:5',
  scenes: movements.map((movement, i) => ({
    id: newId(),
    scene: shownOf(scenes[i]),
    frames: SEEN,
    movement,
    ...(i < movements.length - 1 ? { transition: { kind: 'dissolve', frames: BECOMES } as const } : {}),
  })),
  words: { title, line, when: 'start', hex: '#1f2623' },
  music: { trackId, start: 0, volume: 0.8 },
});
