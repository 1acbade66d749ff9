import type { Request, Response } from 'express';
import type { Caller } from '../floor/basics/caller.js';
import type { JobWatch } from '../floor/queue/job-watch.js';
import { ProblemError } from '../floor/basics/problem-error.js';

/** Most pages that may listen at once. */
const MOST_STREAMS = 200;
/** A line now and then keeps proxies from closing a stream that has nothing to say. */
const QUIET_MS = 25_000;

/**
 * Sends every change of a caller's runs as a server-sent event, until the browser goes away. @throws ProblemError 503
 * when too many listen already
 */
export function streamEvents(watch: JobWatch, who: Caller, request: Request, response: Response): void {
  if (watch.count >= MOST_STREAMS)
    throw new ProblemError(
      503,
      'too-many-streams',
      `${MOST_STREAMS} pages are listening already. Close some; progress can be asked for at /api/jobs as well.`,
    );
  response.writeHead(200, {
    'Content-Type': 'text/event-stream',
    'Cache-Control': 'no-store',
    'X-Accel-Buffering': 'no',
  });
  const write = (text: string): void => {
    response.write(text);
    (response as { flush?: () => void }).flush?.();
  };
  write('retry: 1000\n\n');
  const stop = watch.listen(who, (job) => write(`event: job\ndata: ${JSON.stringify(job)}\n\n`));
  const quiet = setInterval(() => write(': still here\n\n'), QUIET_MS);
  request.on('close', () => {
    clearInterval(quiet);
    stop();
  });
}
