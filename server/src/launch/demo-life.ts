import { createReadStream } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import { artworkPath } from '@kettle/demo';
import type { GuestWord, PublicationState } from '@kettle/contract';
import type { Colourway } from '@kettle/core/model';
import { placeLayer } from '@kettle/core/document';
import { emptyListing, type ListingFields, type MarketInterface } from '@kettle/core/listing';
import { SELLER } from '../floor/basics/caller.js';
import type { House } from '../app/house.js';
import type { StoredPublication } from '../listings/publication-store.js';
import { demoId } from './load-demo.js';

const DAY_MS = 86_400_000;
const [FOG, ISOBARS, BAROMETER, CUMULUS, REGULARS] = [
  'Fog Signal',
  'Isobars',
  'Barometer Falling',
  'Cumulus Appreciation',
  'Rain Gauge Regulars',
].map(demoId);

/** What happened in the shop of the demo since its designs were made, step by step; each waits for what it needs. */
const STEPS: Readonly<Record<string, (house: House) => Promise<unknown>>> = {
  'an own blank': ownBlank,
  'a sewn panel': sewnPanel,
  'two listings that sell': sell,
  'a listing that was refused': refused,
  'two orders at a print shop': orders,
  'a client who said yes': client,
  'a run that is held': held,
};

/**
 * Lets the demo's shop live for six weeks, through the services that sellers, clients and markets use. Needs workers, and the
 * simulated markets. A step that was done is not done again.
 */
export async function liveOn(house: House): Promise<void> {
  const done = new Set((await house.settings.get<string[]>(SELLER.owner, 'demo-life')) ?? []);
  for (const [name, step] of Object.entries(STEPS)) {
    if (done.has(name)) continue;
    await settled(house);
    await step(house);
    done.add(name);
    await house.settings.put(SELLER.owner, 'demo-life', [...done]);
  }
}

/** Waits until nothing is being made. @throws Error when something of it failed */
export async function settled({ jobs }: House): Promise<void> {
  for (;;) {
    const all = (await jobs.lively(3600)).map(({ job }) => job);
    // A market that refuses is what happens to sellers.
    const failed = all.filter(({ state, kind }) => state === 'failed' && kind !== 'publish');
    if (failed.length) throw new Error(failed.map(({ message }) => message).join('\n'));
    if (all.every(({ state }) => !['queued', 'running'].includes(state))) return;
    await pause(200);
  }
}

async function ownBlank({ assets, ownBlanks }: House): Promise<void> {
  const name = 'shirt-at-the-door.jpg';
  const photo = await assets.takeIn(SELLER, createReadStream(artworkPath(name)), name);
  const stroke = (keep: boolean, points: number[], size = 0.02) => ({ keep, points, size });
  await ownBlanks.make(
    SELLER,
    {
      name: 'Shirt at the door',
      product: 'T-shirt',
      assetId: photo.id,
      treatments: [
        {
          id: 'shirt',
          kind: 'strokes',
          hair: 0.004,
          strokes: [
            stroke(true, [0.4, 0.3, 0.6, 0.3, 0.5, 0.7], 0.03),
            stroke(true, [0.25, 0.42, 0.3, 0.36]),
            stroke(true, [0.72, 0.36, 0.78, 0.42]),
            stroke(false, [0.04, 0.04, 0.96, 0.04]),
            stroke(false, [0.04, 0.04, 0.04, 0.96]),
            stroke(false, [0.96, 0.04, 0.96, 0.96]),
            stroke(false, [0.04, 0.96, 0.96, 0.96]),
          ],
        },
      ],
      shape: {
        kind: 'corners',
        corners: [
          { x: 0.38, y: 0.25 },
          { x: 0.64, y: 0.25 },
          { x: 0.64, y: 0.6 },
          { x: 0.38, y: 0.6 },
        ],
      },
      widthMm: 300,
      heightMm: 400,
      inRoom: true,
      folds: 0.5,
      anyColour: true,
    },
    null,
  );
}

async function sewnPanel({ pictureOutputs, blanks }: House): Promise<void> {
  const { colourways } = await blanks.get(SELLER, 'tee-front');
  await pictureOutputs.askForPictures(SELLER, ISOBARS, {
    blankId: 'tee-front',
    areaId: 'panel-front',
    requirementId: 'seamwide-panel',
    also: ['sleeve-left', 'sleeve-right'].map((areaId) => ({ areaId, requirementId: 'seamwide-panel' })),
    colourways: colourways.filter(({ name }: Colourway) => name === 'Straw'),
    size: 1200,
    format: 'jpeg',
  });
}

/** Saves a listing and sends it; answers once the market has said what became of it. */
async function published(
  house: House,
  designId: string,
  channel: string,
  listing: Partial<ListingFields>,
): Promise<StoredPublication> {
  const rules = (await house.channelRules.list(SELLER)).find((one) => one.channel === channel)!;
  const { savedRevision } = await house.listings.get(SELLER, designId);
  await house.listings.save(SELLER, designId, savedRevision, { ...emptyListing(''), ...listing });
  await house.listings.publish(SELLER, designId, [rules.id]);
  const underWay: readonly PublicationState[] = ['waiting', 'sending', 'checking'];
  for (;;) {
    const found = (await house.publications.of(SELLER.owner, designId)).find(({ rulesId }) => rulesId === rules.id);
    if (found && !underWay.includes(found.state)) return found;
    await pause(200);
  }
}

/** Sales at a market: days ago, product, colour, copies, price in minor units. */
type Told = readonly (readonly [days: number, product: string, colour: string, copies: number, price: number])[];

