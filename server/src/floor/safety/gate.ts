import { StartError } from '../basics/start-error.js';
import { createHash, randomBytes } from 'node:crypto';
import express, { Router, type Request } from 'express';
import { rateLimit } from 'express-rate-limit';
import { SELLER } from '../basics/caller.js';
import type { Log } from '../basics/log.js';
import type { GateStore } from './gate-store.js';
import { setCaller } from './callers.js';
import { ProblemError } from '../basics/problem-error.js';
import { holds, secretOf } from './secrets.js';

/** Shortest password: below that, a few thousand tries are enough. */
const LEAST_LETTERS = 10;
const COOKIE = 'kettle_session';
const COOKIE_MS = 30 * 24 * 3600 * 1000;

/** Why a password is not good enough, or null. */
export const refusePassword = (password: string): string | null =>
  password.length < LEAST_LETTERS
    ? `A password has at least ${LEAST_LETTERS} letters. A few words one remembers are best.`
    : null;

/**
 * Demands a password: for servers that are reached from beyond this machine. The one the server is started with holds
 * until it is changed on the page;
 * starting with another one sets it anew and signs everybody out.
 */
export async function passwordGate(password: string, store: GateStore, log: Log): Promise<Router> {
  const wrong = refusePassword(password);
  if (wrong) throw new StartError(`KETTLE_PASSWORD is too short. ${wrong}`);
  const known = await store.secrets();
  if (!known || !(await holds(password, known.given))) await store.begin(await secretOf(password));

  const router = Router();
  const form = express.urlencoded({ extended: false, limit: '4kb' });
  const field = (request: Request, name: string): string =>
    String((request.body as Record<string, unknown> | undefined)?.[name] ?? '');
  // Only wrong tries count, and each caller for itself: nobody can lock others out.
  const few = rateLimit({
    windowMs: 15 * 60 * 1000,
    limit: 10,
    standardHeaders: true,
    legacyHeaders: false,
    requestWasSuccessful: (_request, response) => response.locals['right'] === true,
    skipSuccessfulRequests: true,
    handler: (request, response) => {
      log.warn({ event: 'sign-in-limited', caller: request.ip }, 'too many wrong passwords');
      response
        .status(429)
        .type('html')
        .send(page('Too many tries', '<p role="alert">Too many wrong tries from here. Wait a quarter of an hour.</p>'));
    },
    validate: { xForwardedForHeader: false },
  });

  router.post('/sign-in', few, form, async (request, response) => {
    const secrets = await store.secrets();
    if (!secrets || !(await holds(field(request, 'password'), secrets.current))) {
      log.warn({ event: 'sign-in-refused', caller: request.ip }, 'wrong password');
      response.redirect(303, '/?wrong');
      return;
    }
    response.locals['right'] = true;
    const token = randomBytes(24).toString('base64url');
    await store.signIn(digest(token), SELLER.owner);
    log.info({ event: 'signed-in', caller: request.ip }, 'signed in');
    response.cookie(COOKIE, token, { httpOnly: true, sameSite: 'strict', secure: request.secure, maxAge: COOKIE_MS });
    response.redirect(303, '/');
  });
  router.use(async (request, response, next) => {
    const token = tokenOf(request);
    const owner = token ? await store.ownerOf(digest(token)) : null;
    if (owner) {
      setCaller(response, { owner });
      next();
      return;
    }
    if (request.path.startsWith('/api/')) throw new ProblemError(401, 'signed-out', 'Sign in first.');
    response
      .status(401)
      .type('html')
      .send(
        page(
          'Sign in',
          `${'wrong' in request.query ? '<p role="alert">That was not the password.</p>' : ''}<form method="post" action="/sign-in"><label>Password <input type="password" name="password" autocomplete="current-password" required autofocus></label><button>Sign in</button></form>`,
        ),
      );
  });
  router.post('/sign-out', async (request, response) => {
    await store.signOut(digest(tokenOf(request)!));
    log.info({ event: 'signed-out', caller: request.ip }, 'signed out');
    response.clearCookie(COOKIE);
    response.redirect(303, '/');
  });
  router.get('/password', (request, response) => {
    response
      .type('html')
      .send(
        passwordPage(
          'wrong' in request.query
            ? 'The present password was not right.'
            : 'short' in request.query
              ? refusePassword('')!
              : 'changed' in request.query
                ? 'The password was changed. All other places are signed out.'
                : '',
        ),
      );
  });
  router.post('/password', few, form, async (request, response) => {
    const [now, next] = [field(request, 'now'), field(request, 'next')];
    const secrets = await store.secrets();
    if (!secrets || !(await holds(now, secrets.current))) {
      log.warn({ event: 'password-change-refused', caller: request.ip }, 'wrong password');
      response.redirect(303, '/password?wrong');
      return;
    }
    response.locals['right'] = true;
    if (refusePassword(next)) {
      response.redirect(303, '/password?short');
      return;
    }
    await store.change(await secretOf(next), digest(tokenOf(request)!));
    log.warn({ event: 'password-changed', caller: request.ip }, 'password changed');
    response.redirect(303, '/password?changed');
  });
  return router;
}

const digest = (token: string): Buffer => createHash('sha256').update(token).digest();
const tokenOf = (request: Request): string | null =>
  new RegExp(`(?:^|;\\s*)${COOKIE}=([\\w-]+)`).exec(request.get('Cookie') ?? '')?.[1] ?? null;

const page = (title: string, body: string): string =>
  `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Kettle Sheet: ${title.toLowerCase()}</title>` +
  '<style>body{font:16px/1.5 system-ui,sans-serif;background:#F7F5F0;color:#1F2623;display:grid;place-items:center;min-height:90vh}form{display:grid;gap:12px}label{display:grid;gap:4px}input{font:inherit;padding:8px 12px;border:1px solid #DDD8CC;border-radius:9px}button{font:inherit;font-weight:600;padding:9px 16px;border:0;border-radius:99px;background:#11564F;color:#fff}[role=alert]{color:#B4532A}</style>' +
  `<main><h1>Kettle Sheet</h1>${body}</main></html>`;

const passwordPage = (told: string): string =>
  page(
    'Change the password',
    `${told ? `<p role="alert">${told}</p>` : ''}<form method="post" action="/password"><label>Present password <input type="password" name="now" autocomplete="current-password" required autofocus></label><label>New password <input type="password" name="next" autocomplete="new-password" minlength="${LEAST_LETTERS}" required></label><button>Change it</button></form><p><a href="/">Back to the job sheet</a></p>`,
  );
