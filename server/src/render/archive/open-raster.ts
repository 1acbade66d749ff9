import sharp from 'sharp';
import { pixelsPerMetre } from '@kettle/core/units';
import type { Pixels } from '@kettle/core/geometry';
import { withPrintChunks } from '@kettle/core/raster';
import type { RecipeLayer } from '@kettle/core/recipes';
import type { Files } from '../artwork/files.js';
import { drawLayers, placedLayers } from '../print/draw-layers.js';
import { pngProfile } from '../colour/icc.js';
import { withoutExtras } from '../colour/png-extras.js';
import { writeZip, type ZipInput } from './zip.js';

/** A layer or a group of an OpenRaster picture, front to back as its stack has them. */
export type OraNode = OraLayer | { readonly name: string; readonly children: readonly OraLayer[] };
export interface OraLayer {
  readonly name: string;
  readonly opacity: number;
  readonly hidden: boolean;
  readonly locked: boolean;
  readonly composite: string;
  readonly recipe: RecipeLayer;
}

export interface OraJob {
  readonly name: string;
  readonly grid: { width: number; height: number };
  readonly dpi: number;
  readonly stack: readonly OraNode[];
  readonly merged: readonly RecipeLayer[];
  readonly files: Files;
  readonly out: string;
}

const escape = (text: string): string => text.replace(/[&<>"]/g, (letter) => `&#${letter.charCodeAt(0)};`);

/** A picture of an OpenRaster file, with the density and the profile it is meant in. */
async function png(data: Uint8Array | Uint8ClampedArray, width: number, height: number, dpi: number): Promise<Buffer> {
  const plain = await sharp(data as Uint8Array, { raw: { width, height, channels: 4 } })
    .png({ compressionLevel: 6, palette: false })
    .toBuffer();
  return Buffer.concat(withPrintChunks(withoutExtras(plain), pixelsPerMetre(dpi), await pngProfile('rgb')));
}

/**
 * Writes an OpenRaster file (baseline 0.0.6): every layer cut to what is seen of it, the merged picture and a
 * thumbnail.
 */
export async function writeOra({ name, grid, dpi, stack, merged, files, out }: OraJob): Promise<void> {
  const inputs: ZipInput[] = [];
  const layerXml = async ({ name: title, opacity, hidden, locked, composite, recipe }: OraLayer): Promise<string> => {
    const [placed] = await placedLayers(grid, [recipe], files);
    const { pixels, left, top } = placed ?? {
      pixels: { width: 1, height: 1, data: new Uint8Array(4) },
      left: 0,
      top: 0,
    };
    const src = `data/layer${String(inputs.length).padStart(3, '0')}.png`;
    inputs.push({ name: src, content: await png(pixels.data, pixels.width, pixels.height, dpi), store: true });
    return `<layer name="${escape(title)}" src="${src}" x="${left}" y="${top}" opacity="${opacity}" visibility="${hidden ? 'hidden' : 'visible'}" composite-op="${composite}"${locked ? ' edit-locked="true"' : ''}/>`;
  };
  let body = '';
  for (const node of stack) {
    if (!('children' in node)) {
      body += await layerXml(node);
      continue;
    }
    body += `<stack name="${escape(node.name)}" isolation="auto">`;
    for (const child of node.children) body += await layerXml(child);
    body += '</stack>';
  }
  const whole = await drawLayers(grid, merged, files);
  await writeStack({ name, grid, dpi, body, inputs, merged: whole.data, out });
}

/** A layer of a picture that is drawn already, from its lowest to its topmost. */
export interface DrawnLayer {
  readonly name: string;
  readonly composite: string;
  readonly pixels: Pixels;
}

/** Writes layers that are as large as the picture, with the picture that they give. */
export async function writeDrawnOra(
  out: string,
  { name, dpi, layers, merged }: { name: string; dpi: number; layers: readonly DrawnLayer[]; merged: Pixels },
): Promise<void> {
  const { width, height } = merged;
  const inputs: ZipInput[] = [];
  let body = '';
  for (const { name: title, composite, pixels } of layers) {
    const src = `data/layer${String(inputs.length).padStart(3, '0')}.png`;
    inputs.push({ name: src, content: await png(pixels.data, width, height, dpi), store: true });
    body = `<layer name="${escape(title)}" src="${src}" x="0" y="0" opacity="1" visibility="visible" composite-op="${composite}"/>${body}`;
  }
  await writeStack({ name, grid: { width, height }, dpi, body, inputs, merged: merged.data, out });
}

/** Writes the archive: the stack, its pictures, the merged picture and a thumbnail. */
async function writeStack({
  name,
  grid,
  dpi,
  body,
  inputs,
  merged,
  out,
}: Pick<OraJob, 'name' | 'grid' | 'dpi' | 'out'> & {
  body: string;
  inputs: readonly ZipInput[];
  merged: Uint8Array | Uint8ClampedArray;
}): Promise<void> {
  const picture = await png(merged, grid.width, grid.height, dpi);
  const thumbnail = await sharp(merged, { raw: { ...grid, channels: 4 } })
    .resize(256, 256, { fit: 'inside' })
    .png()
    .toBuffer();
  const xml = `<?xml version="1.0" encoding="UTF-8"?>\n<image version="0.0.6" w="${grid.width}" h="${grid.height}" xres="${Math.round(dpi)}" yres="${Math.round(dpi)}" name="${escape(name)}"><stack>${body}</stack></image>\n`;
  await writeZip(out, [
    { name: 'mimetype', content: 'image/openraster', store: true },
    { name: 'stack.xml', content: xml },
    ...inputs,
    { name: 'mergedimage.png', content: picture, store: true },
    { name: 'Thumbnails/thumbnail.png', content: thumbnail, store: true },
  ]);
}
