import { createReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { emptyDesign, type Blank } from '@kettle/core/model';
import { viewOf, type PictureSet } from '@kettle/core/mockup';
import { artworkPath } from '@kettle/demo';
import { BLANKS, packIn, readyBlank, SELLER } from '@kettle/server';
import sharp from 'sharp';
import type { Application } from './application.js';
import { benchTarget } from './bench-target.js';
import { beside, measureOf, twoAtATime, type Row } from './timing.js';

const [DESIGNS, COLOURS, SIZE] = [12, 12, 2000];
const ART = ['fog-signal.png', 'cumulus-appreciation.jpg', 'rain-gauge-regulars.png', 'isobars-ground.svg'];

/**
 * Twelve designs on a shirt of twelve colours in one run, from the request to the last picture in the database, against
 * what encoding as many pictures of that size takes, two at a time.
 */
export async function listingPictures({ serve }: Application): Promise<Row[]> {
  const { house, address } = await serve('kettle_pictures');
  const requirement = await house.requirements.add(SELLER.owner, benchTarget(0, 3600, 4200));
  const designIds: string[] = [];
  for (let i = 0; i < DESIGNS; i++) {
    const name = ART[i % ART.length];
    const asset = await house.assets.takeIn(SELLER, createReadStream(artworkPath(name)), name);
    const place = { x: 152, y: 177 + i, width: 290, height: 340, turn: 0, flipX: false, flipY: false };
    const { id } = await house.designs.add(SELLER, {
      ...emptyDesign(`Design ${i}`, { width: 304.8, height: 355.6 }),
      targets: [{ requirementId: requirement.id }],
      layers: [{ kind: 'picture', id: 'a', name: 'Art', assetId: asset.id, opacity: 1, hidden: false, place }],
    });
    designIds.push(id);
  }
  const ask = async <T>(path: string, body: object): Promise<T> => {
    const answer = await fetch(`${address}/api/${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(await answer.text());
    return (answer.status === 204 ? undefined : await answer.json()) as T;
  };
  const shot = { id: 'front', name: 'Front', blankId: 'tee-front', areaId: 'full-front', colours: COLOURS };
  const set = await ask<PictureSet>('picture-sets', {
    name: 'Bench',
    about: '',
    size: SIZE,
    format: 'jpeg',
    shots: [{ ...shot, backdrop: '#E4E1D9', inkOpacity: 1, shadow: 0.6 }],
  });
  await ask('picture-sets/use', { designIds, setId: set.id });
  const start = performance.now();
  const { jobId } = await ask<{ jobId: string }>('picture-runs', {
    of: 'set',
    designs: designIds.map((id) => ({ designId: id })),
  });
  let now = await house.outputs.job(SELLER, jobId);
  while (!['done', 'failed'].includes(now.state)) {
    await new Promise((resolve) => setTimeout(resolve, 50));
    now = await house.outputs.job(SELLER, jobId);
  }
  const ours = performance.now() - start;
  if (now.state !== 'done' || now.total !== DESIGNS * COLOURS) throw new Error(`The run ended as ${now.state}.`);
  const scenes = await finishedScenes();
  const baseline = await twoAtATime(DESIGNS * COLOURS, async (i) => {
    await sharp(scenes[i % COLOURS], { raw: { width: SIZE, height: SIZE, channels: 4 } })
      .removeAlpha()
      .withIccProfile('srgb')
      .jpeg({ quality: 90, chromaSubsampling: '4:4:4' })
      .toBuffer();
  });
  return [
    beside(
      `${DESIGNS * COLOURS} listing pictures of ${SIZE} px, ${DESIGNS} designs in ${COLOURS} colours, in the database`,
      { ours: measureOf([ours]), baseline: measureOf([baseline]), ratio: measureOf([ours / baseline]) },
      'encoding as many, two at a time',
      1.8,
    ),
  ];
}

/** The shirt in each of its colours, as the pictures have it. */
async function finishedScenes(): Promise<Uint8ClampedArray[]> {
  const folder = join(BLANKS, 'tee-front');
  const blank = JSON.parse(await readFile(join(folder, 'blank.json'), 'utf8')) as Blank;
  const kernel = await readyBlank(packIn(folder, blank), blank, [], viewOf(blank, null, SIZE));
  const look = { ink: 'direct', folds: 1, knit: 0.5, softness: 0.3, grain: 0.2 } as const;
  return blank.colourways
    .slice(0, COLOURS)
    .map(({ hex }) =>
      (
        kernel.render({ garment: hex, backdrop: blank.backdrop, inkOpacity: 1, shadow: 0.6, look }, [])
          .data as Uint8ClampedArray
      ).slice(),
    );
}
