import { createHmac, timingSafeEqual } from 'node:crypto';
import type { ErrorRequestHandler, Request, RequestHandler, Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { isDatabaseAway } from '../database/database.js';
import type { Secret } from '../safety/gate-store.js';
import { ProblemError } from '../basics/problem-error.js';
import { guestPage } from './guest-page.js';

/** Stricter than the seller's page: no inline style, nothing that is worked out, no address told to anybody. */
const headers: RequestHandler = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'none'"],
      scriptSrc: ["'self'"],
      styleSrc: ["'self'"],
      imgSrc: ["'self'"],
      mediaSrc: ["'self'"],
      fontSrc: ["'self'"],
      formAction: ["'self'"],
      baseUri: ["'none'"],
      frameAncestors: ["'none'"],
    },
  },
  crossOriginEmbedderPolicy: false,
  strictTransportSecurity: false,
  // Addresses of these pages are told to nobody else; ‘no-referrer’ would take the origin off forms as well.
  referrerPolicy: { policy: 'same-origin' },
});

const tooMany =
  (sentence: string) =>
  (_request: Request, response: Response): void => {
    response
      .status(429)
      .type('html')
      .send(guestPage('message', { title: 'A moment, please', sentence }));
  };
const limiter = (
  limit: number,
  minutes: number,
  sentence: string,
  more: Partial<Parameters<typeof rateLimit>[0]> = {},
) =>
  rateLimit({
    windowMs: minutes * 60_000,
    limit,
    standardHeaders: true,
    legacyHeaders: false,
    validate: { xForwardedForHeader: false },
    handler: tooMany(sentence),
    ...more,
  });

/** How often anybody may do what, from one address. */
export interface GuestLimits {
  /** Calls a minute. */
  readonly calls: number;
  /** Links and pass phrases that are wrong, in a quarter of an hour. */
  readonly wrong: number;
  /** Things said or ordered, in ten minutes. */
  readonly said: number;
}
export const USUAL_LIMITS: GuestLimits = { calls: 300, wrong: 30, said: 30 };

/** What stands before every page for guests. */
export const guestGuards = ({ calls, wrong, said }: GuestLimits) => ({
  all: [
    headers,
    limiter(calls, 1, 'There were very many calls from where you are. Wait a minute, then open the page again.'),
    limiter(wrong, 15, 'There were too many wrong tries from where you are. Wait a quarter of an hour.', {
      // Only links that lead nowhere and wrong pass phrases count.
      requestWasSuccessful: (_request, response) => response.statusCode !== 404 && response.statusCode !== 403,
      skipSuccessfulRequests: true,
    }),
    ((_request, response, next) => {
      response.setHeader('Cache-Control', 'no-store');
      response.setHeader('X-Robots-Tag', 'noindex, nofollow');
      next();
    }) as RequestHandler,
  ],
  say: limiter(said, 10, 'You have sent a lot in a short time. Wait ten minutes; nothing that was sent is lost.'),
});

/** Errors as a page that a person can read. */
export const guestErrors =
  (unforeseen: (error: unknown) => void): ErrorRequestHandler =>
  (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const { status, sentence } = told(error, unforeseen);
    response
      .status(status)
      .type('html')
      .send(
        guestPage('message', {
          title: status < 500 ? 'That did not work' : status === 503 ? 'Not just now' : 'Something went wrong',
          sentence,
          ...(status === 503 ? sentAgain(request) : {}),
        }),
      );
  };

/** What was sent, to be sent again by a press: its form has a name of its own, so that it is written down once. */
function sentAgain({ method, originalUrl, body }: Request): object {
  if (method !== 'POST') return {};
  const fields = Object.entries((body ?? {}) as Record<string, unknown>)
    .filter(([, value]) => typeof value === 'string')
    .map(([name, value]) => ({ name, value }));
  return { action: originalUrl, button: 'Send it again', fields };
}

function told(error: unknown, unforeseen: (error: unknown) => void): { status: number; sentence: string } {
  if (error instanceof ProblemError) return { status: error.status, sentence: error.message };
  if (isDatabaseAway(error))
    return {
      status: 503,
      sentence:
        'This page cannot write anything down just now. Nothing that was sent before is lost; try again in a moment.',
    };
  const { status } = error as { status?: number };
  if (status === 413)
    return { status, sentence: 'That was more than this page takes. Say it in fewer words; nothing was sent.' };
  if (status !== undefined && status >= 400 && status < 500)
    return { status, sentence: 'What was sent could not be read. Open the page again.' };
  unforeseen(error);
  return { status: 500, sentence: 'Nothing that was sent before is lost. Try again in a moment.' };
}

const COOKIE = 'kettle_guest';

/** What a guest who said the pass phrase carries: it opens this page alone, and nothing once the phrase is another. */
const proofOf = (token: string, { hash }: Secret): string =>
  createHmac('sha256', hash).update(`open ${token}`).digest('base64url');

export function letIn(request: Request, response: Response, path: string, token: string, pass: Secret): void {
  response.cookie(COOKIE, proofOf(token, pass), {
    httpOnly: true,
    sameSite: 'strict',
    secure: request.secure,
    path,
    maxAge: 30 * 24 * 3600 * 1000,
  });
}

export function isLetIn(request: Request, token: string, pass: Secret): boolean {
  const given = new RegExp(`(?:^|;\\s*)${COOKIE}=([\\w-]+)`).exec(request.get('Cookie') ?? '')?.[1] ?? '';
  const [a, b] = [Buffer.from(given), Buffer.from(proofOf(token, pass))];
  return a.length === b.length && timingSafeEqual(a, b);
}
