import { readFile } from 'node:fs/promises';
import { PDFArray, PDFDict, PDFDocument, PDFName, PDFNumber, PDFRawStream, decodePDFRawStream } from 'pdf-lib';
import type { Affine, Pixels } from '@kettle/core/geometry';
import { inkBounds } from '@kettle/core/raster';
import type { PrintRecipe, RecipeLayer } from '@kettle/core/recipes';
import { inkTable } from '../../colour/colour-engine.js';
import { pressKernel } from '../../colour/kernel.js';
import { profileOf } from '../../colour/profiles.js';
import { PdfPage } from './pdf-page.js';
import { drawPdfPage } from './pdf-reader.js';
import { readShown } from '../../artwork/shown.js';
import type { Inks } from './format.js';
import type { Files } from '../../artwork/files.js';
import { drawLayers, onWholePixels } from '../draw-layers.js';
import { plainProfile, profileName } from '../../colour/icc.js';
import { fadesOut, outlinesOf } from '../outlines.js';
import { clearShare, type PrintFormat } from './format.js';

/**
 * Pixels of the picture of a page that is compared with the design, about: PDFium draws turned pictures half a pixel
 * aside, so it is asked for small ones. A canvas of fewer is drawn in a whole multiple of its own.
 */
const SEEN_PIXELS = 3_000_000;
const POINTS_PER_INCH = 72;
const MM_PER_INCH = 25.4;

/** PDF: true size, outlines as outlines, pictures at their own pixels. */
export const PDF: PrintFormat = {
  type: 'pdf',
  writer: 'PDFKit',
  reader: 'PDFium and pdf-lib',

  async encode(recipe, files, progress) {
    const { widthPx, heightPx, dpi, mode, alpha, ground, bleedMm, conversion } = recipe;
    const profile = mode === 'cmyk' ? await profileOf(conversion!, files) : await plainProfile('rgb');
    const table = mode === 'cmyk' ? await inkTable(profile, conversion!) : null;
    const page = new PdfPage({
      width: (widthPx / dpi) * POINTS_PER_INCH,
      height: (heightPx / dpi) * POINTS_PER_INCH,
      scale: POINTS_PER_INCH / dpi,
      bleed: ((bleedMm ?? 0) / MM_PER_INCH) * POINTS_PER_INCH,
      profile,
      inks: table && ((rgba) => pressKernel().convert(rgba, table, false)),
    });
    if (!alpha) page.fill(ground ?? '#ffffff');
    for (const [i, layer] of recipe.layers.entries()) {
      await lay(page, layer, files, recipe, `l${i}`);
      progress((i + 1) / recipe.layers.length);
    }
    return [await page.end()];
  },

  async open(path, recipe) {
    const bytes = await readFile(path);
    const says = await structure(bytes);
    const finer = Math.sqrt(SEEN_PIXELS / (recipe.widthPx * recipe.heightPx));
    const seen = Math.max(recipe.widthPx, recipe.heightPx) * (finer < 1 ? finer : Math.floor(finer));
    const pixels = await drawPdfPage(bytes, seen);
    const clear = clearShare(pixels.data);
    const widthMm = (says.width / POINTS_PER_INCH) * MM_PER_INCH;
    const heightMm = (says.height / POINTS_PER_INCH) * MM_PER_INCH;
    return {
      pixels,
      profile: says.profile,
      // PDFium draws pictures between whole pixels, and shows inks of outlines by another formula than those of pictures.
      slack: recipe.mode === 'cmyk' ? { edges: 20, colours: 20 } : { edges: 22, colours: 0, slopes: 4 },
      ...(recipe.mode === 'cmyk' ? { shows: (inks: Inks) => shown(inks, says.profile!) } : {}),
      facts: {
        fileType: 'pdf',
        widthPx: Math.round((says.width / POINTS_PER_INCH) * recipe.dpi),
        heightPx: Math.round((says.height / POINTS_PER_INCH) * recipe.dpi),
        pixelsPerMetreX: null,
        pixelsPerMetreY: null,
        trueSize: { widthMm, heightMm },
        ...(says.trim === null ? {} : { bleedMm: (says.trim / POINTS_PER_INCH) * MM_PER_INCH }),
        mode: says.mode,
        bitsPerChannel: 8,
        hasAlpha: clear > 0,
        transparentShare: clear,
        profile: says.profile && profileName(says.profile),
        interlaced: false,
        privateData: says.other,
        bytes: bytes.length,
      },
    };
  },
};

/** Puts a layer on the page: as outlines where they can hold it, as its own pixels where it is a picture, else drawn. */
async function lay(page: PdfPage, layer: RecipeLayer, files: Files, recipe: PrintRecipe, name: string): Promise<void> {
  const grid = { width: recipe.widthPx, height: recipe.heightPx };
  const outlines = await outlinesOf(layer, files, name);
  if (outlines !== null && !fadesOut(outlines)) {
    page.outlines(
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${grid.width} ${grid.height}">${outlines}</svg>`,
      grid,
      layer,
    );
    return;
  }
  if (layer.sha256 !== null && !layer.screen && !layer.rubbed) {
    const source = await readShown({ sha256: layer.sha256, treated: layer.treated }, files[layer.sha256]);
    // What is enlarged or turned goes in as it is printed: each reader does that in a way of its own.
    if ('pixels' in source && !isEnlarged(source.pixels, layer.map) && !isTurned(layer.map)) {
      page.picture(source.pixels, onWholePixels(layer.map), layer);
      return;
    }
  }
  const { opacity: _faded, blend: _blend, ...plain } = layer;
  const drawn = cropped(await drawLayers(grid, [{ ...plain, opacity: layer.screen ? layer.opacity : 1 }], files));
  if (drawn) page.picture(drawn.pixels, drawn.map, layer.screen ? { ...layer, opacity: 1 } : layer);
}

