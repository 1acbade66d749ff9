import { randomUUID } from 'node:crypto';
import type { RequestHandler } from 'express';
import { Counter, Gauge, Histogram, Registry, collectDefaultMetrics } from 'prom-client';
import type { ProcessPool } from '../processes/process-pool.js';
import type { JobStore } from '../queue/job-store.js';
import type { JobWatch } from '../queue/job-watch.js';
import type { Log } from '../basics/log.js';

/** One line for each request: who asked for what, how it ended, how long it took and why it failed. */
export function requestLog(log: Log): RequestHandler {
  return (request, response, next) => {
    // Whoever asks may be gone before the answer is.
    const [begun, id, asker] = [performance.now(), randomUUID().slice(0, 8), request.ip];
    response.locals['request'] = id;
    response.once('close', () => {
      const ended = {
        request: id,
        caller: asker,
        method: request.method,
        path: withoutLink(request.path).slice(0, 200),
        status: response.statusCode,
        ms: Math.round(performance.now() - begun),
        ...(response.locals['cause'] ? { cause: response.locals['cause'] as string } : {}),
      };
      if (response.statusCode >= 500) log.error(ended, 'request failed');
      else if (response.statusCode >= 400) log.warn(ended, 'request refused');
      else log.info(ended, 'request');
    });
    next();
  };
}

/** What is watched. */
interface Watched {
  readonly jobs: JobStore;
  readonly watch: JobWatch;
  readonly allPools: readonly Pick<ProcessPool<never>, 'children'>[];
}

/** Figures in the open exposition format, for whoever allows them. */
export function metricsOf(house: Watched): { measure: RequestHandler; answer: RequestHandler } {
  const registry = new Registry();
  collectDefaultMetrics({ register: registry, prefix: 'kettle_' });
  const seconds = new Histogram({
    name: 'kettle_http_request_seconds',
    help: 'Duration of requests',
    labelNames: ['method', 'route', 'status'],
    buckets: [0.005, 0.02, 0.05, 0.1, 0.3, 1, 3, 10],
    registers: [registry],
  });
  new Gauge({
    name: 'kettle_jobs',
    help: 'Steps in the queue by state',
    labelNames: ['state'],
    registers: [registry],
    async collect() {
      this.reset();
      for (const { state, count } of await house.jobs.counts().catch(() => [])) this.set({ state }, count);
    },
  });
  new Gauge({
    name: 'kettle_event_streams',
    help: 'Pages that listen to events',
    registers: [registry],
    collect() {
      this.set(house.watch.count);
    },
  });
  new Gauge({
    name: 'kettle_render_processes',
    help: 'Living render processes',
    registers: [registry],
    collect() {
      this.set(house.allPools.reduce((sum, pool) => sum + pool.children.length, 0));
    },
  });
  const failed = new Counter({
    name: 'kettle_http_failures_total',
    help: 'Requests that ended with a fault of the server',
    registers: [registry],
  });
  return {
    measure: (request, response, next) => {
      const begun = performance.now();
      response.once('close', () => {
        const route = (request.route as { path?: string } | undefined)?.path ?? 'other';
        seconds.observe(
          { method: request.method, route, status: String(response.statusCode) },
          (performance.now() - begun) / 1000,
        );
        if (response.statusCode >= 500) failed.inc();
      });
      next();
    },
    answer: async (_request, response) => {
      response.type(registry.contentType).send(await registry.metrics());
    },
  };
}

/** A path without the secret of a page for guests: who reads the log cannot open it. */
const withoutLink = (path: string): string => path.replace(/^\/(c|i)\/[^/]+(\/back\/.+)?/, '/$1/…');
