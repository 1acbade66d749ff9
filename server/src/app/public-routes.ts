import { raw, Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import { guestRoutes } from './guest-routes.js';
import type { GuestLimits } from '../floor/http/guest-guards.js';
import type { House } from './house.js';

/** Largest answer of a market, bytes. */
const MOST_ANSWER = 64 * 1024;

/**
 * What anybody may ask, in front of the gate. Whatever is mounted here has no caller: it may show nothing of a
 * seller's but what it was given out for.
 */
export function publicRoutes(house: House, limits?: GuestLimits): Router {
  const router = Router();
  router.use(guestRoutes(house, limits));
  // A market has no session: what it says is believed for its signature.
  const few = rateLimit({ windowMs: 60_000, limit: 600, validate: { xForwardedForHeader: false } });
  router.post('/answers/:market', few, raw({ type: () => true, limit: MOST_ANSWER }), async (request, response) => {
    await house.marketAnswers.take(
      String(request.params['market']),
      {
        time: request.get('X-Answer-Time') ?? '',
        nonce: request.get('X-Answer-Number') ?? '',
        signature: request.get('X-Answer-Signature') ?? '',
      },
      Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0),
    );
    response.status(204).end();
  });
  return router;
}
