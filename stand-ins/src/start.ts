import type { AddressInfo } from 'node:net';
import type { Express } from 'express';
import { HOBNAIL } from './hobnail.js';
import { openLarkpost } from './larkpost.js';
import { PrintShop } from './print-shop.js';
import { Quillmere } from './quillmere.js';
import { SEAMWIDE } from './seamwide.js';
import { sendShoppers } from './shoppers.js';

// The simulated markets and print shops, each a server of its own: npm start -w @kettle/stand-ins. Whoever starts them as
// a child process is told where they are.

const env = (name: string, otherwise: string): string => process.env[name] ?? otherwise;
const token = env('STAND_IN_TOKEN', 'a-shop');
const secret = env('STAND_IN_SECRET', 'a-secret');

const listen = (app: Express, port: number): Promise<string> =>
  new Promise((resolve, reject) => {
    const server = app.listen(port, '127.0.0.1', (error?: Error) => {
      if (error) reject(error);
      else resolve(`http://localhost:${(server.address() as AddressInfo).port}`);
    });
  });

let larkpostAt = '';
let answersTo = env('STAND_IN_ANSWERS', 'http://localhost:4310/answers');
const larkpost = openLarkpost({ token, address: () => larkpostAt });
const quillmere = new Quillmere({ token, secret, answersTo: () => `${answersTo}/ticket` });
const hobnail = new PrintShop(HOBNAIL, { token, secret, answersTo: () => `${answersTo}/print-shop` });
const seamwide = new PrintShop(SEAMWIDE, { token, secret, answersTo: () => `${answersTo}/transfer-shop` });
larkpostAt = await listen(larkpost.app, Number(env('LARKPOST_PORT', '0')));
const quillmereAt = await listen(quillmere.app(), Number(env('QUILLMERE_PORT', '0')));
const hobnailAt = await listen(hobnail.app(), Number(env('HOBNAIL_PORT', '0')));
const seamwideAt = await listen(seamwide.app(), Number(env('SEAMWIDE_PORT', '0')));
console.log(
  `Larkpost Market (simulated) is at ${larkpostAt}, Quillmere Shops (simulated) at ${quillmereAt}, Hobnail Direct Print (simulated) at ${hobnailAt}, Seamwide Transfers (simulated) at ${seamwideAt}`,
);
const seconds = Number(env('STAND_IN_SHOPPERS', '0'));
if (seconds > 0) sendShoppers(larkpost.counter, quillmere, seconds * 1000);
process.send?.({ larkpost: larkpostAt, quillmere: quillmereAt, hobnail: hobnailAt, seamwide: seamwideAt });
process.on('message', (message: { answersTo?: string }) => (answersTo = message.answersTo ?? answersTo));
process.on('disconnect', () => process.exit(0));
