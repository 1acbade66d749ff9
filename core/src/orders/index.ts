export * from './interest-table.js';
export * from './print-run.js';
export * from './print-shop.js';
