import { mkdir, writeFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { join } from 'node:path';
import sharp from 'sharp';
import * as art from './designs-art.js';

// Draws the club's artwork into demo/artwork: npm run demo:draw. The files are kept in the repository.

const FOLDER = fileURLToPath(new URL('../artwork/', import.meta.url));
await mkdir(FOLDER, { recursive: true });

const svg = (name: string, drawing: art.Drawing): Promise<void> =>
  writeFile(join(FOLDER, `${name}.svg`), art.svgOf(drawing));
const raster = (drawing: art.Drawing, width: number, ground = '') =>
  sharp(Buffer.from(art.svgOf(drawing, ground)), { density: (72 * width) / drawing.width }).resize(width);

await svg('mostly-drizzle-cloud', art.drizzleCloud);
await svg('mostly-drizzle-rain', art.drizzleRain);
await svg('mostly-drizzle-lettering', art.drizzleLettering);
await svg('barometer-dial', art.barometerDial);
await svg('barometer-needle', art.barometerNeedle);
await svg('barometer-lettering', art.barometerLettering);
await svg('isobars-ground', art.isobarGround);
await svg('isobars-lines', art.isobarLines);
// Saved on white by mistake, as it happens: the white box.
await raster(art.cumulus, 3000, '#ffffff')
  .flatten({ background: '#ffffff' })
  .withMetadata({ density: 72 })
  .jpeg({ quality: 90 })
  .toFile(join(FOLDER, 'cumulus-appreciation.jpg'));
await raster(art.fogSignal, 3600)
  .withMetadata({ density: 300 })
  .png({ compressionLevel: 9 })
  .toFile(join(FOLDER, 'fog-signal.png'));
// Taken from a web page: too small for a shirt.
await raster(art.rainGauge, 900)
  .withMetadata({ density: 72 })
  .png({ compressionLevel: 9 })
  .toFile(join(FOLDER, 'rain-gauge-regulars.png'));
