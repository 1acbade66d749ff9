import type { RequestHandler, Response } from 'express';
import { SELLER, type Caller } from '../basics/caller.js';
import { ProblemError } from '../basics/problem-error.js';

/** Says who asks, for all that comes after. */
export function setCaller(response: Response, caller: Caller): void {
  response.locals['caller'] = caller;
}

/** Who asks. @throws ProblemError 401 when nobody has said so: nothing of a seller's is answered to nobody */
export function callerOf(response: Response): Caller {
  const caller = response.locals['caller'] as Caller | undefined;
  if (!caller) throw new ProblemError(401, 'signed-out', 'Sign in first.');
  return caller;
}

/** On a server of one's own machine, whoever asks is the seller. */
export const ownMachine: RequestHandler = (_request, response, next) => {
  setCaller(response, SELLER);
  next();
};
