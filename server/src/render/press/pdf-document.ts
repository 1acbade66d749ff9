import PDFDocument from 'pdfkit';
import { paperFaces } from '../text/faces.js';

/** A document that is written as a PDF: papers and proof sheets. */
export type PdfDocument = InstanceType<typeof PDFDocument>;

/** Colours of ink, of quiet words and of rules. */
export const [INK, QUIET, RULE] = ['#1f2623', '#5c655f', '#ddd8cc'];

/**
 * Begins a PDF in the product's faces, `plain` and `bold`. The same document always has the same bytes.
 * @param page width, height and margin, points
 * @param at when it says that it was made
 * @returns the document, and what ends it and answers its bytes
 */
export async function beginPdf(
  [width, height, margin]: readonly [number, number, number],
  title: string,
  at: Date,
): Promise<{ document: PdfDocument; end: () => Promise<Buffer> }> {
  const document = new PDFDocument({
    size: [width, height],
    margin,
    pdfVersion: '1.7',
    info: { Title: title, CreationDate: at },
  });
  const chunks: Buffer[] = [];
  document.on('data', (chunk: Buffer) => chunks.push(chunk));
  const done = new Promise<Buffer>((resolve) => document.once('end', () => resolve(Buffer.concat(chunks))));
  const [plain, bold] = await paperFaces();
  document.registerFont('plain', plain).registerFont('bold', bold);
  return {
    document,
    end: () => {
      document.end();
      return done;
    },
  };
}
