export * from './file-name.js';
