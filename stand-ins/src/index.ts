export { createLarkpost } from './larkpost.js';
export { readPrintFile, type ReadPrintFile } from './print-file-reader.js';
