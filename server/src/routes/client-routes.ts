import {
  clientAnswerSchema,
  clientPageSchema,
  clientRoundSchema,
  type ClientAlternativeRequest,
  type ClientPageRequest,
} from '@kettle/contract';
import { createReadStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import type { House } from '../house.js';
import { checkedBody } from './body.js';
import { idOf, sendStream, type Handlers } from './handler.js';

/** Pages for clients, as their seller has them. */
export const clientPageRoutes = ({ clientPages, disk }: House): Handlers => ({
  'get /api/designs/{id}/client-pages': async (who, request) => clientPages.list(who, idOf(request)),
  'post /api/designs/{id}/client-pages': async (who, request) => {
    disk.demandRoom(false);
    return clientPages.add(who, idOf(request), checkedBody<ClientPageRequest>(clientPageSchema, request));
  },
  'post /api/client-pages/{id}/rounds': async (who, request) => {
    const { note, alternatives } = checkedBody<{ note: string; alternatives: ClientAlternativeRequest[] }>(
      clientRoundSchema,
      request,
    );
    return clientPages.show(who, idOf(request), note, alternatives);
  },
  'post /api/client-pages/{id}/answers': async (who, request) => {
    const { text, form } = checkedBody<{ text: string; form: string }>(clientAnswerSchema, request);
    return clientPages.answer(who, idOf(request), text, form);
  },
  'post /api/client-pages/{id}/seen': async (who, request) => clientPages.seen(who, idOf(request)),
  'post /api/client-pages/{id}/withdraw': async (who, request) => clientPages.withdraw(who, idOf(request)),
  'get /api/client-pages/{id}/record': async (who, request, response) => {
    const { path, name } = await clientPages.record(who, idOf(request));
    try {
      const { size } = await stat(path);
      return await sendStream(response, createReadStream(path), { type: 'application/pdf', name, length: size });
    } finally {
      await rm(path, { force: true });
    }
  },
});
