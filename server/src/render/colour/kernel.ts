import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { PressKernel } from '@kettle/core/press';

let kernel: PressKernel | null = null;

/** The press kernel of this process. */
export const pressKernel = (): PressKernel =>
  (kernel ??= new PressKernel(readFileSync(fileURLToPath(import.meta.resolve('@kettle/core/press.wasm')))));
