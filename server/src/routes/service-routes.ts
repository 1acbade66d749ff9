import { type Session, openApi } from '@kettle/contract';
import type { House } from '../house.js';
import { streamEvents } from './events.js';
import { askedId, SENT, wholeNumber, type Handlers } from './handler.js';

/** Most rows that are asked for by name at once. */
const MOST_NAMED = 500;

/** The server itself, its events, and the job sheet. */
export const serviceRoutes = (house: House, { gated }: { gated: boolean }): Handlers => ({
  'get /api/health': async () => {
    await house.database.rows('SELECT 1');
    return { ok: true };
  },
  'get /api/live': async () => ({ ok: true }),
  'get /api/session': async (who): Promise<Session> => ({
    gated,
    notice: [house.disk.notice, ...house.remarks.values()].filter(Boolean).join(' ') || null,
    heard: await house.clientPages.unseen(who),
  }),
  'get /api/openapi.json': async () => openApi(),
  'get /api/keeper': async () => house.keeper.notes(),
  'get /api/events': async (who, request, response) => {
    streamEvents(house.watch, who, request, response);
    return SENT;
  },
  'get /api/sheet': async (who, request) => {
    const { from, count, designs } = request.query;
    if (typeof designs !== 'string') return house.sheet.sheet(who, wholeNumber(from, 0), wholeNumber(count, 1_000_000));
    return {
      rows: await house.sheet.rows(
        who,
        designs
          .split(',')
          .slice(0, MOST_NAMED)
          .map((one) => askedId(one)!),
      ),
    };
  },
});
