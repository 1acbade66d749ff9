export * from './refuse.js';
export * from './requirement-schema.js';
export * from './layer-schemas.js';
export * from './design-schema.js';
export * from './requests.js';
export * from './steps.js';
export * from './blank-schema.js';
export * from './answers.js';
