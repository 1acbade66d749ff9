export * from './cloth-measure.js';
export * from './colour-table.js';
export * from './measure.js';
export * from './on-ink.js';
export * from './press-kernel.js';
export * from './seen-ink.js';
