import { createReadStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { handlers, sendStream } from '../floor/http/handler.js';
import type { ClientRoom } from './room.js';

/** Pages for clients, as their seller has them. */
export const clientPageRoutes = ({ clientPages }: ClientRoom) =>
  handlers({
    'get /api/designs/{id}/client-pages': async ({ who, id }) => clientPages.list(who, id),
    'post /api/designs/{id}/client-pages': async ({ who, id, body }) => clientPages.add(who, id, body),
    'post /api/client-pages/{id}/rounds': async ({ who, body, id }) =>
      clientPages.show(who, id, body.note, body.alternatives),
    'post /api/client-pages/{id}/answers': async ({ who, body, id }) =>
      clientPages.answer(who, id, body.text, body.form),
    'post /api/client-pages/{id}/seen': async ({ who, id }) => clientPages.seen(who, id),
    'post /api/client-pages/{id}/withdraw': async ({ who, id }) => clientPages.withdraw(who, id),
    'get /api/client-pages/{id}/record': async ({ who, id, response }) => {
      const { path, name } = await clientPages.record(who, id);
      try {
        const { size } = await stat(path);
        return await sendStream(response, createReadStream(path), { type: 'application/pdf', name, length: size });
      } finally {
        await rm(path, { force: true });
      }
    },
  });
