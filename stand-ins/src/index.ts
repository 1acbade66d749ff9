export { Faults, type Fault } from './faults.js';
export { createLarkpost, openLarkpost, type LarkpostOptions } from './larkpost.js';
export { Hobnail, type HobnailOptions, type HobnailOrder } from './hobnail.js';
export { inspect, type Place, type Remark } from './hobnail-reader.js';
export { judgeListing, LarkpostCounter, type LarkpostListing } from './larkpost-listings.js';
export { readPrintFile, type ReadPrintFile } from './print-file-reader.js';
export { Quillmere, type QuillmereListing, type QuillmereOptions } from './quillmere.js';
