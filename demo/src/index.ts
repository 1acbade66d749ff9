import { fileURLToPath } from 'node:url';

export { DEMO_DESIGNS, type DemoDesign } from './designs.js';
export { DEMO_REQUIREMENTS } from './requirements.js';

/** Path of an artwork file of the club. */
export const artworkPath = (file: string): string => fileURLToPath(new URL(`../artwork/${file}`, import.meta.url));
