import { AsyncLocalStorage } from 'node:async_hooks';
import type { RequestHandler } from 'express';

/** The signal of whoever waits for what is being done: given when a browser has left before it was answered. */
export const asker = new AsyncLocalStorage<AbortSignal>();

/** Notes of every call that only reads whether somebody still waits for its answer. */
export const noteAsker: RequestHandler = (request, response, next) => {
  if (request.method !== 'GET') {
    next();
    return;
  }
  const left = new AbortController();
  response.once('close', () => {
    if (!response.writableFinished) left.abort();
  });
  asker.run(left.signal, next);
};
