export * from './problem.js';
export * from './requirement-table.js';
export * from './schemas.js';
export * from './messages.js';
export * from './order-messages.js';
export * from './shop-findings.js';
export * from './endpoints.js';
export * from './openapi.js';
