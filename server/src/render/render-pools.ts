import { mkdir, writeFile } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { wholeFile } from '../floor/files/whole-file.js';
import type { Floor } from '../floor/floor.js';
import { RenderPool } from './render-pool.js';
import { fontsConfiguration } from './text/faces.js';

/** The processes that decode and draw, by whom they work for. */
export interface RenderPools {
  /** What people look at. */
  readonly view: RenderPool;
  readonly type: RenderPool;
  readonly intake: RenderPool;
  /** Large documents are read and judged where nobody waits for it. */
  readonly think: RenderPool;
  readonly soon: RenderPool;
  readonly make: RenderPool;
  readonly measure: RenderPool;
}

/**
 * What people look at, what they type, what comes in and what the queue makes do not wait for each other: a hostile
 * file holds up its own lane alone.
 * @param cache folder of local copies; all that use these processes share it
 */
export async function openPools(cache: string, exporters = usualExporters()): Promise<RenderPools> {
  const fonts = join(cache, 'fonts.conf');
  await mkdir(cache, { recursive: true });
  // Others may start on this folder just now.
  await wholeFile(fonts, (coming) => writeFile(coming, fontsConfiguration(join(cache, 'fontconfig'))));
  const drawing = { fonts, kept: cache };
  return {
    view: new RenderPool(Math.max(1, Math.min(2, availableParallelism())), drawing),
    type: new RenderPool(1),
    intake: new RenderPool(1, drawing),
    think: new RenderPool(1),
    // Steps of the queue have their tries there: what somebody waits for beside what takes long.
    soon: new RenderPool(1, { ...drawing, tries: 1 }),
    // Exports keep all cores busy, behind whatever somebody looks at.
    make: new RenderPool(exporters, { ...drawing, tries: 1, behind: true }),
    // A print is measured where nobody who looks at something waits for it.
    measure: new RenderPool(1, { ...drawing, behind: true }),
  };
}

export const poolsOf = ({ view, type, intake, think, soon, measure, make }: RenderPools): RenderPool[] => [
  view,
  type,
  intake,
  think,
  soon,
  measure,
  make,
];

/** As many as there are cores, two at most. */
export const usualExporters = (): number => Math.max(1, Math.min(2, availableParallelism()));

/** What every room stands on. */
export interface Ground extends Floor {
  readonly pools: RenderPools;
}
