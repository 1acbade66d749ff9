import compression from 'compression';
import express, { type Express } from 'express';
import { join } from 'node:path';
import type { House } from './house.js';
import { checkJsonBytes } from './routes/body.js';
import { answerProblem, noSuchCall } from './routes/problem.js';
import { apiRoutes } from './routes/routes.js';
import { pageHeaders, passwordGate, sameSite } from './safety/guards.js';

/** How the application is reached. */
export interface AppOptions {
  /** Folder of the built interface, or null to serve calls only. */
  readonly page: string | null;
  /** Names the server may be reached under besides loopback. */
  readonly hosts?: readonly string[];
  /** Demanded when the server listens beyond loopback. */
  readonly password?: string;
}

export function createApp(house: House, { page, hosts = [], password }: AppOptions): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(pageHeaders, sameSite(hosts));
  if (password) app.use(passwordGate(password));
  app.use(compression({ filter: (request, response) => !/event-stream|image\//.test(String(response.getHeader('Content-Type'))) && compression.filter(request, response) }));
  app.use('/api', express.json({ limit: '8mb', type: 'application/json', strict: true, verify: (_request, _response, bytes) => checkJsonBytes(bytes) }));
  app.use(apiRoutes(house));
  app.use('/api', noSuchCall);
  if (page) {
    app.use(express.static(page, { index: false, maxAge: '1y', immutable: true, setHeaders: (response, path) => { if (!/-[A-Z0-9]{8}\.\w+$/.test(path)) response.setHeader('Cache-Control', 'no-cache'); } }));
    app.get('/{*path}', (request, response, next) => {
      if (/\.\w+$/.test(request.path)) { next(); return; }
      response.setHeader('Cache-Control', 'no-cache');
      response.sendFile(join(page, 'index.html'), { dotfiles: 'allow' });
    });
  }
  app.use(noSuchCall);
  app.use(answerProblem);
  return app;
}
