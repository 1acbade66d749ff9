import PDFDocument from 'pdfkit';
import { createWriteStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import sharp from 'sharp';
import { MM_PER_INCH } from '@kettle/core/units';
import type { Pixels, Point } from '@kettle/core/geometry';
import { LINEAR_OF_CODE } from '@kettle/core/colour';
import { isInRoom, type Blank } from '@kettle/core/model';
import {
  areaOf,
  AreaLookup,
  layersOfScene,
  PLAIN_LOOK,
  type PictureRecipe,
  type SceneKernel,
} from '@kettle/core/mockup';
import { writeDrawnOra, type DrawnLayer } from '../archive/open-raster.js';
import type { Files } from '../artwork/files.js';
import { kernelWith, type PackFiles } from './blank-pack.js';
import { measuresOver, sceneOf, textureOf } from './picture.js';

/** A picture of a product that is to be a file to work on, or to lay the ruler on. */
export interface MockupFileJob {
  readonly as: 'ora' | 'pdf';
  readonly name: string;
  readonly recipe: PictureRecipe;
  readonly blank: Blank;
  readonly pack: PackFiles;
  readonly sources: Files;
  /** A place in the middle of the print, mm of its area, and how large it is shown there; 1 is true. */
  readonly middle: Point;
  readonly factor: number;
  readonly out: string;
}

/** Longest side of a page (PDF 1.7, annex C), points. */
const MOST_PAGE = 14_400;

/** Makes the file. A PDF's page is so large that the print on it measures what it will measure. */
export async function makeMockupFile({ as, ...job }: MockupFileJob): Promise<null> {
  const { kernel, behind, picture: bare } = await sceneOf(job.recipe, job.blank, job.pack, job.sources);
  const picture = copied(bare);
  const dpi = densityOf(kernel, job, picture.width);
  await (as === 'ora' ? writeLayers(job, kernel, behind, picture, dpi) : writePage(job, kernel, picture, dpi));
  return null;
}

/** Pixels per inch of the printed product, where the print's middle is seen. */
function densityOf(
  kernel: SceneKernel,
  { recipe, blank, middle, factor }: Pick<MockupFileJob, 'recipe' | 'blank' | 'middle' | 'factor'>,
  width: number,
): number {
  const [{ areaId }] = recipe.prints;
  const maps = kernel.areaMaps(areaId);
  const lookup = new AreaLookup(maps, areaOf(blank, areaId), width);
  const half = 8;
  const along = (dx: number, dy: number): number[] => {
    const [one, two] = [-1, 1].map((side) => lookup.pixelOf({ x: middle.x + side * dx, y: middle.y + side * dy }));
    return one && two ? [Math.hypot(two.x - one.x, two.y - one.y) / (2 * half)] : [];
  };
  const seen = [...along(half, 0), ...along(0, half)].filter((one) => one > 0);
  const perMm = seen.length ? seen.reduce((sum, one) => sum + one, 0) / seen.length : maps.pixelsPerMm;
  return perMm * factor * MM_PER_INCH;
}

async function writeLayers(
  { name, recipe, blank, sources, out }: Omit<MockupFileJob, 'as'>,
  kernel: SceneKernel,
  behind: Pixels | null,
  full: Pixels,
  dpi: number,
): Promise<void> {
  const bare = copied(kernel.render(recipe, []));
  const { maps } = kernel;
  const inRoom = isInRoom(blank);
  const count = maps.width * maps.height;
  // Where nothing takes the product's colour, a room shows what stands in it; a product of its own is not there at all.
  const without = inRoom ? { mask: new Uint8Array(count) } : { photo: new Uint8Array(count * 4) };
  const around = await kernelWith(blank, { ...maps, ...without }, kernel.exposure);
  around.setBehind(behind);
  const wall = copied(around.render(recipe, []));
  const product = new Uint8Array(count);
  const coloured = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    const alpha = maps.photo[i * 4 + 3];
    product[i] = inRoom ? maps.mask[i] : alpha;
    coloured[i] = inRoom ? 255 : alpha ? Math.min(255, Math.round((maps.mask[i] * 255) / alpha)) : 0;
  }
  const parts = { full, bare, wall, product, coloured, ink: await inkOf(kernel, recipe, blank, sources) };
  const apart = layersOfScene({ ...parts, garment: recipe.garment });
  const lines = await measuresOver(kernel, recipe, blank, full);
  const layers: DrawnLayer[] = [
    { name: 'Wall', composite: 'svg:src-over', pixels: apart.wall },
    { name: 'Product', composite: 'svg:src-over', pixels: apart.product },
    { name: 'Print', composite: 'svg:src-over', pixels: apart.print },
    { name: 'Shade', composite: 'svg:multiply', pixels: apart.shade },
    { name: 'Gloss', composite: 'svg:plus', pixels: apart.gloss },
    ...(lines ? [{ name: 'Measures', composite: 'svg:src-over', pixels: lines.over }] : []),
  ];
  await writeDrawnOra(out, { name, dpi, layers, merged: lines?.picture ?? full });
}

