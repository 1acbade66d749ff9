import {
  printShopSchema,
  ratesSchema,
  shopOrderSchema,
  type SellerRates,
  type ShopOrderRequest,
} from '@kettle/contract';
import type { PrintShopFields } from '@kettle/core';
import type { House } from '../house.js';
import { checkedBody, matchedRevision } from './body.js';
import { askedId, idOf, sendFile, type Handlers } from './handler.js';

/** Print shops, orders there, and what became of designs. */
export const shopRoutes = ({ printShops, shopOrders, history, blobs }: House): Handlers => {
  const queued = async (job: Promise<{ readonly id: string }>): Promise<{ readonly jobId: string }> => {
    const { id: jobId } = await job;
    return { jobId };
  };
  return {
    'get /api/print-shops': async (who) => printShops.list(who),
    'post /api/print-shops': async (who, request) =>
      printShops.add(who, checkedBody<PrintShopFields>(printShopSchema, request)),
    'put /api/print-shops/{id}': async (who, request) =>
      printShops.change(
        who,
        idOf(request),
        matchedRevision(request),
        checkedBody<PrintShopFields>(printShopSchema, request),
      ),
    'delete /api/print-shops/{id}': async (who, request) => printShops.remove(who, idOf(request)),
    'get /api/designs/{id}/shop-orders': async (who, request) => shopOrders.list(who, idOf(request)),
    'post /api/designs/{id}/shop-orders': async (who, request) =>
      queued(shopOrders.send(who, idOf(request), checkedBody<ShopOrderRequest>(shopOrderSchema, request))),
    'post /api/shop-orders/{id}/send': async (who, request) => queued(shopOrders.again(who, idOf(request))),
    'post /api/shop-orders/{id}/ask': async (who, request) => queued(shopOrders.ask(who, idOf(request))),
    'get /api/shop-orders/{id}/files/{file}': async (who, request, response) => {
      const { sha256: tag, name } = await shopOrders.file(who, idOf(request), request.params['file']);
      const path = await blobs.localPath(tag);
      // What was sent is given back as it was; what the shop drew is shown, and is never a page.
      return name === null
        ? sendFile(response, path, { type: 'image/png', tag })
        : sendFile(response, path, { type: 'application/octet-stream', tag, name, attachment: true });
    },
    'get /api/shop-orders/{id}/calls': async (who, request) => shopOrders.callsOf(who, idOf(request)),
    'get /api/rates': async (who) => history.rates(who),
    'put /api/rates': async (who, request) => history.setRates(who, checkedBody<SellerRates>(ratesSchema, request)),
    'get /api/became': async (who, request) => history.became(who, askedId(request.query['design'])),
    'post /api/sales/ask': async (who) => queued(history.ask(who)),
  };
};
