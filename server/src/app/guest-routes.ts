import { Router } from 'express';
import { fileURLToPath } from 'node:url';
import type { House } from './house.js';
import { noSuchCall } from '../floor/http/problem.js';
import { clientRoutes } from '../clients/guest-routes.js';
import { guestErrors, guestGuards, USUAL_LIMITS, type GuestLimits } from '../floor/http/guest-guards.js';
import { interestRoutes } from '../orders/guest-routes.js';
import { GUEST_FILES, guestFile } from '../floor/http/guest-page.js';

/** Faces that the pages are set in. */
const FACES = {
  'public-sans.woff2': '@fontsource-variable/public-sans/files/public-sans-latin-wght-normal.woff2',
  'fraunces.woff2': '@fontsource-variable/fraunces/files/fraunces-latin-wght-normal.woff2',
} as const;

/**
 * The pages that people without a session may see: the client's and that of orders in hand. They have routes, headers and limits
 * of their own, know no caller, and show nothing of a seller's but what their link was given out for.
 */
export function guestRoutes(house: House, limits: GuestLimits = USUAL_LIMITS): Router {
  const router = Router();
  const guards = guestGuards(limits);
  const errors = guestErrors((error) => house.log.error({ err: error }, 'unforeseen on a page for guests'));
  for (const name of GUEST_FILES)
    router.get(`/guest/${name}`, (_request, response) => {
      response.setHeader('Cache-Control', 'public, max-age=300');
      response.sendFile(guestFile(name), { dotfiles: 'allow' });
    });
  for (const [name, file] of Object.entries(FACES))
    router.get(`/guest/${name}`, (_request, response) => {
      response.setHeader('Cache-Control', 'public, max-age=86400');
      response.sendFile(fileURLToPath(import.meta.resolve(file)), { dotfiles: 'allow' });
    });
  router.use('/c', guards.all, clientRoutes(house, guards), noSuchCall, errors);
  router.use('/i', guards.all, interestRoutes(house, guards), noSuchCall, errors);
  return router;
}
