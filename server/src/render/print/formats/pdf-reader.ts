import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { init, type WrappedPdfiumModule } from '@embedpdf/pdfium';
import type { Pixels } from '@kettle/core/geometry';

/** What the module has and its types leave out. */
interface Memory {
  readonly HEAPU8: Uint8Array;
}
type Engine = WrappedPdfiumModule & { readonly pdfium: Memory };

let engine: Promise<Engine> | null = null;
const open = (): Promise<Engine> =>
  (engine ??= (async () => {
    const path = createRequire(import.meta.url)
      .resolve('@embedpdf/pdfium')
      .replace(/[^/]+$/, 'pdfium.wasm');
    const wasm = await readFile(path);
    const pdfium = await init({
      wasmBinary: wasm.buffer.slice(wasm.byteOffset, wasm.byteOffset + wasm.byteLength) as ArrayBuffer,
    });
    pdfium.PDFiumExt_Init();
    return pdfium as Engine;
  })());

/** FPDFBitmap_Create with alpha. */
const WITH_ALPHA = 1;
/** FPDF_REVERSE_BYTE_ORDER: RGBA instead of BGRA (fpdfview.h). */
const RGBA = 0x10;

/**
 * The only page of a PDF as PDFium draws it, with nothing behind it: straight RGBA.
 * @param longest side of the picture, px
 * @throws Error when it cannot be read, or has another number of pages
 */
export async function drawPdfPage(bytes: Uint8Array, longest: number): Promise<Pixels> {
  const pdfium = await open();
  const { wasmExports } = pdfium.pdfium;
  const at = wasmExports.malloc(bytes.length);
  pdfium.pdfium.HEAPU8.set(bytes, at);
  const document = pdfium.FPDF_LoadMemDocument(at, bytes.length, '');
  try {
    const pages = document ? pdfium.FPDF_GetPageCount(document) : 0;
    if (pages !== 1) throw new Error(document ? `A print file has ${pages} pages.` : 'A print file cannot be read.');
    const page = pdfium.FPDF_LoadPage(document, 0);
    const [w, h] = [pdfium.FPDF_GetPageWidthF(page), pdfium.FPDF_GetPageHeightF(page)];
    const scale = longest / Math.max(w, h);
    const [width, height] = [Math.round(w * scale), Math.round(h * scale)];
    const bitmap = pdfium.FPDFBitmap_Create(width, height, WITH_ALPHA);
    pdfium.FPDFBitmap_FillRect(bitmap, 0, 0, width, height, 0);
    pdfium.FPDF_RenderPageBitmap(bitmap, page, 0, 0, width, height, 0, RGBA);
    const [from, stride] = [pdfium.FPDFBitmap_GetBuffer(bitmap), pdfium.FPDFBitmap_GetStride(bitmap)];
    const data = new Uint8Array(width * height * 4);
    for (let y = 0; y < height; y++)
      data.set(pdfium.pdfium.HEAPU8.subarray(from + y * stride, from + y * stride + width * 4), y * width * 4);
    pdfium.FPDFBitmap_Destroy(bitmap);
    pdfium.FPDF_ClosePage(page);
    return { width, height, data };
  } finally {
    if (document) pdfium.FPDF_CloseDocument(document);
    wasmExports.free(at);
  }
}
