import { fileURLToPath } from 'node:url';

/** The checkout. */
export const ROOT = fileURLToPath(new URL('../../../..', import.meta.url));
export const MUSIC = fileURLToPath(new URL('../../../../demo/music', import.meta.url));
export const BLANKS = fileURLToPath(new URL('../../../../demo/blanks', import.meta.url));
export const PICTURE_SETS = fileURLToPath(new URL('../../../../demo/picture-sets', import.meta.url));
/** The built interface. */
export const PAGE = fileURLToPath(new URL('../../../../web/dist/web/browser', import.meta.url));
export const CLIP_REQUIREMENTS = fileURLToPath(new URL('../../../../demo/clip-requirements', import.meta.url));
export const CHANNEL_RULES = fileURLToPath(new URL('../../../../demo/channel-rules', import.meta.url));
export const PRINT_SHOPS = fileURLToPath(new URL('../../../../demo/print-shops', import.meta.url));
/** The demo as it was made beforehand. */
export const DEMO_PACK = fileURLToPath(new URL('../../../../demo/pack', import.meta.url));