/** Light that ink is found in: the most that is not rolled off, as the packs' codes say it. */
const EVEN_CODE = 161;
const EVEN = 2 * (EVEN_CODE / 255) ** 2;

/** How much of each pixel is ink: white ink on black cloth in even light. */
async function inkOf(kernel: SceneKernel, recipe: PictureRecipe, blank: Blank, sources: Files): Promise<Uint8Array> {
  const { width, height } = kernel.maps;
  const count = width * height;
  const shade = new Uint8Array(count * 4);
  for (let i = 0; i < shade.length; i += 4) shade[i] = EVEN_CODE;
  const even = await kernelWith(
    blank,
    {
      width,
      height,
      photo: new Uint8Array(count * 4).fill(255),
      mask: new Uint8Array(count).fill(255),
      shade,
      shadow: new Uint8Array(count),
    },
    1,
  );
  for (const print of recipe.prints) {
    even.addArea(areaOf(blank, print.areaId), kernel.areaMaps(print.areaId));
    const texture = copied(await textureOf(print, sources));
    for (let i = 0; i < texture.data.length; i += 4) texture.data.fill(255, i, i + 3);
    even.setTexture(print.areaId, texture, print);
  }
  const { data } = even.render(
    { garment: '#000000', backdrop: '#000000', inkOpacity: recipe.inkOpacity, shadow: 0, look: PLAIN_LOOK },
    recipe.prints.map(({ areaId }) => areaId),
  );
  return Uint8Array.from({ length: count }, (_, i) =>
    Math.min(255, Math.round((LINEAR_OF_CODE[data[i * 4]] / EVEN) * 255)),
  );
}

/** A page with the picture alone. */
async function writePage(
  { name, recipe, blank, out }: Omit<MockupFileJob, 'as'>,
  kernel: SceneKernel,
  picture: Pixels,
  dpi: number,
): Promise<void> {
  const { width, height, data } = (await measuresOver(kernel, recipe, blank, picture))?.picture ?? picture;
  const points = Math.min(72 / dpi, MOST_PAGE / Math.max(width, height));
  const size: [number, number] = [width * points, height * points];
  const image = await sharp(data as Uint8Array, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .withIccProfile('srgb')
    .jpeg({ quality: 95, chromaSubsampling: '4:4:4' })
    .toBuffer();
  const page = new PDFDocument({ size, margin: 0, info: { Title: name } });
  page.image(image, 0, 0, { width: size[0], height: size[1] });
  page.end();
  await pipeline(page, createWriteStream(out));
}

const copied = ({ width, height, data }: Pixels): Pixels & { readonly data: Uint8ClampedArray } => ({
  width,
  height,
  data: new Uint8ClampedArray(data),
});
