export * from './channel-rules.js';
export * from './listing.js';
export * from './money.js';
export * from './pricing.js';