async function tellSales(
  { history }: House,
  by: MarketInterface,
  publication: StoredPublication,
  currency: string,
  told: Told,
): Promise<void> {
  for (const [i, [days, product, colour, copies, price]] of told.entries())
    await history.hear(by, publication, {
      // Lower than any that the market gives: it is asked for what came after the last.
      number: `0-${publication.designId}-${i + 1}`,
      product,
      colour,
      copies,
      price,
      currency,
      at: new Date(Date.now() - days * DAY_MS).toISOString(),
    });
}

async function sell(house: House): Promise<void> {
  const fog = await published(house, FOG, 'Larkpost Market', {
    title: 'Fog Signal: a lighthouse in weather',
    description:
      'The light at Tarn End as the Weather Club sees it on most mornings: hardly. Drawn for those who count the seconds between the blasts. It pays for the new rain gauge.',
    tags: ['lighthouse', 'fog', 'weather', 'coast'],
  });
  await tellSales(house, 'one-call', fog, 'GBP', [
    [41, 'Tee, front', 'Soot', 1, 1990],
    [36, 'Mug wrap', 'Fog', 2, 1150],
    [33, 'Tee, front', 'Slate', 1, 1990],
    [27, 'Tee, front', 'Soot', 3, 1990],
    [20, 'Tote', 'Harbour', 1, 1490],
    [13, 'Tee, front', 'Soot', 2, 2090],
    [12, 'Mug wrap', 'Harbour', 1, 1150],
    [6, 'Tee, front', 'Harbour', 1, 2090],
    [2, 'Tee, front', 'Soot', 2, 2090],
  ]);
  const isobars = await published(house, ISOBARS, 'Quillmere Shops', {
    title: 'Isobars, closing in',
    description:
      'Lines of equal pressure over the fells, as the Weather Club draws them on Sunday evenings. The closer they lie, the sooner the washing should be in. Printed as a square and as a poster.',
    tags: ['weather map', 'isobars', 'map', 'lines'],
    products: { 'quillmere-square': { cost: 90, price: 350 } },
  });
  await tellSales(house, 'ticket', isobars, 'EUR', [
    [38, 'Poster 50 × 70', '', 1, 2900],
    [24, 'Square print', '', 6, 350],
    [17, 'Poster 50 × 70', '', 2, 2900],
    [9, 'Square print', '', 3, 350],
    [3, 'Poster 50 × 70', '', 1, 3100],
  ]);
}

async function refused(house: House): Promise<void> {
  await published(house, REGULARS, 'Larkpost Market', {
    title: 'Rain Gauge Regulars, a mug',
    description: 'The badge of those who read the gauge at seven, on a mug that holds what they read it with.',
    tags: ['rain gauge', 'weather', 'badge'],
    // Below what this market takes, which only the market says.
    products: { 'larkpost-mug': { price: 250, cost: 100 }, 'larkpost-tee': { off: true } },
  });
}

/** One of a market's file, which does not fit the shop's platen, and one of the shop's own. */
async function orders({ shopOrders, requirements }: House): Promise<void> {
  for (const [designId, requirementId, position, note] of [
    [FOG, 'larkpost-tee', 'Full front', 'For the autumn meeting.'],
    [REGULARS, 'hobnail-crest', 'Left chest', 'For the committee.'],
  ]) {
    const { colourways } = (await requirements.get(SELLER.owner, requirementId))!;
    const asked = {
      shopId: 'hobnail',
      requirementId,
      size: 'M',
      colour: colourways[0].name,
      position,
      copies: 12,
      note,
    };
    await shopOrders.send(SELLER, designId, asked);
  }
}

async function client(house: House): Promise<void> {
  const { clientPages, designs, pictureOutputs } = house;
  const page = await clientPages.add(SELLER, BAROMETER, {
    seller: 'Tarn End Weather Club',
    client: 'Fell Rescue',
    note: 'As we spoke of at the hut: the dial for your anniversary shirts.',
    days: 60,
    passPhrase: '',
    alternatives: [{ designId: BAROMETER, pictures: [], clip: null }],
  });
  const stored = (await clientPages.byLink(page.path.split('/').at(-1)!))!;
  const says = (form: string, word: Partial<GuestWord>) =>
    clientPages.guestSays(stored, {
      name: 'Ada Fell',
      text: '',
      round: 1,
      form,
      alternative: null,
      picture: null,
      x: null,
      y: null,
      ...word,
    } as GuestWord);
  await says('demo-pin-1', {
    kind: 'comment',
    text: 'Could the needle point at stormy? It always does.',
    picture: 0,
    x: 0.5,
    y: 0.42,
  });
  await says('demo-wish-1', { kind: 'change', text: 'And a little larger on the chest, please.' });
  await clientPages.answer(
    SELLER,
    page.id,
    'The needle stays where the sketch had it; larger it will be.',
    'demo-answer-1',
  );
  await says('demo-yes-1', { kind: 'approval', text: 'Lovely. Print it.' });
  await clientPages.seen(SELLER, page.id);
  // Mended since: the yes is to something else.
  const { revision, document } = await designs.get(SELLER, BAROMETER);
  await designs.save(SELLER, BAROMETER, revision, placeLayer(document.layers[1].id, { turn: 9 })(document));
  const old = await pictureOutputs.picturesOf(SELLER, BAROMETER);
  if (old.length) await pictureOutputs.runPictures(SELLER, { of: 'out-of-date', designs: [{ designId: BAROMETER }] });
}

async function held({ outputs, workers }: House): Promise<void> {
  await workers.stop();
  try {
    const run = await outputs.run(SELLER, [
      { designId: CUMULUS, requirementIds: ['quillmere-square', 'quillmere-poster'] },
      { designId: ISOBARS, requirementIds: ['larkpost-tee'] },
    ]);
    await outputs.pause(SELLER, run.id);
  } finally {
    workers.start();
  }
}