/** How PDFium shows inks: by a formula of its own, whatever their profile. */
async function shown({ width, height, data }: Inks, profile: Buffer): Promise<Pixels> {
  const inks = new Uint8Array(width * height * 4);
  const rgba = new Uint8Array(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    inks.set(data.subarray(i * 5, i * 5 + 4), i * 4);
    rgba[i * 4 + 3] = data[i * 5 + 4];
  }
  const page = new PdfPage({ width, height, scale: 1, bleed: 0, profile, inks: () => inks });
  page.picture({ width, height, data: rgba }, [width, 0, 0, height, 0, 0], { opacity: 1 });
  return drawPdfPage(await page.end(), Math.max(width, height));
}

const isEnlarged = ({ width, height }: Pixels, [a, b, c, d]: Affine): boolean =>
  Math.hypot(a, b) > width * 1.001 || Math.hypot(c, d) > height * 1.001;

const isTurned = ([, b, c]: Affine): boolean => Math.abs(b) + Math.abs(c) > 0.5;

/** The part of a canvas that holds anything, and where its unit square lies. */
function cropped(canvas: Pixels): { pixels: Pixels; map: Affine } | null {
  const bounds = inkBounds(canvas);
  if (!bounds) return null;
  const { left, top, right, bottom } = bounds;
  const { data, width } = canvas;
  const part = new Uint8Array((right - left) * (bottom - top) * 4);
  for (let y = top; y < bottom; y++)
    part.set(data.subarray((y * width + left) * 4, (y * width + right) * 4), (y - top) * (right - left) * 4);
  return {
    pixels: { width: right - left, height: bottom - top, data: part },
    map: [right - left, 0, 0, bottom - top, left, top],
  };
}

interface Structure {
  /** Points. */
  readonly width: number;
  readonly height: number;
  /** Distance of the trim box from the page's edges, points; null when there is none. */
  readonly trim: number | null;
  readonly mode: 'rgb' | 'cmyk' | 'other';
  readonly profile: Buffer | null;
  readonly other: readonly string[];
}

/** What a page says of itself, read by pdf-lib. */
async function structure(bytes: Buffer): Promise<Structure> {
  const document = await PDFDocument.load(bytes, { updateMetadata: false });
  const [page] = document.getPages();
  const { width, height } = page.getMediaBox();
  const box = page.node.lookupMaybe(PDFName.of('TrimBox'), PDFArray);
  const trim = box ? (box.lookup(0, PDFNumber).asNumber() ?? null) : null;
  const intents = document.catalog.lookupMaybe(PDFName.of('OutputIntents'), PDFArray);
  const stream = intents?.lookup(0, PDFDict).lookup(PDFName.of('DestOutputProfile'));
  const profile = stream instanceof PDFRawStream ? Buffer.from(decodePDFRawStream(stream).decode()) : null;
  const fonts = page.node.Resources()?.lookupMaybe(PDFName.of('Font'), PDFDict)?.keys().length ?? 0;
  const [rgb, cmyk] = colourSpaces(document);
  return {
    width,
    height,
    trim: trim === 0 ? null : trim,
    // A page in the inks of a press names no other colours, and the profile is of a press.
    mode: profile?.toString('latin1', 16, 20) === 'CMYK' ? (rgb ? 'other' : 'cmyk') : cmyk ? 'other' : 'rgb',
    profile,
    other: [
      ...(fonts ? [`${fonts} fonts`] : []),
      ...(document.getCreator() ? ['creator'] : []),
      ...(document.getProducer() ? ['producer'] : []),
      ...(document.getCreationDate() ? ['date'] : []),
    ],
  };
}

/** Whether anything on the pages is in RGB, and in CMYK. */
function colourSpaces(document: PDFDocument): [boolean, boolean] {
  let [rgb, cmyk] = [false, false];
  for (const [, object] of document.context.enumerateIndirectObjects()) {
    if (!(object instanceof PDFRawStream)) continue;
    const space = object.dict.lookup(PDFName.of('ColorSpace'))?.toString() ?? '';
    if (space.includes('DeviceRGB')) rgb = true;
    if (space.includes('DeviceCMYK')) cmyk = true;
    if (object.dict.has(PDFName.of('Subtype')) && object.dict.lookup(PDFName.of('Subtype'))!.toString() === '/Image')
      continue;
    if (object.dict.has(PDFName.of('N'))) continue;
    const text = Buffer.from(decodePDFRawStream(object).decode()).toString('latin1');
    if (/\/DeviceRGB\b/.test(text)) rgb = true;
    if (/\/DeviceCMYK\b/.test(text)) cmyk = true;
  }
  return [rgb, cmyk];
}
