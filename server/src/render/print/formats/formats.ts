import type { FileType } from '@kettle/core/model';
import type { PrintFormat } from './format.js';
import { JPEG } from './jpeg.js';
import { PNG } from './png.js';
import { SVG } from './svg.js';
import { TIFF } from './tiff.js';
import { WEBP } from './webp.js';

/** How each kind of print file is written and read back. PDF is loaded where it is needed: its readers are large. */
const FORMATS: Readonly<Record<FileType, () => PrintFormat | Promise<PrintFormat>>> = {
  png: () => PNG,
  tiff: () => TIFF,
  jpeg: () => JPEG,
  webp: () => WEBP,
  svg: () => SVG,
  pdf: async () => (await import('./pdf.js')).PDF,
};

export const printFormat = async (type: FileType): Promise<PrintFormat> => FORMATS[type]();
