import { openApi } from '@kettle/contract';
import type { House } from '../house.js';
import { streamEvents } from './events.js';
import { handlers, ownId, SENT } from './handler.js';

/** Most rows that are asked for by name at once. */
const MOST_NAMED = 500;

/** The server itself, its events, and the job sheet. */
export const serviceRoutes = (house: House, { gated }: { readonly gated: boolean }) =>
  handlers({
    'get /api/health': async () => {
      await house.database.rows('SELECT 1');
      return { ok: true };
    },
    'get /api/live': async () => ({ ok: true }),
    'get /api/session': async ({ who }) => ({
      gated,
      notice: [house.disk.notice, ...house.remarks.values()].filter(Boolean).join(' ') || null,
      heard: await house.clientPages.unseen(who),
    }),
    'get /api/openapi.json': async () => openApi(),
    'get /api/keeper': async () => house.keeper.notes(),
    'get /api/events': async ({ who, request, response }) => {
      streamEvents(house.watch, who, request, response);
      return SENT;
    },
    'get /api/sheet': async ({ who, query }) => {
      const { from, count, designs } = query;
      if (designs === undefined) return house.sheet.sheet(who, from, count);
      return { rows: await house.sheet.rows(who, designs.split(',').slice(0, MOST_NAMED).map(ownId)) };
    },
  });
