import { handlers, queued } from '../floor/http/handler.js';
import type { RecordRoom } from './room.js';

/** What became of designs. */
export const recordRoutes = ({ history }: RecordRoom) =>
  handlers({
    'get /api/rates': async ({ who }) => history.rates(who),
    'put /api/rates': async ({ who, body }) => history.setRates(who, body),
    'get /api/became': async ({ who, query }) => history.became(who, query.design),
    'post /api/sales/ask': async ({ who }) => queued(history.ask(who)),
  });
