import type { ChildProcess } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { setPriority } from 'node:os';
import { ProblemError } from '../basics/problem-error.js';

/** What processes of a pool can be asked to do, by name. Input and output cross as structured clones. */
export type Tasks = { readonly [task: string]: { readonly input: unknown; readonly output: unknown } };

/** Message to a process. */
export interface TaskRequest {
  readonly task: string;
  readonly input: unknown;
}

/** Messages back. */
export type TaskReply =
  | { readonly kind: 'done'; readonly output: unknown }
  | { readonly kind: 'progress'; readonly share: number }
  | { readonly kind: 'refused'; readonly status: number; readonly code: string; readonly sentence: string }
  | { readonly kind: 'failed'; readonly message: string; readonly errno: string | null };

/** How often it is looked how much a process has taken, ms. */
const LOOK_MS = 500;
/** A process that takes no processor time at all for so long waits for something that never comes, ms. */
const STILL_MS = 600_000;
/** Most orders that wait for a pool: more than a year's sheet has pictures. */
const MOST_WAITING = 3000;
/** Niceness of what nobody waits for. */
const BEHIND = 2;

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
  readonly task: string;
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

/** How a pool works. */
export interface PoolOptions {
  /** Starts a process that answers {@link TaskRequest}s. */
  readonly start: () => ChildProcess;
  /** Processor time that a task may take, ms. */
  readonly mostOf: (task: string) => number;
  /** How often an order is given to a process before a death is taken as an answer; twice when absent. */
  readonly tries?: number;
  /** True where everybody else comes first. */
  readonly behind?: boolean;
}

/** A few child processes, one order each at a time. A process that dies is replaced. */
export class ProcessPool<T extends { readonly [Name in keyof T]: Tasks[string] }> {
  private readonly idle: ChildProcess[] = [];
  private readonly busy = new Set<ChildProcess>();
  private readonly waiting: Order[] = [];
  private closed = false;

  /** @param size most processes */
  constructor(
    private readonly size: number,
    private readonly options: PoolOptions,
  ) {}

  /**
   * Runs a task.
   * @param options.signal stops it, also in the middle
   * @param options.unless takes it back while it waits for its turn; what is begun is ended
   * @throws ProblemError for bad input, and 503 when very many wait already; StoppedError when a signal was given,
   * DiedError when its processes died, Error otherwise
   */
  run<Name extends keyof T & string>(
    task: Name,
    input: T[Name]['input'],
    options: { signal?: AbortSignal; unless?: AbortSignal; progress?: (share: number) => void } = {},
  ): Promise<T[Name]['output']> {
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
    const child = this.options.start();
    if (this.options.behind && child.pid) setPriority(child.pid, BEHIND);
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
    const most = this.options.mostOf(order.task);
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
    const heard = (message: TaskReply): void => {
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
    const request: TaskRequest = { task: order.task, input: order.input };
    child.send(request, (error) => {
      if (error) died();
    });
  }

  /** A death is a try: the order comes first in the next process, unless it has had its tries. */
  private died(order: Order): void {
    if (this.closed) order.reject(new StoppedError('Stopped.'));
    else if (order.tries < (this.options.tries ?? 2)) this.waiting.unshift(order);
    else
      order.reject(
        new DiedError(
          `A drawing process ended ${order.tries === 1 ? 'once' : `${order.tries} times`} while doing this.`,
        ),
      );
  }
}
