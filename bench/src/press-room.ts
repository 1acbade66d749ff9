import { execFile } from 'node:child_process';
import { createReadStream } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { env, execPath } from 'node:process';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { emptyDesign } from '@kettle/core/model';
import type { PrintRecipe } from '@kettle/core/recipes';
import { artworkPath } from '@kettle/demo';
import { encodePrintFile, RENDER_ENVIRONMENT, RENDER_FLAGS, SELLER } from '@kettle/server';
import sharp from 'sharp';
import type { Application } from './application.js';
import { benchTarget } from './bench-target.js';
import { painting } from './print-file.js';
import { against, beside, inTurns, measureOf, twoAtATime, type Row } from './timing.js';

const [WIDTH, HEIGHT, ROUNDS] = [4500, 5400, 5];

/** A CMYK TIFF by a chosen intent, against sharp's own, which knows the perceptual one alone and drops transparency. */
export async function benchCmyk(): Promise<Row[]> {
  const folder = await mkdtemp(join(tmpdir(), 'kettle-bench-'));
  const files: Record<string, string> = {};
  const art = await painting();
  for (let round = 0; round < ROUNDS; round++)
    await writeFile((files[`painting ${round}`] = join(folder, `${round}.png`)), art);
  const recipe = (round: number): PrintRecipe => ({
    kind: 'print-file',
    engine: 1,
    widthPx: WIDTH,
    heightPx: HEIGHT,
    dpi: 300,
    type: 'tiff',
    mode: 'cmyk',
    alpha: true,
    packing: 'lzw',
    conversion: { profile: null, intent: 'relative', blackPoint: true },
    requirement: { id: 'bench', revision: 1 },
    layers: [{ sha256: `painting ${round}`, map: [4000, 0, 0, 4667, 250, 150], opacity: 1 }],
  });
  const times = await inTurns(
    ROUNDS,
    async (round) => writeFile(join(folder, 'ours.tif'), Buffer.concat(await encodePrintFile(recipe(round), files))),
    async (round) => {
      const picture = await sharp(files[`painting ${round}`])
        .resize(4000, 4667, { fit: 'fill' })
        .raw()
        .toBuffer({ resolveWithObject: true });
      await sharp({ create: { width: WIDTH, height: HEIGHT, channels: 3, background: '#fff' } })
        .composite([{ input: picture.data, raw: { width: 4000, height: 4667, channels: 4 }, left: 250, top: 150 }])
        .removeAlpha()
        .withMetadata({ density: 300 })
        .withIccProfile('cmyk')
        .tiff({ compression: 'lzw', predictor: 'horizontal' })
        .toFile(join(folder, 'baseline.tif'));
    },
  );
  await rm(folder, { recursive: true, force: true });
  return [beside('CMYK TIFF 4500 × 5400, relative with black point, LZW', times, 'sharp, perceptual', 1.3)];
}

const [DESIGNS, TARGETS] = [12, 8];
const ART = ['fog-signal.png', 'cumulus-appreciation.jpg', 'rain-gauge-regulars.png', 'isobars-ground.svg'];
const sizeOf = (i: number): { width: number; height: number } => ({ width: 3600 + 60 * i, height: 4200 + 60 * i });

/** Twelve designs for eight targets in one run, against sharp pipelines run two at a time. */
export async function benchRun({ serve }: Application): Promise<Row[]> {
  const server = await serve('kettle_runs');
  const { house } = server;
  const requirementIds: string[] = [];
  for (let i = 0; i < TARGETS; i++)
    requirementIds.push(
      (await house.requirements.add(SELLER.owner, benchTarget(i, sizeOf(i).width, sizeOf(i).height))).id,
    );
  const targets: { designId: string; requirementIds: string[] }[] = [];
  for (let i = 0; i < DESIGNS; i++) {
    const asset = await house.assets.takeIn(
      SELLER,
      createReadStream(artworkPath(ART[i % ART.length])),
      ART[i % ART.length],
    );
    const { id } = await house.designs.add(SELLER, {
      ...emptyDesign(`Design ${i}`, { width: 304.8, height: 355.6 }),
      targets: requirementIds.map((requirementId) => ({ requirementId })),
      layers: [
        {
          kind: 'picture',
          id: 'a',
          name: 'Art',
          assetId: asset.id,
          opacity: 1,
          hidden: false,
          place: { x: 152, y: 177 + i, width: 300, height: 350, turn: 0, flipX: false, flipY: false },
        },
      ],
    });
    targets.push({ designId: id, requirementIds });
  }
  const start = performance.now();
  const job = await house.outputs.run(SELLER, targets);
  while (!['done', 'failed'].includes((await house.outputs.job(SELLER, job.id)).state))
    await new Promise((resolve) => setTimeout(resolve, 50));
  const ours = performance.now() - start;
  const baseline = await twoAtATime(DESIGNS * TARGETS, (i) =>
    sharpFile(ART[Math.floor(i / TARGETS) % ART.length], sizeOf(i % TARGETS)),
  );
  const [making, , comparing] = await phases();
  const share = (milliseconds: number): number => (100 * milliseconds * DESIGNS * TARGETS) / 2 / ours;
  return [
    beside(
      `${DESIGNS * TARGETS} print files of ${DESIGNS} designs, read back and certified`,
      { ours: measureOf([ours]), baseline: measureOf([baseline]), ratio: measureOf([ours / baseline]) },
      'sharp pipelines, two at a time, nothing read back',
      0.5,
    ),
    against(
      'of it: queue, database, reading back, hashing',
      measureOf([100 - share(making) - share(comparing)]),
      20,
      '%',
    ),
    // What comparing may take was never said: it is shown.
    against('of it: comparing with a second drawing', measureOf([share(comparing)]), 100, '%'),
  ];
}

