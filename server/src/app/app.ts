import compression from 'compression';
import { MAX_DOCUMENT_BYTES } from '@kettle/core/model';
import express, { type Express } from 'express';
import type { IncomingMessage } from 'node:http';
import { join } from 'node:path';
import type { GuestLimits } from '../floor/http/guest-guards.js';
import type { House } from './house.js';
import { checkJsonBytes } from '../floor/http/body.js';
import { answerProblem, noSuchCall } from '../floor/http/problem.js';
import { apiRoutes } from './routes.js';
import { noteAsker } from '../floor/safety/asker.js';
import { metricsOf, requestLog } from '../floor/http/watching.js';
import { publicRoutes } from './public-routes.js';
import { ownMachine } from '../floor/safety/callers.js';
import { passwordGate } from '../floor/safety/gate.js';
import { bearer, pageHeaders, sameSite } from '../floor/safety/guards.js';
import { isLargeText } from '../documents/stored-design.js';

/** How the application is reached. */
export interface AppOptions {
  /** Folder of the built interface, or null to serve calls only. */
  readonly page: string | null;
  /** Names the server may be reached under besides loopback. */
  readonly hosts?: readonly string[];
  /** Demanded when the server is reached from beyond this machine. */
  readonly password?: string;
  /**
   * Which proxies are believed when they say who asks and whether it was over TLS: a number of hops, or addresses
   * (Express, `trust proxy`).
   */
  readonly proxy?: string;
  /** How often guests may do what; as usual when absent. */
  readonly guestLimits?: GuestLimits;
  /** True to hold every answer against the contract before it is sent. */
  readonly checkAnswers?: boolean;
  /** Answers GET /metrics: `1` to those who may use the program, a token to whoever sends it. */
  readonly metrics?: string;
}

const isJson = ({ headers }: IncomingMessage): boolean => /^application\/json\b/i.test(headers['content-type'] ?? '');

export async function createApp(
  house: House,
  { page, hosts = [], password, proxy, metrics, guestLimits, checkAnswers = false }: AppOptions,
): Promise<Express> {
  const app = express();
  app.disable('x-powered-by');
  if (proxy) app.set('trust proxy', /^\d+$/.test(proxy) ? Number(proxy) : proxy.split(',').map((one) => one.trim()));
  app.use(requestLog(house.log), noteAsker);
  const figures = metrics ? metricsOf(house) : null;
  if (figures) app.use(figures.measure);
  app.use(pageHeaders, sameSite(hosts));
  if (figures && metrics && metrics !== '1') app.get('/metrics', bearer(metrics), figures.answer);
  const calls = { gated: password !== undefined, checkAnswers };
  app.use(publicRoutes(house, guestLimits), apiRoutes(house, { ...calls, who: 'anybody' }));
  app.use(password ? await passwordGate(password, house.gate, house.log) : ownMachine);
  if (figures && metrics === '1') app.get('/metrics', figures.answer);
  app.use(
    compression({
      filter: (request, response) =>
        !/event-stream|image\//.test(String(response.getHeader('Content-Type'))) &&
        compression.filter(request, response),
    }),
  );
  // A large design is kept as the bytes it came in: it is read and judged in a process of its own.
  app.use(
    '/api/designs',
    express.raw({
      limit: MAX_DOCUMENT_BYTES,
      type: (request) => isJson(request) && isLargeText(Number(request.headers['content-length'] ?? 0)),
      verify: (_request, _response, bytes) => checkJsonBytes(bytes),
    }),
  );
  app.use(
    '/api',
    express.json({
      limit: MAX_DOCUMENT_BYTES,
      type: 'application/json',
      strict: true,
      verify: (_request, _response, bytes) => checkJsonBytes(bytes),
    }),
  );
  app.use(apiRoutes(house, { ...calls, who: undefined }));
  app.use('/api', noSuchCall);
  if (page) {
    app.use(
      express.static(page, {
        index: false,
        maxAge: '1y',
        immutable: true,
        setHeaders: (response, path) => {
          if (!/-[A-Z0-9]{8}\.\w+$/.test(path)) response.setHeader('Cache-Control', 'no-cache');
        },
      }),
    );
    app.get('/{*path}', (request, response, next) => {
      if (/\.\w+$/.test(request.path)) {
        next();
        return;
      }
      response.setHeader('Cache-Control', 'no-cache');
      response.sendFile(join(page, 'index.html'), { dotfiles: 'allow' });
    });
  }
  app.use(noSuchCall);
  app.use(answerProblem(house.log));
  return app;
}
