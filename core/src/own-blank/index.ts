export * from './area-shape.js';
export * from './known-length.js';
export * from './light-of.js';
export * from './own-blank.js';
