import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { PrintRecipe } from '@kettle/core/recipes';
import { encodePrintFile } from '@kettle/server';
import sharp from 'sharp';
import { peakMemory } from './peak-memory.js';
import { beside, inTurns, type Row } from './timing.js';

const [WIDTH, HEIGHT, ROUNDS] = [4500, 5400, 7];
const LETTERING =
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 3600 700"><path d="M0 600L200 0L400 600L600 0L800 600M1000 0H1500V600H1000ZM1700 600V0L2200 600V0M2500 300a300 300 0 1 1 600 0a300 300 0 1 1-600 0M3300 0V600H3600" fill="none" stroke="#f2bd4b" stroke-width="90"/></svg>';

/** A picture with soft transparency and fine grain, as a painted design has: 3600 × 4200 px. */
export async function painting(): Promise<Buffer> {
  const grain = await sharp({
    create: {
      width: 3600,
      height: 4200,
      channels: 3,
      background: '#000',
      noise: { type: 'gaussian', mean: 128, sigma: 30 },
    },
  })
    .blur(2)
    .raw()
    .toBuffer();
  const mask = await sharp(
    Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" width="3600" height="4200"><defs><radialGradient id="g"><stop offset=".8" stop-color="#fff"/><stop offset="1" stop-color="#000"/></radialGradient></defs><ellipse cx="1800" cy="2100" rx="1750" ry="2050" fill="url(#g)"/></svg>',
    ),
  )
    .removeAlpha()
    .extractChannel(0)
    .raw()
    .toBuffer();
  return sharp(grain, { raw: { width: 3600, height: 4200, channels: 3 } })
    .joinChannel(mask, { raw: { width: 3600, height: 4200, channels: 1 } })
    .png()
    .toBuffer();
}

const recipe = (round: number): PrintRecipe => ({
  kind: 'print-file',
  engine: 1,
  widthPx: WIDTH,
  heightPx: HEIGHT,
  dpi: 300,
  mode: 'rgb',
  alpha: true,
  requirement: { id: 'bench', revision: 1 },
  layers: [
    { sha256: `painting ${round}`, map: [4000, 0, 0, 4667, 250, 150], opacity: 1 },
    { sha256: 'lettering', map: [3600, 0, 0, 700, 450, 4600], opacity: 1 },
  ],
});

/**
 * Print file of 4500 × 5400 px with a picture and lettering, against one straightforward sharp pipeline that does the
 * same.
 */
export async function benchPrintFile(): Promise<Row[]> {
  const folder = await mkdtemp(join(tmpdir(), 'kettle-bench-'));
  const files: Record<string, string> = { lettering: join(folder, 'lettering.svg') };
  await writeFile(files['lettering'], LETTERING);
  const art = await painting();
  // A file of its own for each round: nothing is kept decoded between rounds.
  for (let round = 0; round < ROUNDS; round++)
    await writeFile((files[`painting ${round}`] = join(folder, `${round}.png`)), art);
  const times = await inTurns(
    ROUNDS,
    async (round) => writeFile(join(folder, 'ours.png'), Buffer.concat(await encodePrintFile(recipe(round), files))),
    async (round) => {
      const picture = await sharp(files[`painting ${round}`])
        .resize(4000, 4667, { fit: 'fill' })
        .raw()
        .toBuffer({ resolveWithObject: true });
      const lettering = await sharp(Buffer.from(LETTERING)).resize(3600, 700).png().toBuffer();
      await sharp({ create: { width: WIDTH, height: HEIGHT, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } })
        .composite([
          { input: picture.data, raw: { width: 4000, height: 4667, channels: 4 }, left: 250, top: 150 },
          { input: lettering, left: 450, top: 4600 },
        ])
        .withIccProfile('srgb')
        .withMetadata({ density: 300 })
        .png({ compressionLevel: 6 })
        .toFile(join(folder, 'baseline.png'));
    },
  );
  const memory = await peakMemory(recipe(0), files, folder);
  await rm(folder, { recursive: true, force: true });
  return [beside('Print file 4500 × 5400, picture and lettering', times, 'one sharp pipeline', 0.38), memory];
}
