import { callOf, CALL_NAMES, partsOf, refuse, type Call, type CallName } from '@kettle/contract';
import { Router, type Request, type Response } from 'express';
import { object, type AnyObjectSchema } from 'yup';
import { artworkRoutes } from '../artwork/routes.js';
import { clientPageRoutes } from '../clients/routes.js';
import { clipRoutes } from '../clips/routes.js';
import { designRoutes } from '../designs/routes.js';
import { letteringRoutes } from '../lettering/routes.js';
import { listingRoutes } from '../listings/routes.js';
import { makingRoutes } from '../making/routes.js';
import { mockupRoutes } from '../mockups/routes.js';
import { printRunRoutes } from '../orders/routes.js';
import { packageRoutes } from '../packages/routes.js';
import { pressRoutes } from '../press/routes.js';
import { printShopRoutes } from '../print-shops/routes.js';
import { recordRoutes } from '../record/routes.js';
import { requirementRoutes } from '../requirements/routes.js';
import { sheetRoutes } from '../sheet/routes.js';
import { serviceRoutes } from './service-routes.js';
import type { House } from './house.js';
import { callerOf } from '../floor/safety/callers.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import { StoredDesign } from '../documents/stored-design.js';
import { checkedBody, matchedRevision, uploadName } from '../floor/http/body.js';
import { ownId, Ready, SENT, type Asked, type Handlers } from '../floor/http/handler.js';

export interface RouteOptions {
  /** Whether there is a password. */
  readonly gated: boolean;
  /** Whose calls are mounted: what anybody may make stands in front of the gate, the rest behind it. */
  readonly who: Call['who'];
  /** True to hold every answer against the contract before it is sent: specifications do. */
  readonly checkAnswers: boolean;
}

/** Holes of paths that are ids of ours. */
const IDS = new Set(['id', 'failure', 'interest']);

/** What was asked, each part checked when it is looked at. */
function askedOf({ body }: Call, query: AnyObjectSchema, request: Request, response: Response): Asked<never> {
  const path = Object.fromEntries(
    Object.keys(request.params).map((hole) => [
      hole,
      { enumerable: true, get: () => (IDS.has(hole) ? ownId(request.params[hole]) : request.params[hole]) },
    ]),
  );
  const parts = {
    get who() {
      return callerOf(response);
    },
    get body() {
      return body && body !== 'binary' ? checkedBody(body, request) : undefined;
    },
    get query() {
      try {
        return query.validateSync(request.query, { stripUnknown: true });
      } catch {
        return ownId(undefined);
      }
    },
    get ifMatch() {
      return matchedRevision(request);
    },
    get filename() {
      return uploadName(request);
    },
    request,
    response,
  };
  return Object.defineProperties(parts, path) as unknown as Asked<never>;
}

/** @throws ProblemError for an answer that is not what the contract promises */
function demandPromised(name: CallName, json: string): void {
  const { answer } = callOf(name);
  const wrong = answer && typeof answer === 'object' ? refuse(answer, JSON.parse(json)) : null;
  if (wrong) throw new ProblemError(500, 'not-as-promised', `${name} answered: ${JSON.stringify(wrong)}`);
}

/** Calls of the contract that somebody may make, in its order. Each handler can ask who it is. */
export function apiRoutes(house: House, options: RouteOptions): Router {
  const router = Router();
  const table: Handlers<CallName> = {
    ...serviceRoutes(house, options),
    ...sheetRoutes(house),
    ...artworkRoutes(house),
    ...letteringRoutes(house),
    ...requirementRoutes(house),
    ...designRoutes(house),
    ...pressRoutes(house),
    ...makingRoutes(house),
    ...packageRoutes(house),
    ...mockupRoutes(house),
    ...clipRoutes(house),
    ...listingRoutes(house),
    ...printShopRoutes(house),
    ...clientPageRoutes(house),
    ...printRunRoutes(house),
    ...recordRoutes(house),
  };
  for (const name of CALL_NAMES) {
    const { method, path } = partsOf(name);
    const call = callOf(name);
    const { answer: promised, status = promised ? 200 : 204, keeps, query = {} } = call;
    if (call.who !== options.who) continue;
    const queried = object(query);
    const handler = table[name] as (asked: Asked<never>) => Promise<unknown>;
    router[method](path.replace(/\{(\w+)\}/g, ':$1'), async (request, response) => {
      if (keeps) house.disk.demandRoom(keeps === 'files');
      const answer = await handler(askedOf(call, queried, request, response));
      // What sends its answer itself says so; anything else must have one.
      if (answer === SENT) return;
      if (answer === undefined && status !== 204)
        throw new ProblemError(404, 'no-such-id', 'There is nothing with this id.');
      // The tag of an answer is that of its bytes: what stands beside a revision changes without it.
      response.status(status);
      if (status === 204) {
        response.end();
        return;
      }
      const json = answer instanceof StoredDesign || answer instanceof Ready ? answer.json : JSON.stringify(answer);
      if (options.checkAnswers) demandPromised(name, json);
      response.type('json').send(json);
    });
  }
  return router;
}
