import { handlers, sendFile, wholeNumber } from '../floor/http/handler.js';
import type { LetteringRoom } from './room.js';

/** Fonts, and text set in them. */
export const letteringRoutes = ({ lettering }: LetteringRoom) =>
  handlers({
    'get /api/fonts': async ({ who }) => lettering.families(who),
    'post /api/fonts': async ({ who, request, filename }) => lettering.takeIn(who, request, filename),
    'delete /api/fonts/{id}': async ({ who, id, query }) => lettering.remove(who, id, query.of === 'family'),
    'get /api/fonts/{id}/files/{file}': async ({ who, id, file, response }) => {
      const index = wholeNumber(file, 0);
      return sendFile(response, await lettering.path(who, id, index), { type: 'font/woff2', tag: `${id}-${index}` });
    },
    'post /api/lettering': async ({ who, body }) => lettering.set(who, body),
  });
