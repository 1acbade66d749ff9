import { fork, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { ProblemError } from '../safety/problem-error.js';
import type { RenderReply, RenderTask, RenderTasks } from './tasks.js';

const ENTRY = fileURLToPath(new URL('./render-process.js', import.meta.url));

/** Longest time one drawing may take before its process is stopped. What a hand waits for has less. */
const MOST_MILLISECONDS: Partial<Record<RenderTask, number>> = { checkFont: 15_000, lettering: 15_000 };
const MOST_OTHERWISE = 120_000;

/** What render processes run under: glibc gives large pieces of memory back at once instead of keeping them for later. */
export const RENDER_ENVIRONMENT = { MALLOC_ARENA_MAX: '2', MALLOC_MMAP_THRESHOLD_: '1048576' };

interface Order {
  readonly task: RenderTask;
  readonly input: unknown;
  readonly resolve: (output: never) => void;
  readonly reject: (error: Error) => void;
  readonly signal?: AbortSignal;
}

/** Drawing was stopped because nobody wants it any more. */
export class StoppedError extends Error {}

/** A few child processes that decode and draw, one order each at a time. A process that dies is replaced; its order fails with a sentence. */
export class RenderPool {
  private readonly idle: ChildProcess[] = [];
  private readonly busy = new Set<ChildProcess>();
  private readonly waiting: Order[] = [];
  private closed = false;

  constructor(private readonly size: number) {}

  /** Runs a task. @throws ProblemError for bad input, StoppedError when the signal was given, Error otherwise */
  run<T extends RenderTask>(task: T, input: RenderTasks[T]['input'], options: { signal?: AbortSignal } = {}): Promise<RenderTasks[T]['output']> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ task, input, resolve: resolve as Order['resolve'], reject, ...options });
      this.next();
    });
  }

  close(): void {
    this.closed = true;
    for (const child of [...this.idle, ...this.busy]) child.kill('SIGKILL');
  }

  private next(): void {
    while (this.waiting.length && !this.closed && (this.idle.length || this.busy.size < this.size)) {
      const order = this.waiting.shift()!;
      if (order.signal?.aborted) { order.reject(new StoppedError('Stopped.')); continue; }
      this.give(order, this.idle.pop() ?? this.start());
    }
  }

  private start(): ChildProcess {
    const child = fork(ENTRY, { serialization: 'advanced', stdio: ['ignore', 'inherit', 'inherit', 'ipc'], execArgv: [], env: { ...process.env, ...RENDER_ENVIRONMENT } });
    child.once('exit', () => { const at = this.idle.indexOf(child); if (at >= 0) this.idle.splice(at, 1); });
    return child;
  }

  private give(order: Order, child: ChildProcess): void {
    this.busy.add(child);
    const most = MOST_MILLISECONDS[order.task] ?? MOST_OTHERWISE;
    const stop = (): void => { finish(() => order.reject(new StoppedError('Stopped.')), false); };
    const timer = setTimeout(() => finish(() => order.reject(new ProblemError(422, 'too-slow', `This took more than ${most / 1000} seconds and was stopped. Nothing is lost.`)), false), most);
    const died = (): void => finish(() => order.reject(new ProblemError(422, 'decoder-died', 'This file makes the picture reader stop working, so it was not used. Export it again or in another format. Nothing is lost.')), false);
    const heard = (message: RenderReply): void => {
      switch (message.kind) {
        case 'done': finish(() => order.resolve(message.output as never), true); return;
        case 'refused': finish(() => order.reject(new ProblemError(message.status, message.code, message.sentence)), true); return;
        case 'failed': finish(() => order.reject(Object.assign(new Error(message.message), { code: message.errno })), true);
      }
    };
    let finished = false;
    const finish = (settle: () => void, keep: boolean): void => {
      if (finished) return;
      finished = true;
      clearTimeout(timer);
      child.off('message', heard);
      child.off('exit', died);
      order.signal?.removeEventListener('abort', stop);
      this.busy.delete(child);
      if (keep && !this.closed) this.idle.push(child); else child.kill('SIGKILL');
      settle();
      this.next();
    };
    child.on('message', heard);
    child.once('exit', died);
    order.signal?.addEventListener('abort', stop);
    child.send({ task: order.task, input: order.input });
  }
}
