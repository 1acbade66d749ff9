import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { compileResampler } from '@kettle/core/raster';

/** The resampling kernel, compiled once a process. */
export const RESAMPLER = compileResampler(
  readFileSync(fileURLToPath(import.meta.resolve('@kettle/core/resample.wasm'))),
);
