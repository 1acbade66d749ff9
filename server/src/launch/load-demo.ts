import { createReadStream } from 'node:fs';
import { artworkPath, DEMO_DESIGNS, DEMO_REQUIREMENTS, type DemoDesign } from '@kettle/demo';
import {
  defaultScene,
  emptyDesign,
  emptyListing,
  fileNameOf,
  placeLayer,
  SAME_SIZE_TOP,
  type Blank,
  type DesignDocument,
  type KeptScene,
  type Layer,
} from '@kettle/core';
import { SELLER } from '../caller.js';
import type { House } from '../house.js';
import { newId } from '../stores/ids.js';

/**
 * Puts the demo requirements in, once: those that are there or were deleted stay as they are, and a load that was
 * killed goes on.
 */
export async function loadRequirements({ requirements }: House): Promise<void> {
  const ids = await requirements.everyId(SELLER.owner);
  if (ids.length && !ids.some((id) => DEMO_REQUIREMENTS.some((one) => one.id === id))) return;
  for (const { id, ...fields } of DEMO_REQUIREMENTS)
    if (!ids.includes(id)) await requirements.add(SELLER.owner, fields, id);
}

/** Id of a demo design: the same at every start, so that a load which was killed goes on where it was. */
const demoId = (name: string): string => `demo-${fileNameOf(name).toLowerCase()}`;

/** Puts the Tarn End Weather Club's designs in, once, and asks for some of their files and pictures. */
export async function loadDesigns(house: House): Promise<void> {
  const ids = await house.designs.everyId(SELLER);
  if (ids.length && !ids.some((id) => DEMO_DESIGNS.some((demo) => demoId(demo.name) === id))) return;
  for (const demo of DEMO_DESIGNS) {
    if (ids.includes(demoId(demo.name))) continue;
    const { id, revision, document } = await house.designs.add(
      SELLER,
      await documentOf(house, demo),
      demoId(demo.name),
    );
    if (demo.listing) await house.listings.save(SELLER, id, 0, { ...emptyListing(demo.name), ...demo.listing });
    if (demo.orders) await gatherOrders(house, id, demo);
    if (demo.made.length) await house.outputs.askForPrintFiles(SELLER, id, demo.made);
    // A later nudge makes what was asked for out of date, as it happens in real work.
    const newest = demo.moved
      ? await house.designs.save(SELLER, id, revision, placeLayer(document.layers[1].id, { turn: 8 })(document))
      : { id, revision };
    for (const { blankId, requirementId, colours } of demo.pictures) {
      await house.outputs.askForPictures(SELLER, newest.id, {
        blankId,
        requirementId,
        colourways: blankOf(house, blankId).colourways.filter((one) => colours.includes(one.name)),
        size: 1200,
        format: 'jpeg',
      });
    }
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
