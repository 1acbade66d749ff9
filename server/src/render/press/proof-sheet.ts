import { writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { scale as scaled, type Box, type Pixels } from '@kettle/core/geometry';
import { inkBounds } from '@kettle/core/raster';
import type { Colourway } from '@kettle/core/model';
import type { CertificateRow } from '@kettle/core/requirement';
import { reducedLayer, repeatedLayers, type RecipeLayer } from '@kettle/core/recipes';
import type { Files } from '../artwork/files.js';
import { drawLayers } from '../print/draw-layers.js';
import { beginPdf, INK, QUIET, RULE, type PdfDocument } from './pdf-document.js';
import { wholeFile } from '../../floor/files/whole-file.js';

/** Everything that a proof sheet shows. */
export interface ProofSheetRecipe {
  readonly kind: 'proof-sheet';
  readonly engine: number;
  readonly design: string;
  readonly channel: string;
  readonly requirement: string;
  /** In words; empty where the target has no versions. */
  readonly version: string;
  readonly garment: string;
  readonly colourways: readonly Colourway[];
  readonly widthPx: number;
  readonly heightPx: number;
  readonly dpi: number;
  /** Distance of the safe line from the edges, mm. */
  readonly safeMm: number;
  readonly layers: readonly RecipeLayer[];
  /** Of the print file that is made of it, if it is made. */
  readonly certificate: { readonly sha256: string; readonly rows: readonly CertificateRow[] } | null;
}

/** What a reader found in a finished sheet. */
export interface ProofSheetFacts {
  readonly pages: number;
  readonly text: string;
}

/** A4 across, in points, and the margin around everything. */
const [PAGE_W, PAGE_H, MARGIN] = [841.89, 595.28, 34];
/** Room of the drawing, points. */
const ROOM: Box = { x: MARGIN + 34, y: MARGIN + 62, width: 420, height: 430 };
const POINT_MM = 25.4 / 72;
/** Scales that people can reckon with. */
const SCALES = [1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10, 15, 20, 50];
/** Longest side of the picture of the design, px. */
const PICTURE_PX = 1800;
/** Alpha above which ink is seen. */
const SEEN_ALPHA = 10;
const LINE = '#b4532a';

/** Makes a proof sheet at `out` and reads it back. */
export async function makeProofSheet(recipe: ProofSheetRecipe, files: Files, out: string): Promise<ProofSheetFacts> {
  const bytes = await writeSheet(recipe, files);
  const facts = await readSheet(bytes);
  await wholeFile(out, (coming) => writeFile(coming, bytes));
  return facts;
}

/** What pdf.js, which did not write it, finds on a sheet. */
async function readSheet(bytes: Buffer): Promise<ProofSheetFacts> {
  const { getDocument, VerbosityLevel } = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const document = await getDocument({ data: new Uint8Array(bytes), verbosity: VerbosityLevel.ERRORS }).promise;
  try {
    const content = await (await document.getPage(1)).getTextContent();
    return {
      pages: document.numPages,
      text: content.items.map((item) => ('str' in item ? item.str : '')).join(' '),
    };
  } finally {
    await document.destroy();
  }
}

async function writeSheet(recipe: ProofSheetRecipe, files: Files): Promise<Buffer> {
  const made = new Date(Date.UTC(2026, 0, 1));
  const { document, end } = await beginPdf([PAGE_W, PAGE_H, 0], `${recipe.design}: proof`, made);
  const canvas = {
    width: (recipe.widthPx / recipe.dpi) * 25.4,
    height: (recipe.heightPx / recipe.dpi) * 25.4,
  };
  const fits = (n: number): boolean =>
    canvas.width / n / POINT_MM <= ROOM.width && canvas.height / n / POINT_MM <= ROOM.height;
  const ratio = SCALES.find(fits) ?? SCALES.at(-1)!;
  const points = (mm: number): number => mm / ratio / POINT_MM;
  const { picture, ink } = await drawn(recipe, files, canvas);

  document
    .font('bold')
    .fontSize(19)
    .fillColor(INK)
    .text(recipe.design, MARGIN, MARGIN, { width: 470, lineBreak: false });
  document
    .font('plain')
    .fontSize(10)
    .fillColor(QUIET)
    .text(
      `${recipe.channel} · ${recipe.requirement}${recipe.version ? `, ${recipe.version}` : ''} · scale 1 : ${ratio}`,
      MARGIN,
      MARGIN + 25,
    );
  drawCanvas(document, recipe, canvas, points, picture, ink);
  drawFacts(document, recipe, canvas, ink);
  return end();
}

/** The design on its canvas, to scale, with the measures of its ink. */
function drawCanvas(
  document: PdfDocument,
  { garment, safeMm }: ProofSheetRecipe,
  canvas: { width: number; height: number },
  points: (mm: number) => number,
  picture: Buffer | null,
  ink: Box | null,
): void {
  const [width, height] = [points(canvas.width), points(canvas.height)];
  const [left, top] = [ROOM.x, ROOM.y];
  document.rect(left, top, width, height).fillAndStroke(garment, RULE);
  if (picture) document.image(picture, left, top, { width, height });
  const safe = points(safeMm);
  if (safe > 0)
    document
      .rect(left + safe, top + safe, width - 2 * safe, height - 2 * safe)
      .dash(3, { space: 3 })
      .lineWidth(0.5)
      .stroke(QUIET)
      .undash();
  if (!ink) return;
  const box = { x: left + points(ink.x), y: top + points(ink.y), width: points(ink.width), height: points(ink.height) };
  document.lineWidth(0.7).fontSize(8.5).font('plain');
  measure(document, `${ink.width.toFixed(0)} mm`, box.x, top + height + 12, box.x + box.width, top + height + 12);
  measure(document, `${ink.height.toFixed(0)} mm`, left - 12, box.y, left - 12, box.y + box.height);
  if (ink.y > 2) measure(document, `${ink.y.toFixed(0)} mm`, left + width + 12, top, left + width + 12, box.y);
}

/** A line with an end on both sides and its length beside it. */
function measure(document: PdfDocument, words: string, x: number, y: number, toX: number, toY: number): void {
  const across = y === toY;
  document.moveTo(x, y).lineTo(toX, toY);
  for (const [at, on] of [
    [x, y],
    [toX, toY],
  ])
    document.moveTo(across ? at : at - 4, across ? on - 4 : on).lineTo(across ? at : at + 4, across ? on + 4 : on);
  document.stroke(LINE).fillColor(LINE);
  if (across) document.text(words, x, y + 4, { width: Math.max(60, toX - x), align: 'center', lineBreak: false });
  else {
    document.save();
    document.rotate(-90, { origin: [x - 12, (y + toY) / 2] });
    document.text(words, x - 12 - 40, (y + toY) / 2, { width: 80, align: 'center', lineBreak: false });
    document.restore();
  }
}

/** Sizes, place, colours and the certificate, in words. */
function drawFacts(
  document: PdfDocument,
  { widthPx, heightPx, dpi, colourways, certificate }: ProofSheetRecipe,
  canvas: { width: number; height: number },
  ink: Box | null,
): void {
  const x = 550;
  const width = PAGE_W - MARGIN - x;
  let y = MARGIN + 6;
  const line = (label: string, value: string): void => {
    document.font('plain').fontSize(8.5).fillColor(QUIET).text(label, x, y, { width: 88, lineBreak: false });
    document
      .font('bold')
      .fontSize(9)
      .fillColor(INK)
      .text(value, x + 92, y, { width: width - 92 });
    y = Math.max(y + 15, document.y + 3);
  };
  const shift = ink ? ink.x + ink.width / 2 - canvas.width / 2 : 0;
  if (ink) {
    line('Printed size of the ink', `${ink.width.toFixed(0)} × ${ink.height.toFixed(0)} mm`);
    line('From the collar', `${ink.y.toFixed(0)} mm below the top edge of the canvas`);
    line(
      'From the centre',
      Math.abs(shift) < 0.6 ? 'centred' : `${Math.abs(shift).toFixed(0)} mm to the ${shift > 0 ? 'right' : 'left'}`,
    );
  } else line('Printed size of the ink', 'nothing is printed');
  line(
    'Canvas',
    `${canvas.width.toFixed(0)} × ${canvas.height.toFixed(0)} mm, ${widthPx} × ${heightPx} px at ${dpi} DPI`,
  );
  y += 8;
  document.font('bold').fontSize(10).fillColor(INK).text('Colours on sale', x, y);
  y += 17;
  colourways.slice(0, 20).forEach(({ name, hex }, i) => {
    const [cx, cy] = [x + (i % 2) * (width / 2), y + Math.floor(i / 2) * 16];
    document.roundedRect(cx, cy, 11, 11, 2).lineWidth(0.5).fillAndStroke(hex, RULE);
    document
      .font('plain')
      .fontSize(8.5)
      .fillColor(INK)
      .text(`${name} ${hex}`, cx + 16, cy + 1, { width: width / 2 - 18, lineBreak: false, ellipsis: true });
  });
  y += Math.ceil(Math.min(20, colourways.length) / 2) * 16 + 10;
  document.font('bold').fontSize(10).fillColor(INK).text('Certificate of the print file', x, y);
  y += 17;
  if (!certificate) {
    document.font('plain').fontSize(8.5).fillColor(QUIET).text('No print file of this design is made yet.', x, y);
    return;
  }
  for (const { demand, found, ok } of certificate.rows) {
    if (y > PAGE_H - MARGIN - 40) break;
    line(`${ok ? '' : 'NOT MET: '}${demand}`, found);
  }
  document
    .font('plain')
    .fontSize(6.5)
    .fillColor(QUIET)
    .text(`SHA-256 ${certificate.sha256}`, x, PAGE_H - MARGIN - 18, { width });
}

/** The design on its canvas as a picture, and where its ink lies, mm. */
async function drawn(
  { widthPx, heightPx, layers }: ProofSheetRecipe,
  files: Files,
  canvas: { width: number; height: number },
): Promise<{ picture: Buffer | null; ink: Box | null }> {
  const factor = Math.min(1, PICTURE_PX / Math.max(widthPx, heightPx));
  const grid = { width: Math.max(1, Math.round(widthPx * factor)), height: Math.max(1, Math.round(heightPx * factor)) };
  const fine = scaled(grid.width / widthPx, grid.height / heightPx);
  const pixels = await drawLayers(
    grid,
    repeatedLayers(layers).map((layer) => reducedLayer(layer, fine)),
    files,
    { subpixel: true },
  );
  const ink = inkOf(pixels, canvas);
  if (!ink) return { picture: null, ink };
  const picture = await sharp(pixels.data as Uint8Array, { raw: { ...grid, channels: 4 } })
    .png({ compressionLevel: 6, palette: false })
    .toBuffer();
  return { picture, ink };
}

function inkOf(pixels: Pixels, canvas: { width: number; height: number }): Box | null {
  const bounds = inkBounds(pixels, SEEN_ALPHA);
  if (!bounds) return null;
  const { left, top, right, bottom } = bounds;
  const mm = canvas.width / pixels.width;
  return { x: left * mm, y: top * mm, width: (right - left) * mm, height: (bottom - top) * mm };
}
