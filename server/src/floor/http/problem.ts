import type { Problem } from '@kettle/contract';
import type { ErrorRequestHandler, RequestHandler } from 'express';
import type { Log } from '../basics/log.js';
import { DiedError, StoppedError } from '../processes/process-pool.js';
import { isDatabaseAway } from '../database/database.js';
import { machineSentence, ProblemError } from '../basics/problem-error.js';

function problemOf(error: unknown, unforeseen: (error: unknown) => void): Problem {
  const make = (status: number, code: string, detail: string, fields?: Problem['fields']): Problem => ({
    type: 'about:blank',
    title: TITLES[status] ?? 'Error',
    status,
    code,
    detail,
    ...(fields ? { fields } : {}),
  });
  if (error instanceof ProblemError) return make(error.status, error.code, error.message, error.fields);
  if (isDatabaseAway(error))
    return make(
      503,
      'database-away',
      'The database does not answer just now. Nothing that was saved is lost; your changes stay on this page and are saved as soon as it is back.',
    );
  const machine = machineSentence(error);
  if (machine) return make(507, 'disk-full', machine);
  const status = (error as { status?: number }).status;
  if (status === 413) return make(413, 'too-many-bytes', 'This is more than the server takes in one go.');
  if (error instanceof URIError)
    return make(400, 'bad-address', 'This address holds a percent sign that encodes nothing.');
  if (error instanceof DiedError)
    return make(
      503,
      'drawing-ended',
      'The process that draws this ended before it was done, more than once. Nothing is lost; try again in a moment.',
    );
  if (error instanceof StoppedError)
    return make(503, 'stopping', 'The server is stopping. Nothing that was saved is lost.');
  if (status === 400) return make(400, 'not-json', 'The body could not be read as JSON.');
  unforeseen(error);
  return make(500, 'unexpected', 'Something went wrong on the server. Nothing that was saved is lost; try again.');
}

const TITLES: Readonly<Record<number, string>> = {
  400: 'Not understood',
  401: 'Not signed in',
  403: 'Not allowed',
  404: 'Not found',
  409: 'Not possible now',
  412: 'Changed elsewhere',
  413: 'Too large',
  415: 'Not a picture',
  422: 'Not accepted',
  428: 'Revision missing',
  429: 'Too many tries',
  500: 'Unexpected error',
  503: 'Database away',
  507: 'Disk full',
};

/**
 * Every error leaves as problem details (RFC 9457); what was not foreseen is logged whole, under the request's number.
 */
export const answerProblem =
  (log: Log): ErrorRequestHandler =>
  (error, _request, response, next) => {
    const problem = problemOf(error, (unknown) =>
      log.error({ request: response.locals['request'] as string, err: unknown }, 'unforeseen'),
    );
    response.locals['cause'] = problem.code;
    if (response.headersSent) {
      next(error);
      return;
    }
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
  };

export const noSuchCall: RequestHandler = () => {
  throw new ProblemError(404, 'no-such-call', 'There is no such call.');
};
