import {
  interestChangeSchema,
  interestsSchema,
  printRunSchema,
  runStateSchema,
  type InterestChange,
} from '@kettle/contract';
import type { InterestFields, PrintRunFields, PrintRunState } from '@kettle/core';
import type { House } from '../house.js';
import { checkedBody, matchedRevision } from './body.js';
import { idOf, ownId, sendStream, type ApiRequest, type Handlers } from './handler.js';
import { wholeBody } from './whole-body.js';

/** Largest table of people that is read, bytes. */
const MOST_TABLE = 2_000_000;
const interestOf = (request: ApiRequest): string => ownId(request.params['interest']);

/** Orders in hand. */
export const printRunRoutes = ({ printRuns }: House): Handlers => ({
  'get /api/designs/{id}/print-runs': async (who, request) => printRuns.list(who, idOf(request)),
  'post /api/designs/{id}/print-runs': async (who, request) =>
    printRuns.add(who, idOf(request), checkedBody<PrintRunFields>(printRunSchema, request)),
  'put /api/print-runs/{id}': async (who, request) =>
    printRuns.change(
      who,
      idOf(request),
      matchedRevision(request),
      checkedBody<PrintRunFields>(printRunSchema, request),
    ),
  'delete /api/print-runs/{id}': async (who, request) => printRuns.remove(who, idOf(request)),
  'post /api/print-runs/{id}/interests': async (who, request) => {
    const { form, source, interests } = checkedBody<{
      form: string;
      source: 'typed' | 'table';
      interests: InterestFields[];
    }>(interestsSchema, request);
    return printRuns.addInterests(who, idOf(request), form, source, interests);
  },
  'post /api/print-runs/{id}/interests/table': async (who, request) =>
    printRuns.readTable(who, idOf(request), await wholeBody(request, MOST_TABLE)),
  'put /api/print-runs/{id}/interests/{interest}': async (who, request) =>
    printRuns.changeInterest(
      who,
      idOf(request),
      interestOf(request),
      checkedBody<InterestChange>(interestChangeSchema, request),
    ),
  'delete /api/print-runs/{id}/interests/{interest}': async (who, request) =>
    printRuns.removeInterest(who, idOf(request), interestOf(request)),
  'post /api/print-runs/{id}/erase': async (who, request) => printRuns.erase(who, idOf(request)),
  'post /api/print-runs/{id}/link': async (who, request) => printRuns.link(who, idOf(request), true),
  'delete /api/print-runs/{id}/link': async (who, request) => printRuns.link(who, idOf(request), false),
  'post /api/print-runs/{id}/state': async (who, request) =>
    printRuns.become(who, idOf(request), checkedBody<{ state: PrintRunState }>(runStateSchema, request).state),
  'get /api/print-runs/{id}/order-sheet': async (who, request, response) => {
    const { name, stream, length } = await printRuns.orderSheet(who, idOf(request));
    return sendStream(response, stream, { type: 'application/zip', name, length });
  },
});
