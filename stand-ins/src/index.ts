export { Faults, type Fault } from './faults.js';
export { createLarkpost, openLarkpost, type LarkpostOptions } from './larkpost.js';
export { HOBNAIL } from './hobnail.js';
export type { Place, Remark } from './marks.js';
export { PrintShop, type PrintShopOptions, type ShopOrder, type Trade } from './print-shop.js';
export { SEAMWIDE } from './seamwide.js';
export { judgeListing, LarkpostCounter, type LarkpostListing } from './larkpost-listings.js';
export { readPrintFile, type ReadPrintFile } from './print-file-reader.js';
export { Quillmere, type QuillmereListing, type QuillmereOptions } from './quillmere.js';
