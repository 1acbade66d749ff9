import { SELLER } from '@kettle/server';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Requirement } from '@kettle/core/model';
import { svgOfStep } from '@kettle/core/drawing';
import { assetIdsOf } from '@kettle/core/layers';
import { printRecipe, type PrintRecipe } from '@kettle/core/recipes';
import { encodePrintFile, type House } from '@kettle/server';
import sharp, { type Blend, type OverlayOptions } from 'sharp';
import { thirtyLayers } from './thirty-layers.js';
import { peakMemory } from './peak-memory.js';
import { beside, inTurns, type Row } from './timing.js';

const ROUNDS = 3;

/**
 * Print file of 4500 × 5400 px of a design of thirty layers, against one straightforward sharp pipeline that lays the
 * same layers on each other.
 */
export async function printOfThirty({ house }: { house: House }): Promise<Row[]> {
  const document = await thirtyLayers(house);
  const [first] = await house.requirements.list(SELLER.owner);
  const requirement: Requirement = {
    ...first,
    width: 4500,
    height: 5400,
    unit: 'px',
    dpi: 300,
    placement: { ...first.placement, rule: 'fit' },
  };
  const shas: Record<string, string> = {};
  const files: Record<string, string> = {};
  for (const id of assetIdsOf(document.layers)) {
    const { asset, path } = await house.assets.content(SELLER, id);
    shas[id] = asset.sha256;
    // A name of its own for each round: nothing is kept decoded between rounds.
    for (let round = 0; round <= ROUNDS; round++) files[`${asset.sha256} ${round}`] = path;
  }
  const recipe = (round: number): PrintRecipe =>
    printRecipe(document, { requirementId: requirement.id }, requirement, (id) => `${shas[id]} ${round}`);
  const folder = await mkdtemp(join(tmpdir(), 'kettle-bench-'));
  const times = await inTurns(
    ROUNDS,
    async (round) => writeFile(join(folder, 'ours.png'), Buffer.concat(await encodePrintFile(recipe(round), files))),
    (round) => plainly(recipe(round), files, join(folder, 'baseline.png')),
  );
  const memory = await peakMemory(recipe(ROUNDS), files, folder);
  await rm(folder, { recursive: true, force: true });
  return [
    beside('Print file 4500 × 5400 of 30 layers, four of them blended', times, 'one sharp pipeline', 0.5),
    memory,
  ];
}

/**
 * Every layer drawn at its size, turned, and laid on with its blend mode, one after the other, as the baseline of the
 * small print file does it.
 */
async function plainly(
  { widthPx, heightPx, layers }: PrintRecipe,
  files: Readonly<Record<string, string>>,
  out: string,
): Promise<void> {
  const overlays: OverlayOptions[] = [];
  for (const {
    sha256,
    drawing,
    map: [a, b, c, d, e, f],
    opacity,
    blend,
  } of layers) {
    const [width, height] = [Math.max(1, Math.round(Math.hypot(a, b))), Math.max(1, Math.round(Math.hypot(c, d)))];
    const source = sha256
      ? sharp(files[sha256], { density: 150 })
      : sharp(
          Buffer.from(
            svgOfStep(drawing![0]).replace(
              '<svg ',
              `<svg width="${width}" height="${height}" preserveAspectRatio="none" `,
            ),
          ),
        );
    const sized = await source
      .resize(width, height, { fit: 'fill' })
      .toColourspace('srgb')
      .ensureAlpha()
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true });
    if (opacity < 1) for (let i = 3; i < sized.data.length; i += 4) sized.data[i] *= opacity;
    const turned = await sharp(sized.data, { raw: { width, height, channels: 4 } })
      .rotate((Math.atan2(b, a) * 180) / Math.PI, { background: { r: 0, g: 0, b: 0, alpha: 0 } })
      .raw()
      .toBuffer({ resolveWithObject: true });
    const [left, top] = [
      Math.round(e + (a + c) / 2 - turned.info.width / 2),
      Math.round(f + (b + d) / 2 - turned.info.height / 2),
    ];
    const cut = {
      left: Math.max(0, -left),
      top: Math.max(0, -top),
      width: Math.min(turned.info.width, widthPx - left) - Math.max(0, -left),
      height: Math.min(turned.info.height, heightPx - top) - Math.max(0, -top),
    };
    const seen = await sharp(turned.data, {
      raw: { width: turned.info.width, height: turned.info.height, channels: 4 },
    })
      .extract(cut)
      .raw()
      .toBuffer();
    overlays.push({
      input: seen,
      raw: { width: cut.width, height: cut.height, channels: 4 },
      left: Math.max(0, left),
      top: Math.max(0, top),
      blend: (blend ?? 'over') as Blend,
    });
  }
  await sharp({ create: { width: widthPx, height: heightPx, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } })
    .composite(overlays)
    .withIccProfile('srgb')
    .withMetadata({ density: 300 })
    .png({ compressionLevel: 6 })
    .toFile(out);
}
