import { ENDPOINTS } from '@kettle/contract';
import { Router } from 'express';
import type { House } from '../house.js';
import { callerOf } from '../safety/callers.js';
import { ProblemError } from '../safety/problem-error.js';
import { StoredDesign } from '../stores/stored-design.js';
import { assetRoutes } from './asset-routes.js';
import { clientPageRoutes } from './client-routes.js';
import { clipRoutes } from './clip-routes.js';
import { designRoutes } from './design-routes.js';
import { SENT, type ApiRequest, type Handlers } from './handler.js';
import { libraryRoutes } from './library-routes.js';
import { listingRoutes } from './listing-routes.js';
import { outputRoutes } from './output-routes.js';
import { pictureRoutes } from './picture-routes.js';
import { printRunRoutes } from './print-run-routes.js';
import { requirementRoutes } from './requirement-routes.js';
import { serviceRoutes } from './service-routes.js';
import { shopRoutes } from './shop-routes.js';

/** All calls of the contract, in its order. Each handler is told who asks. */
export function apiRoutes(house: House, options: { gated: boolean }): Router {
  const router = Router();
  const table: Handlers = {
    ...serviceRoutes(house, options),
    ...assetRoutes(house),
    ...requirementRoutes(house),
    ...designRoutes(house),
    ...outputRoutes(house),
    ...libraryRoutes(house),
    ...pictureRoutes(house),
    ...clipRoutes(house),
    ...listingRoutes(house),
    ...shopRoutes(house),
    ...clientPageRoutes(house),
    ...printRunRoutes(house),
  };
  for (const endpoint of ENDPOINTS) {
    const handler = table[`${endpoint.method} ${endpoint.path}`];
    if (!handler) throw new Error(`The contract's ${endpoint.method} ${endpoint.path} has no handler.`);
    router[endpoint.method](endpoint.path.replace(/\{(\w+)\}/g, ':$1'), async (request, response) => {
      const answer = await handler(callerOf(response), request as ApiRequest, response);
      // What sends its answer itself says so; anything else must have one.
      if (answer === SENT) return;
      if (answer === undefined && endpoint.status !== 204)
        throw new ProblemError(404, 'no-such-id', 'There is nothing with this id.');
      // The tag of an answer is that of its bytes: what stands beside a revision changes without it.
      response.status(endpoint.status);
      if (answer instanceof StoredDesign) {
        response.type('json').send(answer.json);
        return;
      }
      if (endpoint.status === 204) response.end();
      else response.json(answer);
    });
  }
  return router;
}
