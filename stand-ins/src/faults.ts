import type { RequestHandler } from 'express';

/** How a market can be unwell: `busy` answers 429, `down` 503, `silent` takes the call and breaks the line before it answers. */
export type Fault = 'busy' | 'down' | 'deaf' | 'silent';

/** Faults of the next calls, one each; those after them are answered as usual. */
export class Faults {
  readonly next: (Fault | null)[] = [];
  /** Told of each call, when it comes and when it was answered. */
  told: (what: 'came' | 'answered') => void = () => undefined;

  /** Seconds that it asks callers to wait. */
  constructor(readonly retryAfter = 0) {}

  readonly handle: RequestHandler = (request, response, next) => {
    this.told('came');
    response.once('finish', () => this.told('answered'));
    switch (this.next.shift() ?? null) {
      case 'busy':
        response.status(429).set('Retry-After', String(this.retryAfter)).json({});
        return;
      case 'down':
        response.status(503).send('<h1>Back soon</h1>');
        return;
      case 'deaf':
        // The line breaks before anything was done.
        request.socket.destroy();
        return;
      case 'silent': {
        // What was asked is done, and nobody hears of it.
        response.json = () => {
          request.socket.destroy();
          return response;
        };
        next();
        return;
      }
      case null:
        next();
    }
  };
}
