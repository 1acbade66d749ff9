export * from './bytes.js';
export * from './dpi.js';
export * from './length.js';
export * from './own-value.js';
export * from './typed-number.js';
