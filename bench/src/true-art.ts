import sharp from 'sharp';
import type { Pixels } from '@kettle/core/geometry';
import { drawOver } from '@kettle/core/raster';
import type { GraphicPart } from '@kettle/core/model';
import { marksOfStroke, drawingSteps, filled } from '@kettle/core/drawing';
import { drawOwnSvg, makeLettering, readGraphics, shippedFiles } from '@kettle/server';

/** Side of a test picture, px. */
const SIDE = 1200;

/** A picture whose alpha is known, because it was drawn and never stood on a ground. */
export interface TrueArt {
  readonly name: string;
  readonly kind: 'outlines' | 'lettering' | 'soft';
  readonly pixels: Pixels;
}

const GRAPHICS = ['teapot', 'fox', 'sailboat', 'sunflower', 'hibiscus', 'umbrella-with-rain-drops'];
const FACE = 'archivo-black-latin-400';
const WORDS: readonly (readonly [string, string])[] = [
  ['Drizzle', '#1f2b4d'],
  ['fog & rain', '#b4532a'],
];

const drawn = (box: { width: number; height: number }, parts: readonly GraphicPart[]): Promise<Pixels> => {
  const factor = (SIDE * 0.8) / Math.max(box.width, box.height);
  const steps = drawingSteps({
    marks: parts.map(({ path, fill, rule }) => ({ ...filled(path, fill), ...(rule ? { rule } : {}) })),
    box: { x: 0, y: 0, ...box },
    reach: 0,
  });
  const [left, top] = [(SIDE - box.width * factor) / 2, (SIDE - box.height * factor) / 2];
  return drawOwnSvg(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE}" height="${SIDE}"><g transform="matrix(${factor} 0 0 ${factor} ${left} ${top})">${steps.map((step) => step.body).join('')}</g></svg>`,
  );
};

/** A picture painted with soft brushes. */
async function brushed(hexes: readonly string[]): Promise<Pixels> {
  const bodies = hexes.map((hex, n) => {
    const points = Array.from({ length: 24 }, (_, i) => [
      200 + i * 34,
      300 + n * 260 + Math.sin(i / 3 + n) * 90,
      0.5,
    ]).flat();
    const marks = marksOfStroke({ points, size: 150 - 30 * n, hardness: 0.15, opacity: 1, hex, erase: false });
    return drawingSteps({ marks, box: { x: 0, y: 0, width: SIDE, height: SIDE }, reach: 0 })[0].body;
  });
  return drawOwnSvg(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE}" height="${SIDE}">${bodies.join('')}</svg>`,
  );
}

export async function trueArt(): Promise<TrueArt[]> {
  const library = readGraphics();
  const outlines = GRAPHICS.map((id) => library.find((one) => one.id === id)).filter((one) => one !== undefined);
  const files = shippedFiles(FACE)!;
  return [
    ...(await Promise.all(
      outlines.map(async ({ id, width, height, parts }): Promise<TrueArt> => ({
        name: id,
        kind: 'outlines',
        pixels: await drawn({ width, height }, parts),
      })),
    )),
    ...(await Promise.all(
      WORDS.map(async ([text, hex]): Promise<TrueArt> => {
        const { outlines: letters } = await makeLettering(files, text, {
          spacing: 0,
          lineSpacing: 100,
          align: 'middle',
          bend: 0,
        });
        return { name: text, kind: 'lettering', pixels: await drawn(letters!, [{ path: letters!.path, fill: hex }]) };
      }),
    )),
    { name: 'brushed, dark', kind: 'soft', pixels: await brushed(['#1f2b4d', '#7a1f3d', '#11564f']) },
    { name: 'brushed, bright', kind: 'soft', pixels: await brushed(['#e0402f', '#2f6fd0', '#7a2fb0']) },
  ];
}

/** Art laid on a ground, saved as JPEG of quality 80 and read again when asked. */
export async function onGround({ width, height, data }: Pixels, ground: Pixels, jpeg: boolean): Promise<Pixels> {
  const laid: Pixels = { width, height, data: Uint8ClampedArray.from(ground.data) };
  drawOver(laid, { width, height, data }, 0, 0);
  if (!jpeg) return laid;
  const file = await sharp(Buffer.from(laid.data), { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .jpeg({ quality: 80 })
    .toBuffer();
  return { width, height, data: await sharp(file).ensureAlpha().raw().toBuffer() };
}

/** A ground of the size of the test pictures, by its colour at each place. */
export function groundOf(colourAt: (x: number, y: number) => readonly [number, number, number]): Pixels {
  const data = new Uint8ClampedArray(SIDE * SIDE * 4);
  for (let y = 0, i = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++, i += 4) {
      const [r, g, b] = colourAt(x / SIDE, y / SIDE);
      data[i] = r;
      data[i + 1] = g;
      data[i + 2] = b;
      data[i + 3] = 255;
    }
  return { width: SIDE, height: SIDE, data };
}
