export * from './earnings.js';
