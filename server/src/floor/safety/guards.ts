import { createHash, timingSafeEqual } from 'node:crypto';
import type { RequestHandler } from 'express';
import helmet from 'helmet';
import { ProblemError } from '../basics/problem-error.js';

/** Strict headers: nothing from outside, no inline script. Styles may be inline because components bring theirs. */
export const pageHeaders: RequestHandler = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'none'"],
      scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
      styleSrc: ["'self'", "'unsafe-inline'"],
      imgSrc: ["'self'", 'blob:', 'data:'],
      // Clips that were made are played from where they are kept.
      mediaSrc: ["'self'"],
      fontSrc: ["'self'"],
      connectSrc: ["'self'"],
      workerSrc: ["'self'"],
      formAction: ["'self'"],
      baseUri: ["'self'"],
      frameAncestors: ["'none'"],
    },
  },
  crossOriginEmbedderPolicy: false,
  strictTransportSecurity: false,
});

/** Lets in who knows a token (RFC 6750); compared by their hashes, which are as long whatever was sent. */
export function bearer(token: string): RequestHandler {
  const hashed = (words: string): Buffer => createHash('sha256').update(words).digest();
  const expected = hashed(`Bearer ${token}`);
  return (request, _response, next) => {
    if (!timingSafeEqual(hashed(request.get('Authorization') ?? ''), expected))
      throw new ProblemError(401, 'token-missing', 'These figures are for those who know their token.');
    next();
  };
}

/**
 * Refuses calls that reach the server under a foreign name (DNS rebinding) and state changes that come from another
 * site.
 */
export function sameSite(hosts: readonly string[]): RequestHandler {
  // Names of hosts are the same in capitals (RFC 3986, 3.2.2).
  const named = (host: string): string => host.replace(/:\d+$/, '');
  const allowed = new Set([...hosts.map((name) => name.toLowerCase()), 'localhost', '127.0.0.1', '[::1]']);
  return (request, _response, next) => {
    const host = (request.get('Host') ?? '').toLowerCase();
    if (!allowed.has(named(host)))
      throw new ProblemError(403, 'foreign-host', 'This server was reached under a name it does not know.');
    const origin = request.get('Origin');
    if (
      !['GET', 'HEAD', 'OPTIONS'].includes(request.method) &&
      origin !== undefined &&
      ![`http://${host}`, `https://${host}`].includes(origin.toLowerCase())
    ) {
      throw new ProblemError(403, 'foreign-origin', 'This change was asked for by another site and was not made.');
    }
    next();
  };
}
