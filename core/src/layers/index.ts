export * from './keyline.js';
export * from './layer-kind.js';
export * from './layer-kinds.js';
export { placeOfCrop, treatedLayer } from './treated-layer.js';
