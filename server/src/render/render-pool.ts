import { fork, type ChildProcess } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { setPriority, totalmem } from 'node:os';
import { fileURLToPath } from 'node:url';
import { ProblemError } from '../safety/problem-error.js';
import type { RenderReply, RenderTask, RenderTasks } from './tasks.js';

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
/** How often it is looked how much a process has taken, ms. */
const LOOK_MS = 500;
/** A process that takes no processor time at all for so long waits for something that never comes, ms. */
const STILL_MS = 600_000;
/** Most orders that wait for a pool: more than a year's sheet has pictures. */
const MOST_WAITING = 3000;
/** Niceness of what nobody waits for. */
const BEHIND = 2;

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

/** Ticks a second in which Linux tells what a process has taken: the same on all of its architectures. */
const TICKS = 100;

/** Processor time a process has taken by now, ms: of all its threads (proc(5), utime and stime). Where that is not told, time itself. */
function taken({ pid }: ChildProcess): number {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    const [user, system] = stat
      .slice(stat.lastIndexOf(')') + 2)
      .split(' ')
      .slice(11, 13);
    return ((Number(user) + Number(system)) / TICKS) * 1000;
  } catch {
    return existsSync('/proc/self/stat') ? 0 : performance.now();
  }
}

interface Order {
  readonly task: RenderTask;
  readonly input: unknown;
  readonly resolve: (output: never) => void;
  readonly reject: (error: Error) => void;
  readonly signal?: AbortSignal;
  readonly unless?: AbortSignal;
  readonly progress?: (share: number) => void;
  tries: number;
}

/** Drawing was stopped because nobody wants it any more. */
export class StoppedError extends Error {}

/**
 * The process that drew ended in the middle: by a lack of memory, a fault in a decoder, or a hand. It says nothing of
 * the input yet.
 */
export class DiedError extends Error {}

/**
 * A few child processes that decode and draw, one order each at a time. A process that dies is replaced.
 * @param options.tries how often an order is given to a process before a death is taken as an answer
 * @param options.fonts configuration of the fonts that live text in SVG is drawn with
 * @param options.kept folder in which treated pictures and designs drawn for blanks are kept
 * @param options.behind true where everybody else comes first
 * @param options.most processor time that a drawing may take, ms; by its kind when absent
 */
export class RenderPool {
  private readonly idle: ChildProcess[] = [];
  private readonly busy = new Set<ChildProcess>();
  private readonly waiting: Order[] = [];
  private closed = false;
  private readonly tries: number;
  private readonly fonts: string | null;
  private readonly kept: string | null;
  private readonly behind: boolean;
  private readonly most: number | undefined;

  constructor(
    private readonly size: number,
    {
      tries = 2,
      fonts = null,
      kept = null,
      behind = false,
      most,
    }: { tries?: number; fonts?: string | null; kept?: string | null; behind?: boolean; most?: number } = {},
  ) {
    this.tries = tries;
    this.kept = kept;
    this.behind = behind;
    this.most = most;
    this.fonts = fonts;
  }

  /**
   * Runs a task.
   * @param options.signal stops it, also in the middle
   * @param options.unless takes it back while it waits for its turn; what is begun is ended
   * @throws ProblemError for bad input, and 503 when very many wait already; StoppedError when a signal was given,
   * DiedError when its processes died, Error otherwise
   */
  run<T extends RenderTask>(
    task: T,
    input: RenderTasks[T]['input'],
    options: { signal?: AbortSignal; unless?: AbortSignal; progress?: (share: number) => void } = {},
  ): Promise<RenderTasks[T]['output']> {
    return new Promise((resolve, reject) => {
      if (this.closed) {
        reject(new StoppedError('Stopped.'));
        return;
      }
      if (this.waiting.length >= MOST_WAITING) {
        reject(
          new ProblemError(
            503,
            'busy',
            'Very much waits to be drawn just now. Nothing is lost; try again in a moment.',
          ),
        );
        return;
      }
      const order: Order = { task, input, resolve: resolve as Order['resolve'], reject, tries: 0, ...options };
      this.waiting.push(order);
      options.unless?.addEventListener('abort', () => this.takeBack(order), { once: true });
      this.next();
    });
  }

