import type { RequestHandler } from 'express';
import helmet from 'helmet';
import { ProblemError } from './problem-error.js';

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

/**
 * Refuses calls that reach the server under a foreign name (DNS rebinding) and state changes that come from another
 * site.
 */
export function sameSite(hosts: readonly string[]): RequestHandler {
  const allowed = new Set([...hosts, 'localhost', '127.0.0.1', '[::1]']);
  const named = (host: string): string => host.replace(/:\d+$/, '');
  return (request, _response, next) => {
    const host = request.get('Host') ?? '';
    if (!allowed.has(named(host)))
      throw new ProblemError(403, 'foreign-host', 'This server was reached under a name it does not know.');
    const origin = request.get('Origin');
    if (
      !['GET', 'HEAD', 'OPTIONS'].includes(request.method) &&
      origin !== undefined &&
      origin !== `http://${host}` &&
      origin !== `https://${host}`
    ) {
      throw new ProblemError(403, 'foreign-origin', 'This change was asked for by another site and was not made.');
    }
    next();
  };
}
