export * from './harmony.js';
export * from './lab.js';
export * from './readable.js';
export * from './srgb.js';
