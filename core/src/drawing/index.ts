export * from './freehand.js';
export * from './graphic.js';
export * from './marks.js';
export * from './rubbed.js';
export * from './shape.js';
