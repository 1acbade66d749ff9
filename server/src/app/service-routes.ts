import { openApi } from '@kettle/contract';
import type { House } from './house.js';
import { streamEvents } from './events.js';
import { handlers, SENT } from '../floor/http/handler.js';

/** The server itself, and its events. */
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
  });
