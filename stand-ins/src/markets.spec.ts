import { createHmac } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Express } from 'express';
import { encode } from 'fast-png';
import { judgeListing } from './larkpost-listings.js';
import { openLarkpost } from './larkpost.js';
import { sha256 } from './listing-reader.js';
import { Quillmere } from './quillmere.js';

const servers: Server[] = [];
const listen = async (app: Express | Server): Promise<string> => {
  const server = 'listening' in app ? (app as Server).listen(0) : (app as Express).listen(0, '127.0.0.1');
  servers.push(server as Server);
  await new Promise((resolve) => (server as Server).once('listening', resolve));
  return `http://127.0.0.1:${((server as Server).address() as AddressInfo).port}`;
};
const png = (width: number, height: number): Buffer =>
  Buffer.from(encode({ width, height, data: new Uint8Array(width * height * 4).fill(90), channels: 4 }));
const file = (bytes: Buffer, name = 'a.png') => ({
  name,
  type: 'image/png',
  sha256: sha256(bytes),
  base64: bytes.toString('base64'),
});

describe('the markets', () => {
  afterAll(() => servers.forEach((server) => server.close()));

  const print = png(20, 20);
  const listing = (change: object = {}) => ({
    title: 'A shirt for drizzle',
    description: 'For those who measure what falls, every morning.',
    tags: ['rain', 'shirt', 'weather'],
    currency: 'GBP',
    items: [{ name: 'Tee', product: 'T-shirt', price: 1995, colours: ['Chalk'], printFiles: [file(print)] }],
    pictures: [file(png(900, 900))],
    ...change,
  });

  it('one judges everything at once by rules of its own, and says each reason', () => {
    expect(judgeListing(listing())).toEqual([]);
    const why = (change: object): string =>
      judgeListing(listing(change))
        .map(({ text }) => text)
        .join(' ');
    expect(why({ title: 'Rain' })).toContain('Titles here are 10 to 80');
    expect(why({ tags: ['rain'] })).toContain('We need 3 to 13 tags.');
    expect(why({ description: 'The cheapest shirt that measures all of the rain.' })).toContain('“cheapest”');
    expect(why({ currency: 'EUR' })).toContain('Prices are in GBP.');
    expect(why({ items: [] })).toContain('nothing for sale');
    const [item] = listing().items;
    expect(why({ items: [{ ...item, price: 299 }] })).toContain('below our minimum');
    expect(why({ items: [{ ...item, price: 19.95 }] })).toContain('no price');
    expect(why({ items: [{ ...item, printFiles: [{ ...file(print), sha256: '00' }] }] })).toContain(
      'did not arrive whole',
    );
    expect(why({ items: [{ ...item, printFiles: [file(Buffer.from('words'))] }] })).toContain('not a PNG we can read');
    expect(why({ pictures: [file(png(500, 900))] })).toContain('is too small');
    expect(why({ pictures: [file(Buffer.from('words'))] })).toContain('is not a picture');
  });

  it('one makes a listing once, however often it is asked with the same key', async () => {
    const { app, counter } = openLarkpost({ token: 'us' });
    const address = await listen(app);
    const send = async (method: string, path: string, body: object, key = 'k', token = 'us') => {
      const response = await fetch(`${address}${path}`, {
        method,
        headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}`, 'Idempotency-Key': key },
        body: JSON.stringify(body),
      });
      return { status: response.status, body: (await response.json().catch(() => ({}))) as { id?: string } };
    };
    expect((await send('POST', '/listings', listing(), 'k', 'stranger')).status).toBe(401);
    const first = await send('POST', '/listings', listing());
    expect([first.status, first.body.id]).toEqual([201, 'L1']);
    expect(await send('POST', '/listings', listing())).toEqual(first);
    const other = await send('POST', '/listings', listing({ title: 'Another shirt for drizzle' }));
    expect([other.status, other.body.id]).toEqual([409, 'L1']);
    expect(counter.listings.size).toBe(1);
    expect((await send('PUT', '/listings/L1', listing({ title: 'Another shirt for drizzle' }))).status).toBe(200);
    expect(counter.listings.get('L1')).toEqual(
      jasmine.objectContaining({ title: 'Another shirt for drizzle', changes: 1 }),
    );
    // A refusal is not remembered: mended, the same key is good.
    expect((await send('POST', '/listings', listing({ tags: [] }), 'k2')).status).toBe(422);
    expect((await send('POST', '/listings', listing(), 'k2')).status).toBe(201);
    expect((await send('DELETE', '/listings/L1', {})).status).toBe(204);
    expect((await send('PUT', '/listings/L1', listing())).status).toBe(404);
  });

  it('the other gives a ticket, takes pieces, looks, and answers by a signed call', async () => {
    const told: { headers: Record<string, unknown>; body: string }[] = [];
    let heard: () => void;
    const hears = new Promise<void>((resolve) => (heard = resolve));
    let busy = true;
    const shop = await listen(
      createServer((request, response) => {
        let body = '';
        request.on('data', (piece) => (body += String(piece)));
        request.on('end', () => {
          // It is told again when it did not hear.
          response.writeHead(busy ? 503 : 204).end();
          if (!busy) {
            told.push({ headers: request.headers, body });
            heard();
          }
          busy = false;
        });
      }),
    );
    const quillmere = new Quillmere({ token: 'us', secret: 'shared', answersTo: () => shop, looksFor: 1 });
    const address = await listen(quillmere.app());
    const picture = png(1000, 1250);
    const send = async (method: string, path: string, body: object | Buffer) => {
      const response = await fetch(`${address}${path}`, {
        method,
        headers: {
          Authorization: 'Bearer us',
          'Idempotency-Key': 'ref',
          'Content-Type': Buffer.isBuffer(body) ? 'application/octet-stream' : 'application/json',
        },
        body: (Buffer.isBuffer(body) ? body : JSON.stringify(body)) as string,
      });
      return { status: response.status, body: (await response.json().catch(() => ({}))) as Record<string, unknown> };
    };
    const asked = {
      reference: 'shirt',
      text: { title: 'A shirt', description: 'x'.repeat(90), tags: ['rain'] },
      currency: 'EUR',
      offers: [{ price: 2195 }],
      pictures: [sha256(picture), sha256(picture)],
      pieces: [{ name: 'a', sha256: sha256(picture), bytes: picture.length }],
    };
    expect((await send('POST', '/tickets', { ...asked, text: { title: 'A' } })).status).toBe(422);
    const { body: given } = await send('POST', '/tickets', asked);
    const ticket = given['ticket'] as string;
    expect(given['missing']).toEqual([sha256(picture)]);
    expect((await send('POST', `/tickets/${ticket}/commit`, {})).status).toBe(422);
    expect((await send('PUT', `/tickets/${ticket}/pieces/${sha256(picture)}`, Buffer.from('other'))).status).toBe(400);
    expect((await send('PUT', `/tickets/${ticket}/pieces/${sha256(picture)}`, picture)).status).toBe(204);
    // The ticket that is asked for again is the same one, and knows what it has.
    expect((await send('POST', '/tickets', asked)).body).toEqual({ ticket, missing: [] });
    const done = await send('POST', `/tickets/${ticket}/commit`, {});
    // What it says then is how the listing stands, which may be looked at already.
    const again = await send('POST', `/tickets/${ticket}/commit`, {});
    expect([again.status, again.body['listing'], again.body['reference']]).toEqual([
      202,
      done.body['listing'],
      'shirt',
    ]);
    expect(quillmere.listings.size).toBe(1);
    await hears;
    const [{ headers, body }] = told;
    expect(JSON.parse(body)).toEqual(jasmine.objectContaining({ listing: 'Q-1', state: 'live', reasons: [] }));
    expect(headers['x-answer-signature']).toBe(
      createHmac('sha256', 'shared')
        .update(`${String(headers['x-answer-time'])}.${String(headers['x-answer-number'])}.${body}`)
        .digest('hex'),
    );
    expect(told.length).toBe(1);
    expect((await send('POST', '/listings/Q-1/withdraw', {})).status).toBe(200);
    expect(quillmere.listings.get('Q-1')!.state).toBe('withdrawn');
  });
});
