export * from './certificate.js';
export * from './croppings.js';
export * from './file-kinds.js';
export * from './own-size.js';
export * from './panel.js';
export * from './seams.js';