async function sharpFile(art: string, { width, height }: { width: number; height: number }): Promise<void> {
  const picture = await sharp(artworkPath(art), { density: 300 })
    .resize(width - 60, Math.round((height - 60) * 0.95), { fit: 'fill' })
    .png()
    .toBuffer();
  await sharp({ create: { width, height, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } })
    .composite([{ input: picture, left: 30, top: 30 }])
    .withMetadata({ density: 300 })
    .withIccProfile('srgb')
    .png({ compressionLevel: 6 })
    .toBuffer();
}

const MAKER = fileURLToPath(new URL('./print-phases.js', import.meta.url));

/**
 * Milliseconds that one such file is drawn and encoded, written and read back, compared, in the mean: two processes
 * make them at a time, as in a run, each for two designs.
 */
async function phases(): Promise<number[]> {
  const folder = await mkdtemp(join(tmpdir(), 'kettle-bench-'));
  const told = await Promise.all(
    [0, 1].map(async (process) => {
      const recipes = Array.from({ length: 2 * TARGETS }, (_, k): PrintRecipe => {
        const { width, height } = sizeOf(k % TARGETS);
        return {
          kind: 'print-file',
          engine: 1,
          widthPx: width,
          heightPx: height,
          dpi: 300,
          mode: 'rgb',
          alpha: true,
          requirement: { id: 'bench', revision: 1 },
          layers: [
            {
              sha256: `art ${process * 2 + Math.floor(k / TARGETS)}`,
              map: [width - 60, 0, 0, (height - 60) * 0.95, 30, 30],
              opacity: 1,
            },
          ],
        };
      });
      const order = join(folder, `${process}.json`);
      const files = Object.fromEntries(ART.map((art, i) => [`art ${i}`, artworkPath(art)]));
      await writeFile(order, JSON.stringify({ recipes, files, out: join(folder, `${process}.png`) }));
      const { stdout } = await promisify(execFile)(execPath, [...RENDER_FLAGS, MAKER, order], {
        env: { ...env, ...RENDER_ENVIRONMENT },
      });
      return JSON.parse(stdout) as number[][];
    }),
  );
  await rm(folder, { recursive: true, force: true });
  const all = told.flat();
  return [0, 1, 2].map((phase) => all.reduce((sum, times) => sum + times[phase], 0) / all.length);
}

/** Bytes of the package that is taken, and how much memory that may need. */
const [PACKED, MOST_MB] = [2_000_000_000, 100];

/** How much memory a package of two gigabytes needs while it is taken. */
export async function benchPacking({ serve, folder }: Application): Promise<Row> {
  const { house, address } = await serve('kettle_packing', false);
  const file = join(folder, 'noise.bin');
  await writeFile(file, Buffer.from(Array.from({ length: 20_000_000 }, (_, i) => (i * 2654435761) & 255)));
  const { sha256, bytes } = await house.blobs.put(file);
  const about = {
    kind: 'print-file',
    design: 'd',
    designId: 'd',
    channel: 'c',
    requirement: 'r',
    requirementId: 'r',
    version: null,
    recipe: '',
    certificate: [],
  };
  const kept = await house.packages.keep(
    SELLER,
    { name: 'Two gigabytes', folders: 'none', changedOnly: false },
    Array.from({ length: PACKED / bytes }, (_, i) => ({ path: `${i}.bin`, sha256, bytes, about })),
  );
  global.gc?.();
  const before = process.memoryUsage().rss;
  let [most, taken] = [before, 0];
  const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 20);
  const answer = await fetch(`${address}/api/packages/${kept.id}/content`);
  for await (const piece of answer.body as unknown as AsyncIterable<Uint8Array>) taken += piece.length;
  clearInterval(watch);
  if (taken !== Number(answer.headers.get('Content-Length'))) throw new Error('The package did not arrive whole.');
  return against(
    'Memory to take a package of 2 GB, beyond what was used before',
    measureOf([(most - before) / 1e6]),
    MOST_MB,
    'MB',
  );
}
