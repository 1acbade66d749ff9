import { fork, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { totalmem } from 'node:os';
import { fileURLToPath } from 'node:url';
import { ProcessPool } from '../floor/processes/process-pool.js';
import type { RenderTask, RenderTasks } from './tasks.js';

const ENTRY = fileURLToPath(new URL('./render-process.js', import.meta.url));

/**
 * Most processor time that one drawing may take before its process is stopped, ms. Time in which the machine has other
 * work does not count. What a hand waits for has less.
 */
const MOST_MILLISECONDS: Partial<Record<RenderTask, number>> = {
  checkFont: 15_000,
  lettering: 15_000,
  inspect: 45_000,
  rendition: 45_000,
  treatedFacts: 45_000,
  working: 45_000,
  trace: 20_000,
  miniature: 45_000,
  graphics: 15_000,
  checkProfile: 20_000,
  proofTables: 30_000,
  measurePrint: 60_000,
  measureOnCloths: 45_000,
  blankThumbnail: 45_000,
  blankPreview: 45_000,
};
const MOST_OTHERWISE = 120_000;
/**
 * What render processes run under: glibc gives large pieces of memory back at once instead of keeping them for later,
 * and asks for them in huge pages, which takes a tenth off a print file where the system has them.
 */
export const RENDER_ENVIRONMENT = {
  MALLOC_ARENA_MAX: '2',
  MALLOC_MMAP_THRESHOLD_: '1048576',
  GLIBC_TUNABLES: 'glibc.malloc.hugetlb=1',
};

/** So that a process that has drawn can let go of large pictures before it makes the next. */
export const RENDER_FLAGS = ['--expose-gc'];

/** Memory a render process may fill: the largest picture that is taken in needs two thirds of it. */
const MOST_MEMORY = Math.min(3 * 2 ** 30, totalmem() / 2);
const PRLIMIT = ['/usr/bin/prlimit', '/bin/prlimit'].find(existsSync);

/**
 * A child sees nothing of the server's environment: neither its password nor the database's address are any business
 * of a decoder.
 */
const environment = (fonts: string | null, kept: string | null): NodeJS.ProcessEnv => ({
  ...RENDER_ENVIRONMENT,
  PATH: process.env['PATH'],
  LANG: process.env['LANG'],
  ...(fonts ? { FONTCONFIG_FILE: fonts } : {}),
  ...(kept ? { KETTLE_KEPT: kept } : {}),
});

/**
 * How a render process is started, under a limit of its memory where the system has the program for it. RLIMIT_DATA
 * counts what is filled, not what V8 reserves.
 */
export function startRenderProcess({
  fonts = null,
  kept = null,
  mostMemory = MOST_MEMORY,
}: { fonts?: string | null; kept?: string | null; mostMemory?: number } = {}): ChildProcess {
  const limited = PRLIMIT
    ? {
        execPath: PRLIMIT,
        execArgv: [`--data=${Math.floor(mostMemory)}`, '--core=0', '--', process.execPath, ...RENDER_FLAGS],
      }
    : { execArgv: RENDER_FLAGS };
  return fork(ENTRY, {
    serialization: 'advanced',
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    ...limited,
    env: environment(fonts, kept),
  });
}

/**
 * A few child processes that decode and draw.
 * @param options.fonts configuration of the fonts that live text in SVG is drawn with
 * @param options.kept folder in which treated pictures and designs drawn for blanks are kept
 * @param options.most processor time that a drawing may take, ms; by its kind when absent
 */
export class RenderPool extends ProcessPool<RenderTasks> {
  constructor(
    size: number,
    {
      fonts = null,
      kept = null,
      most,
      ...options
    }: { tries?: number; fonts?: string | null; kept?: string | null; behind?: boolean; most?: number } = {},
  ) {
    super(size, {
      ...options,
      start: () => startRenderProcess({ fonts, kept }),
      mostOf: (task) => most ?? MOST_MILLISECONDS[task as RenderTask] ?? MOST_OTHERWISE,
    });
  }
}
