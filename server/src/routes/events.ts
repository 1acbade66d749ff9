import type { Job } from '@kettle/contract';
import type { Request, Response } from 'express';
import type { JobStore } from '../stores/jobs.js';

const LOOK_MS = 250;

/** Sends every change of a job as a server-sent event, until the browser goes away. Jobs of all workers are seen, because the database is watched. */
export async function streamEvents(jobs: JobStore, request: Request, response: Response): Promise<void> {
  response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' });
  response.write('retry: 1000\n\n');
  const sent = new Map<string, string>();
  let looking = false;
  const look = async (): Promise<void> => {
    if (looking) return;
    looking = true;
    try {
      for (const job of await jobs.lively(5)) sendChanged(job);
    } catch {
      // The database is away; the next look tries again.
    } finally {
      looking = false;
    }
  };
  const sendChanged = (job: Job): void => {
    const text = JSON.stringify(job);
    if (sent.get(job.id) === text) return;
    sent.set(job.id, text);
    response.write(`event: job\ndata: ${text}\n\n`);
    (response as { flush?: () => void }).flush?.();
  };
  const timer = setInterval(() => void look(), LOOK_MS);
  request.on('close', () => clearInterval(timer));
  await look();
}
