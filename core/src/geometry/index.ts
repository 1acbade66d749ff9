export * from './affine.js';
export * from './pixels.js';
export * from './place.js';
export * from './snap.js';
export * from './viewport.js';
