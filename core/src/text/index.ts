export * from './lettering.js';
export * from './short-name.js';
