import { outsideCallSchema } from '../answers/listings.js';
import { queuedSchema } from '../answers/making.js';
import { printShopAnswerSchema } from '../answers/requirements.js';
import { shopOrderAnswerSchema } from '../answers/shop-orders.js';
import { printShopSchema, shopOrderSchema } from '../orders-schema.js';
import { call, listOf } from './call.js';

/** Print shops and orders there. */
export const SHOP_ORDERS_CALLS = {
  'get /api/print-shops': call({
    summary: 'Print shops: those that ship, then the seller’s own',
    answer: listOf(printShopAnswerSchema),
  }),
  'post /api/print-shops': call({
    summary: 'Adds a print shop',
    body: printShopSchema,
    status: 201,
    answer: printShopAnswerSchema,
    problems: [422],
  }),
  'put /api/print-shops/{id}': call({
    summary: 'Changes a print shop of one’s own',
    ifMatch: true,
    body: printShopSchema,
    answer: printShopAnswerSchema,
    problems: [404, 412, 422, 428],
  }),
  'delete /api/print-shops/{id}': call({ summary: 'Takes a print shop of one’s own off the list', problems: [404] }),
  'get /api/designs/{id}/shop-orders': call({
    summary: 'Orders of a design at print shops, each with its thread',
    about: 'orders at print shops, each with its rounds: the file that was sent and what was said of it',
    answer: listOf(shopOrderAnswerSchema),
    problems: [404],
  }),
  'post /api/designs/{id}/shop-orders': call({
    summary: 'Sends its print file with an order sheet to a print shop',
    about: 'sends the current print file for that colour; 409 `no-print-file`, `not-connected`',
    body: shopOrderSchema,
    status: 202,
    answer: queuedSchema,
    problems: [404, 409, 422, 429],
  }),
  'post /api/shop-orders/{id}/send': call({
    summary: 'Sends the print file as it is now: the next round',
    about: '409 `nothing-new` while it is the same file',
    status: 202,
    answer: queuedSchema,
    problems: [404, 409, 429],
  }),
  'post /api/shop-orders/{id}/ask': call({
    summary: 'Asks the print shop whether it has an answer',
    status: 202,
    answer: queuedSchema,
    problems: [404, 409, 429],
  }),
  'get /api/shop-orders/{id}/files/{file}': call({
    summary: 'A file of its thread, by its SHA-256',
    answer: 'binary',
    problems: [404],
  }),
  'get /api/shop-orders/{id}/calls': call({
    summary: 'Every call to the print shop about it, newest first',
    answer: listOf(outsideCallSchema),
    problems: [404],
  }),
};
