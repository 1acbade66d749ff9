import { handlers, sendStream } from '../floor/http/handler.js';
import type { PackageRoom } from './room.js';

/** Files made together. */
export const packageRoutes = ({ packages }: PackageRoom) =>
  handlers({
    'get /api/packages': async ({ who }) => packages.list(who),
    'post /api/packages': async ({ who, body }) => packages.pack(who, body),
    'get /api/packages/{id}': async ({ who, id }) => packages.detail(who, id),
    'delete /api/packages/{id}': async ({ who, id }) => packages.remove(who, id),
    'get /api/packages/{id}/content': async ({ who, id, response }) => {
      const { filename, stream, length } = await packages.content(who, id);
      return sendStream(response, stream, { type: 'application/zip', name: filename, length });
    },
  });
