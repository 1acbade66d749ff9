import { randomBytes, scryptSync, timingSafeEqual } from 'node:crypto';
import type { RequestHandler } from 'express';
import helmet from 'helmet';
import { rateLimit } from 'express-rate-limit';
import express, { Router } from 'express';
import { ProblemError } from './problem-error.js';

/** Strict headers: nothing from outside, no inline script. Styles may be inline because components bring theirs. */
export const pageHeaders: RequestHandler = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'none'"], scriptSrc: ["'self'", "'wasm-unsafe-eval'"], styleSrc: ["'self'", "'unsafe-inline'"], imgSrc: ["'self'", 'blob:', 'data:'], fontSrc: ["'self'"],
      connectSrc: ["'self'"], workerSrc: ["'self'"], formAction: ["'self'"], baseUri: ["'self'"], frameAncestors: ["'none'"],
    },
  },
  crossOriginEmbedderPolicy: false, strictTransportSecurity: false,
});

/** Refuses calls that reach the server under a foreign name (DNS rebinding) and state changes that come from another site. */
export function sameSite(hosts: readonly string[]): RequestHandler {
  const allowed = new Set([...hosts, 'localhost', '127.0.0.1', '[::1]']);
  const named = (host: string): string => host.replace(/:\d+$/, '');
  return (request, _response, next) => {
    const host = request.get('Host') ?? '';
    if (!allowed.has(named(host))) throw new ProblemError(403, 'foreign-host', 'This server was reached under a name it does not know.');
    const origin = request.get('Origin');
    if (!['GET', 'HEAD', 'OPTIONS'].includes(request.method) && origin !== undefined && origin !== `http://${host}` && origin !== `https://${host}`) {
      throw new ProblemError(403, 'foreign-origin', 'This change was asked for by another site and was not made.');
    }
    next();
  };
}

const SESSION_MS = 7 * 24 * 3600 * 1000;

/** Demands a password: for servers that listen beyond this machine. Sessions live in memory and end with the process. */
export function passwordGate(password: string): Router {
  const salt = randomBytes(16);
  const secret = scryptSync(password, salt, 32);
  const sessions = new Map<string, number>();
  const router = Router();
  const signedIn = (cookie: string): boolean => {
    const token = /(?:^|;\s*)kettle_session=([\w-]+)/.exec(cookie)?.[1] ?? '';
    return (sessions.get(token) ?? 0) > Date.now();
  };
  router.post('/sign-in', rateLimit({ windowMs: 15 * 60 * 1000, limit: 10, standardHeaders: true, legacyHeaders: false }), express.urlencoded({ extended: false, limit: '4kb' }), (request, response) => {
    const given = String((request.body as Record<string, unknown> | undefined)?.['password'] ?? '');
    if (!timingSafeEqual(scryptSync(given, salt, 32), secret)) { response.redirect(303, '/?wrong'); return; }
    const token = randomBytes(24).toString('base64url');
    sessions.set(token, Date.now() + SESSION_MS);
    response.cookie('kettle_session', token, { httpOnly: true, sameSite: 'strict', secure: request.secure, maxAge: SESSION_MS });
    response.redirect(303, '/');
  });
  router.use((request, response, next) => {
    if (signedIn(request.get('Cookie') ?? '')) { next(); return; }
    if (request.path.startsWith('/api/')) throw new ProblemError(401, 'signed-out', 'Sign in first.');
    const wrong = 'wrong' in request.query ? '<p role="alert">That was not the password.</p>' : '';
    response.status(401).type('html').send(
      '<!doctype html><html lang="en"><meta charset="utf-8"><title>Kettle Sheet: sign in</title><body style="font-family:sans-serif;background:#F7F5F0;color:#1F2623;display:grid;place-items:center;min-height:90vh">'
      + `<form method="post" action="/sign-in"><h1>Kettle Sheet</h1>${wrong}<label>Password <input type="password" name="password" required autofocus></label> <button>Sign in</button></form></body></html>`,
    );
  });
  return router;
}
