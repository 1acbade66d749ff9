import { handlers, sendStream } from '../floor/http/handler.js';
import { wholeBody } from '../floor/http/whole-body.js';
import type { OrderRoom } from './room.js';

/** Largest table of people that is read, bytes. */
const MOST_TABLE = 2_000_000;

/** Orders in hand. */
export const printRunRoutes = ({ printRuns }: OrderRoom) =>
  handlers({
    'get /api/designs/{id}/print-runs': async ({ who, id }) => printRuns.list(who, id),
    'post /api/designs/{id}/print-runs': async ({ who, id, body }) => printRuns.add(who, id, body),
    'put /api/print-runs/{id}': async ({ who, id, ifMatch, body }) => printRuns.change(who, id, ifMatch, body),
    'delete /api/print-runs/{id}': async ({ who, id }) => printRuns.remove(who, id),
    'post /api/print-runs/{id}/interests': async ({ who, body, id }) =>
      printRuns.addInterests(who, id, body.form, body.source, body.interests),
    'post /api/print-runs/{id}/interests/table': async ({ who, id, request }) =>
      printRuns.readTable(who, id, await wholeBody(request, MOST_TABLE)),
    'put /api/print-runs/{id}/interests/{interest}': async ({ who, id, interest, body }) =>
      printRuns.changeInterest(who, id, interest, body),
    'delete /api/print-runs/{id}/interests/{interest}': async ({ who, id, interest }) =>
      printRuns.removeInterest(who, id, interest),
    'post /api/print-runs/{id}/erase': async ({ who, id }) => printRuns.erase(who, id),
    'post /api/print-runs/{id}/link': async ({ who, id }) => printRuns.link(who, id, true),
    'delete /api/print-runs/{id}/link': async ({ who, id }) => printRuns.link(who, id, false),
    'post /api/print-runs/{id}/state': async ({ who, id, body }) => printRuns.become(who, id, body.state),
    'get /api/print-runs/{id}/order-sheet': async ({ who, id, response }) => {
      const { name, stream, length } = await printRuns.orderSheet(who, id);
      return sendStream(response, stream, { type: 'application/zip', name, length });
    },
  });