  /** Process ids of the children, for those who watch or test them. */
  get children(): readonly number[] {
    return [...this.idle, ...this.busy].flatMap(({ pid }) => pid ?? []);
  }

  close(): void {
    this.closed = true;
    for (const child of [...this.idle, ...this.busy]) child.kill('SIGKILL');
    for (const order of this.waiting.splice(0)) order.reject(new StoppedError('Stopped.'));
  }

  private next(): void {
    while (this.waiting.length && !this.closed && (this.idle.length || this.busy.size < this.size)) {
      const order = this.waiting.shift()!;
      if (order.signal?.aborted || order.unless?.aborted) {
        order.reject(new StoppedError('Stopped.'));
        continue;
      }
      this.give(order, this.idle.pop() ?? this.start());
    }
  }

  private takeBack(order: Order): void {
    const at = this.waiting.indexOf(order);
    if (at < 0) return;
    this.waiting.splice(at, 1);
    order.reject(new StoppedError('Nobody waits for it any more.'));
  }

  private start(): ChildProcess {
    const child = startRenderProcess({ fonts: this.fonts, kept: this.kept });
    if (this.behind && child.pid) setPriority(child.pid, BEHIND);
    child.once('exit', () => {
      const at = this.idle.indexOf(child);
      if (at >= 0) this.idle.splice(at, 1);
    });
    // A message that meets a process that has just ended fails with an event of its own; its end is heard as well.
    child.on('error', () => undefined);
    return child;
  }

  private give(order: Order, child: ChildProcess): void {
    this.busy.add(child);
    order.tries++;
    const most = this.most ?? MOST_MILLISECONDS[order.task] ?? MOST_OTHERWISE;
    const stop = (): void => {
      finish(() => order.reject(new StoppedError('Stopped.')), false);
    };
    const begun = taken(child);
    let [last, moved] = [begun, Date.now()];
    const timer = setInterval(() => {
      const now = taken(child);
      if (now > last) [last, moved] = [now, Date.now()];
      if (now - begun <= most && Date.now() - moved <= STILL_MS) return;
      const sentence = `This took more than ${most / 1000} seconds of computing and was stopped. Nothing is lost.`;
      finish(() => order.reject(new ProblemError(422, 'too-slow', sentence)), false);
    }, LOOK_MS);
    const died = (): void => finish(() => this.died(order), false);
    const heard = (message: RenderReply): void => {
      switch (message.kind) {
        case 'progress':
          order.progress?.(message.share);
          return;
        case 'done':
          finish(() => order.resolve(message.output as never), true);
          return;
        case 'refused':
          finish(() => order.reject(new ProblemError(message.status, message.code, message.sentence)), true);
          return;
        case 'failed':
          finish(() => order.reject(Object.assign(new Error(message.message), { code: message.errno })), true);
      }
    };
    let finished = false;
    const finish = (settle: () => void, keep: boolean): void => {
      if (finished) return;
      finished = true;
      clearInterval(timer);
      child.off('message', heard);
      child.off('exit', died);
      order.signal?.removeEventListener('abort', stop);
      this.busy.delete(child);
      if (keep && !this.closed && child.connected) this.idle.push(child);
      else child.kill('SIGKILL');
      settle();
      this.next();
    };
    child.on('message', heard);
    child.once('exit', died);
    order.signal?.addEventListener('abort', stop);
    if (child.exitCode !== null || child.signalCode !== null || !child.connected) {
      died();
      return;
    }
    child.send({ task: order.task, input: order.input }, (error) => {
      if (error) died();
    });
  }

  /** A death is a try: the order comes first in the next process, unless it has had its tries. */
  private died(order: Order): void {
    if (this.closed) order.reject(new StoppedError('Stopped.'));
    else if (order.tries < this.tries) this.waiting.unshift(order);
    else
      order.reject(
        new DiedError(
          `A drawing process ended ${order.tries === 1 ? 'once' : `${order.tries} times`} while doing this.`,
        ),
      );
  }
}
