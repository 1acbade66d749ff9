import { writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { beginPdf, INK, QUIET, RULE, type PdfDocument } from './pdf-document.js';

/** A part of a paper, one below the other. */
export type PaperBlock =
  | { readonly kind: 'heading' | 'text' | 'quiet'; readonly text: string }
  | { readonly kind: 'row'; readonly cells: readonly string[]; readonly bold?: boolean }
  /** Pictures side by side, by content hash. */
  | { readonly kind: 'pictures'; readonly of: readonly string[] };

/** A plain paper: a record, an order sheet. */
export interface Paper {
  readonly title: string;
  readonly under: string;
  readonly blocks: readonly PaperBlock[];
  /** ISO 8601: the same paper always has the same bytes. */
  readonly at: string;
}

/** A4 upright and its margin, points. */
const [PAGE_W, PAGE_H, MARGIN] = [595.28, 841.89, 48];
const ROOM = PAGE_W - 2 * MARGIN;
/** Pictures in a line, the space between them, points, and their longest side, px. */
const ABREAST = 3;
const GAP = 10;
const PICTURE_PX = 700;

/** Writes a paper as a PDF. @param files local paths of its pictures by content hash */
export async function writePaper(paper: Paper, files: Readonly<Record<string, string>>, out: string): Promise<void> {
  const { document, end } = await beginPdf([PAGE_W, PAGE_H, MARGIN], paper.title, new Date(paper.at));
  document.font('bold').fontSize(20).fillColor(INK).text(paper.title);
  document.font('plain').fontSize(10).fillColor(QUIET).text(paper.under).moveDown(1);
  for (const block of paper.blocks) {
    switch (block.kind) {
      case 'heading':
        document.moveDown(0.8).font('bold').fontSize(13).fillColor(INK).text(block.text, MARGIN).moveDown(0.3);
        break;
      case 'text':
        document.font('plain').fontSize(10.5).fillColor(INK).text(block.text, MARGIN, undefined, { width: ROOM });
        break;
      case 'quiet':
        document.font('plain').fontSize(8).fillColor(QUIET).text(block.text, MARGIN, undefined, { width: ROOM });
        break;
      case 'row':
        drawRow(document, block.cells, block.bold ?? false);
        break;
      case 'pictures':
        await drawPictures(
          document,
          block.of.flatMap((sha256) => files[sha256] ?? []),
        );
    }
  }
  await writeFile(out, await end());
}

function drawRow(document: PdfDocument, cells: readonly string[], bold: boolean): void {
  const width = ROOM / cells.length;
  document.font(bold ? 'bold' : 'plain').fontSize(10);
  const height = Math.max(...cells.map((cell) => document.heightOfString(cell, { width: width - 8 })));
  if (document.y + height > PAGE_H - MARGIN) document.addPage();
  const { y } = document;
  cells.forEach((cell, i) =>
    document.fillColor(INK).text(cell, MARGIN + i * width, y, { width: width - 8, align: i ? 'right' : 'left' }),
  );
  document.y = y + height + 3;
  document
    .moveTo(MARGIN, document.y)
    .lineTo(PAGE_W - MARGIN, document.y)
    .lineWidth(0.5)
    .stroke(RULE);
  document.y += 4;
  document.x = MARGIN;
}

async function drawPictures(document: PdfDocument, paths: readonly string[]): Promise<void> {
  const width = (ROOM - (ABREAST - 1) * GAP) / ABREAST;
  for (let from = 0; from < paths.length; from += ABREAST) {
    const pictures = await Promise.all(
      paths
        .slice(from, from + ABREAST)
        .map((path) =>
          sharp(path)
            .resize({ width: PICTURE_PX, height: PICTURE_PX, fit: 'inside', withoutEnlargement: true })
            .flatten({ background: '#ffffff' })
            .jpeg({ quality: 82 })
            .toBuffer({ resolveWithObject: true }),
        ),
    );
    const tall = Math.max(...pictures.map(({ info }) => (info.height / info.width) * width));
    if (document.y + tall > PAGE_H - MARGIN) document.addPage();
    const { y } = document;
    pictures.forEach(({ data }, i) => document.image(data, MARGIN + i * (width + GAP), y, { width }));
    document.y = y + tall + GAP;
    document.x = MARGIN;
  }
}
