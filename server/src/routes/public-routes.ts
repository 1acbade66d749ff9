import { Router } from 'express';
import type { House } from '../house.js';

/**
 * What anybody may ask, in front of the gate. Whatever is mounted here has no caller: it may show nothing of a
 * seller's but what it was given out for.
 */
export function publicRoutes(house: Pick<House, 'database'>): Router {
  const router = Router();
  router.get('/api/live', (_request, response) => {
    response.json({ ok: true });
  });
  router.get('/api/health', async (_request, response) => {
    await house.database.rows('SELECT 1');
    response.json({ ok: true });
  });
  return router;
}
