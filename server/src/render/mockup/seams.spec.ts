import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { apply } from '@kettle/core/geometry';
import type { Blank, Panel, PrintArea } from '@kettle/core/model';
import { sleeveSeam } from '@kettle/core/requirement';
import sharp from 'sharp';
import { BLANKS } from '../../floor/files/shipped.js';

/** Reads where each pixel of a picture lies on a panel, mm, and how much of it the panel covers, 0 to 255. */
async function mapOf(folder: string, { uv, widthMm, heightMm }: PrintArea) {
  const { data, info } = await sharp(join(folder, uv)).raw().toBuffer({ resolveWithObject: true });
  const { width, height, channels } = info;
  return {
    width,
    height: height / 2,
    at(x: number, y: number): readonly [number, number, number] {
      const [high, low] = [(y * width + x) * channels, ((y + height / 2) * width + x) * channels];
      return [
        ((data[high] * 256 + data[low]) / 65535) * widthMm,
        ((data[high + 1] * 256 + data[low + 1]) / 65535) * heightMm,
        data[high + 2],
      ];
    },
  };
}

describe('seams of shipped blanks', () => {
  for (const [id, bodyId] of [
    ['tee-flat', 'panel-front'],
    ['tee-front', 'panel-front'],
    ['tee-back', 'panel-back'],
  ])
    for (const sleeveId of ['sleeve-left', 'sleeve-right'])
      it(`join ${bodyId} and ${sleeveId} of ${id} where the picture shows them joined`, async () => {
        const folder = join(BLANKS, id);
        const blank = JSON.parse(await readFile(join(folder, 'blank.json'), 'utf8')) as Blank;
        const [body, sleeve] = [bodyId, sleeveId].map((one) => blank.areas.find((area) => area.id === one)!);
        const panelOf = (area: PrintArea): Panel => ({
          areaId: area.id,
          cut: area.cut!,
          lines: area.lines!,
          insetMm: area.safeInsetMm,
        });
        const seam = sleeveSeam(panelOf(body), panelOf(sleeve))!;
        expect(seam.mostMm).toBeLessThan(2);
        // Pixels that two panels share lie on their seam, or where a sleeve hangs before the body: fewer than half.
        const [one, other] = [await mapOf(folder, body), await mapOf(folder, sleeve)];
        const apart: number[] = [];
        for (let y = 0; y < one.height; y++)
          for (let x = 0; x < one.width; x++) {
            const [p, q] = [one.at(x, y), other.at(x, y)];
            if (p[2] < 40 || q[2] < 40) continue;
            const there = apply(seam.onto, { x: p[0], y: p[1] });
            apart.push(Math.hypot(there.x - q[0], there.y - q[1]));
          }
        apart.sort((a, b) => a - b);
        expect(apart.length).toBeGreaterThan(100);
        // A picture’s pixel is about 1.3 mm of cloth there.
        expect(apart[apart.length >> 1]).toBeLessThan(2);
      });
});
