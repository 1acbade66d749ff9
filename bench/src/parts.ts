import { withApplication } from './application.js';
import { blanks } from './blanks.js';
import { clipsPlaying } from './clips-playing.js';
import { clips } from './clips.js';
import { cutting } from './cutting.js';
import { cutOuts } from './cut-outs.js';
import { dragOfThirty } from './drag.js';
import { dragOnShirt } from './drag-on-shirt.js';
import { listingPictures } from './listing-pictures.js';
import { largeDrawing } from './large-drawing.js';
import { benchPrintFile } from './print-file.js';
import { printOfThirty } from './print-of-thirty.js';
import { benchCmyk, benchPacking, benchRun } from './press-room.js';
import { benchScene } from './scene.js';
import { sheet } from './sheet.js';
import type { Row } from './timing.js';
import { twoWorkers } from './two-workers.js';

/** What is measured, by the name it is asked for with. */
export const PARTS: Readonly<Record<string, () => Promise<readonly Row[]>>> = {
  'print-file': benchPrintFile,
  cmyk: benchCmyk,
  scene: benchScene,
  runs: () => withApplication(benchRun),
  packing: () => withApplication(async (application) => [await benchPacking(application)]),
  'cut-outs': cutOuts,
  cutting: () => withApplication(cutting),
  pictures: () => withApplication(listingPictures),
  preview: () => withApplication(async ({ page, demo }) => dragOnShirt(await page(), await demo())),
  clips: () =>
    withApplication(async ({ page, demo }) => {
      const server = await demo();
      // What is played is measured in a browser in which nothing was made.
      const tab = await page();
      const playing = await clipsPlaying(tab, server);
      await tab.close();
      return [...(await clips(await page(), server)), ...playing];
    }),
  drag: () => withApplication(async ({ page, demo }) => dragOfThirty(await page(), await demo())),
  blanks: () => withApplication(async ({ page, demo }) => blanks(await page(), await demo())),
  'thirty-layers': () => withApplication(async ({ demo }) => printOfThirty(await demo())),
  sheet: () => withApplication(async ({ page, serve }) => sheet(await page(), await serve('kettle_sheet', false))),
  'large-drawing': () =>
    withApplication(async ({ create, folder }) => [
      await largeDrawing(await create('kettle_drawing'), `${folder}/kettle_drawing`),
    ]),
  workers: () => withApplication(async (application) => [await twoWorkers(application)]),
};
