import { execFile } from 'node:child_process';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import type { PrintRecipe } from '@kettle/core/recipes';
import { RENDER_ENVIRONMENT, RENDER_FLAGS } from '@kettle/server';
import { against, measureOf, type Row } from './timing.js';

const MAKER = fileURLToPath(new URL('./print-file-memory.js', import.meta.url));

/** Peak memory of a process that makes one print file and nothing else. */
export async function peakMemory(
  recipe: PrintRecipe,
  files: Readonly<Record<string, string>>,
  folder: string,
): Promise<Row> {
  const order = join(folder, 'order.json');
  await writeFile(order, JSON.stringify({ recipe, files }));
  const { stdout } = await promisify(execFile)(process.execPath, [...RENDER_FLAGS, MAKER, order], {
    env: { ...process.env, ...RENDER_ENVIRONMENT },
  });
  const megabytes = Math.round(Number(stdout) / 1024);
  return against('Peak memory of the process that makes it', measureOf([megabytes]), 450, 'MB');
}
