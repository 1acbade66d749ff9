import { execFile } from 'node:child_process';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { emptyDesign, type Treatment } from '@kettle/core/model';
import { treatedBy } from '@kettle/core/treatments';
import { pictureLayer } from '@kettle/core/document';
import { RENDER_ENVIRONMENT, SELLER } from '@kettle/server';
import type { Application } from './application.js';
import { against, measureOf, type Row } from './timing.js';
import { groundOf, onGround, trueArt } from './true-art.js';

/** Side of the picture that is worked on, px: 16.8 million. */
const SIDE = 4096;
const MAKER = fileURLToPath(new URL('./treated-memory.js', import.meta.url));

/** A fox on cream, as a camera's JPEG would have it. */
async function largePicture(folder: string): Promise<string> {
  const fox = (await trueArt()).find((one) => one.name === 'fox')!;
  const { width, height, data } = await onGround(
    fox.pixels,
    groundOf(() => [244, 234, 212]),
    false,
  );
  const path = join(folder, 'large.jpg');
  await sharp(data as Uint8ClampedArray, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .resize(SIDE, SIDE)
    .jpeg({ quality: 88 })
    .toFile(path);
  return path;
}

/** Taking a background out of a picture of 16 MP: what a hand waits for, and what the server needs for the whole. */
export async function cutting({ page, serve, folder }: Application): Promise<Row[]> {
  const server = await serve('kettle_cutting');
  const path = await largePicture(folder);
  const asset = await server.house.assets.keep(SELLER, path, 'large.jpg');
  const empty = emptyDesign('Large');
  const design = await server.house.designs.add(SELLER, {
    ...empty,
    layers: [pictureLayer('large', 'Large', asset, empty.field)],
  });
  const seen = await onStage(await page(), `${server.address}/designs/${design.id}/artwork`);
  return [
    against('16 MP picture: first answer on the stage after a click', measureOf(seen.clicks), 150),
    against('16 MP picture: first answer on the stage after a lifted stroke', measureOf(seen.strokes), 150),
    against('16 MP picture: a step of the tolerance slider', measureOf(seen.steps), 33),
    ...(await whole(path, folder)),
  ];
}

async function onStage(page: Page, address: string) {
  await page.goto(address);
  await page.locator('.sheet').click();
  await page.getByRole('button', { name: 'Make it fit for cloth' }).click();
  const view = page.locator('ks-picture-view');
  const canvas = view.locator('canvas');
  await canvas.waitFor();
  const took = async (act: () => Promise<unknown>): Promise<number> => {
    await page.waitForFunction(
      () => !document.querySelector('ks-cut-out header small')?.textContent?.includes('working'),
    );
    const before = Number(await view.getAttribute('data-answers'));
    await act();
    await page.waitForFunction(
      (answers) => Number(document.querySelector('ks-picture-view')?.getAttribute('data-answers')) > answers,
      before,
    );
    if (process.env['CUT_VERBOSE'])
      console.error(await view.getAttribute('data-took'), await view.getAttribute('data-worker'));
    return Number(await view.getAttribute('data-took'));
  };
  const box = (await canvas.boundingBox())!;
  const side = Math.min(box.width, box.height) - 36;
  const at = (x: number, y: number): [number, number] => [
    box.x + (box.width - side) / 2 + x * side,
    box.y + (box.height - side) / 2 + y * side,
  ];
  const steps: number[] = [];
  const slider = page.getByRole('slider', { name: 'Tolerance' });
  await slider.focus();
  for (let n = 0; n < 30; n++) steps.push(await took(() => page.keyboard.press('ArrowRight')));
  // Each click takes one more colour out: of the fox, whose parts hang together.
  const clicks: number[] = [];
  for (const [x, y] of [
    [0.5, 0.5],
    [0.3, 0.25],
    [0.41, 0.57],
    [0.5, 0.66],
    [0.5, 0.8],
    [0.7, 0.25],
    [0.59, 0.57],
  ] as const) {
    await page.getByRole('button', { name: /^A colour/ }).click();
    clicks.push(await took(() => page.mouse.click(...at(x, y))));
  }
  const removes = page.getByRole('button', { name: /^Remove / });
  while (await removes.count()) await removes.first().click();
  await page.getByRole('button', { name: /^Strokes/ }).click();
  const strokes: number[] = [];
  for (let n = 0; n < 9; n++) {
    strokes.push(
      await took(async () => {
        await page.mouse.move(...at(0.35 + 0.02 * n, 0.5));
        await page.mouse.down();
        await page.mouse.move(...at(0.5, 0.55 + 0.01 * n), { steps: 6 });
        await page.mouse.up();
      }),
    );
  }
  return { steps, clicks, strokes };
}

/** The whole picture on the server, each time worked out anew, in a process of its own. */
async function whole(path: string, folder: string): Promise<Row[]> {
  const lists: Treatment[][] = [
    [{ id: 'c', kind: 'colour', hex: '#f4ead4', tolerance: 5, from: 'border' }],
    [
      {
        id: 's',
        kind: 'strokes',
        hair: 0.006,
        fine: true,
        strokes: [
          { keep: true, points: [0.3, 0.5, 0.5, 0.55, 0.7, 0.5], size: 0.02 },
          { keep: false, points: [0.03, 0.03, 0.97, 0.03, 0.97, 0.97, 0.03, 0.97, 0.03, 0.03], size: 0.02 },
        ],
      },
    ],
  ];
  const rows: Row[] = [];
  for (const [n, name] of ['by colour', 'by strokes'].entries()) {
    const jobs = Array.from({ length: 5 }, (_, round) => ({
      name: `${name} ${round}`,
      path,
      treated: treatedBy(lists[n]),
    }));
    const order = join(folder, 'treat.json');
    await writeFile(order, JSON.stringify({ jobs }));
    const { stdout } = await promisify(execFile)(process.execPath, [MAKER, order], {
      env: { ...process.env, ...RENDER_ENVIRONMENT, KETTLE_KEPT: folder },
    });
    const { times, peak } = JSON.parse(stdout) as { times: number[]; peak: number };
    rows.push(
      against(`16 MP picture ${name}, whole, on the server`, measureOf(times), 2000),
      against('The same: peak memory of the process', measureOf([Math.round(peak / 1024)]), 600, 'MB'),
    );
  }
  return rows;
}
