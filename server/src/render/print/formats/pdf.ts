import { readFile } from 'node:fs/promises';
import { createCanvas } from '@napi-rs/canvas';
import { PDFArray, PDFDict, PDFDocument, PDFName, PDFNumber, PDFRawStream, decodePDFRawStream } from 'pdf-lib';
import { inkBounds, type Affine, type Pixels, type PrintRecipe, type RecipeLayer } from '@kettle/core';
import { inkTable } from '../../press/colour-engine.js';
import { pressKernel } from '../../press/kernel.js';
import { profileOf } from '../../press/profiles.js';
import { PdfPage } from '../../press/pdf-page.js';
import { readShown } from '../../artwork/shown.js';
import { drawLayers, type Files } from '../draw-layers.js';
import { plainProfile, profileName } from '../icc.js';
import { outlinesOf } from '../outlines.js';
import { clearShare, type PrintFormat } from './format.js';

/** Longest side of the picture of a page that is compared with the design, px. */
const SEEN_PX = 1000;
const POINTS_PER_INCH = 72;
const MM_PER_INCH = 25.4;

/** PDF: true size, outlines as outlines, pictures at their own pixels. */
export const PDF: PrintFormat = {
  type: 'pdf',
  writer: 'PDFKit',
  reader: 'pdf.js and pdf-lib',

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
    const pixels = await rendered(bytes);
    const clear = clearShare(pixels.data);
    const widthMm = (says.width / POINTS_PER_INCH) * MM_PER_INCH;
    const heightMm = (says.height / POINTS_PER_INCH) * MM_PER_INCH;
    return {
      pixels,
      // pdf.js shows inks by a formula of its own, whatever their profile.
      ...(recipe.mode === 'cmyk' ? { slack: 24 } : {}),
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
  if (outlines !== null) {
    page.outlines(
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${grid.width} ${grid.height}">${outlines}</svg>`,
      grid,
      layer,
    );
    return;
  }
  if (layer.sha256 !== null && !layer.screen) {
    const source = await readShown({ sha256: layer.sha256, treated: layer.treated }, files[layer.sha256]);
    if ('pixels' in source) {
      page.picture(source.pixels, layer.map, layer);
      return;
    }
  }
  const { opacity: _faded, blend: _blend, ...plain } = layer;
  const drawn = cropped(await drawLayers(grid, [{ ...plain, opacity: layer.screen ? layer.opacity : 1 }], files));
  if (drawn) page.picture(drawn.pixels, drawn.map, layer.screen ? { ...layer, opacity: 1 } : layer);
}

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

/** The page as pdf.js draws it, with nothing behind it. */
async function rendered(bytes: Buffer): Promise<Pixels> {
  const { getDocument, VerbosityLevel } = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const document = await getDocument({
    data: new Uint8Array(bytes),
    verbosity: VerbosityLevel.ERRORS,
    useSystemFonts: false,
  }).promise;
  try {
    if (document.numPages !== 1) throw new Error(`A print file has ${document.numPages} pages.`);
    const page = await document.getPage(1);
    const whole = page.getViewport({ scale: 1 });
    const viewport = page.getViewport({ scale: SEEN_PX / Math.max(whole.width, whole.height) });
    const canvas = createCanvas(Math.round(viewport.width), Math.round(viewport.height));
    const context = canvas.getContext('2d');
    await page.render({
      canvas: null,
      canvasContext: context as never,
      viewport,
      background: 'rgba(0,0,0,0)',
    }).promise;
    const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
    return { width: canvas.width, height: canvas.height, data: new Uint8Array(data) };
  } finally {
    await document.destroy();
  }
}

interface Structure {
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
