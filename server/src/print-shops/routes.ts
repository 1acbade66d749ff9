import { handlers, queued, sendFile } from '../floor/http/handler.js';
import type { Floor } from '../floor/floor.js';
import type { PrintShopRoom } from './room.js';

/** Print shops, and orders there. */
export const printShopRoutes = ({ printShops, shopOrders, blobs }: Pick<Floor, 'blobs'> & PrintShopRoom) =>
  handlers({
    'get /api/print-shops': async ({ who }) => printShops.list(who),
    'post /api/print-shops': async ({ who, body }) => printShops.add(who, body),
    'put /api/print-shops/{id}': async ({ who, id, ifMatch, body }) => printShops.change(who, id, ifMatch, body),
    'delete /api/print-shops/{id}': async ({ who, id }) => printShops.remove(who, id),
    'get /api/designs/{id}/shop-orders': async ({ who, id }) => shopOrders.list(who, id),
    'post /api/designs/{id}/shop-orders': async ({ who, id, body }) => queued(shopOrders.send(who, id, body)),
    'post /api/shop-orders/{id}/send': async ({ who, id }) => queued(shopOrders.again(who, id)),
    'post /api/shop-orders/{id}/ask': async ({ who, id }) => queued(shopOrders.ask(who, id)),
    'get /api/shop-orders/{id}/files/{file}': async ({ who, id, file, response }) => {
      const { sha256: tag, name } = await shopOrders.file(who, id, file);
      const path = await blobs.localPath(tag);
      // What was sent is given back as it was; what the shop drew is shown, and is never a page.
      return name === null
        ? sendFile(response, path, { type: 'image/png', tag })
        : sendFile(response, path, { type: 'application/octet-stream', tag, name, attachment: true });
    },
    'get /api/shop-orders/{id}/calls': async ({ who, id }) => shopOrders.callsOf(who, id),
  });
