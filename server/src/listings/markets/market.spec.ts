import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { publishKind } from '../publish.js';
import { ProblemError } from '../../floor/basics/problem-error.js';
import type { PublicationStore } from '../publication-store.js';
import { MarketAnswers, MOST_SKEW, signed } from '../market-answers.js';
import { OutsideLine } from '../../floor/outside/line.js';
import type { CallRecord } from '../../floor/outside/call-store.js';
import { reasonsOf } from './market.js';

describe('the line to a market', () => {
  let server: Server;
  let address = '';
  let answers: ((request: IncomingMessage, response: ServerResponse) => void)[] = [];
  const heard: { method: string; key: string | undefined; token: string | undefined }[] = [];
  const notes: { about: string; key: string | null; status: number | null; answer: string }[] = [];
  const record: CallRecord = ({ about, key }) =>
    Promise.resolve({
      answered: (status, answer) => {
        notes.push({ about, key, status, answer });
        return Promise.resolve();
      },
    });

  beforeAll(async () => {
    server = createServer((request, response) => {
      const { method = '', headers } = request;
      heard.push({ method, key: headers['idempotency-key'] as string | undefined, token: headers.authorization });
      request.resume().on('end', () => answers.shift()!(request, response));
    }).listen(0, '127.0.0.1');
    await new Promise((resolve) => server.once('listening', resolve));
    address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterAll(() => new Promise((resolve) => server.close(resolve)));
  beforeEach(() => {
    answers = [];
    heard.length = notes.length = 0;
  });

  const line = (signal = new AbortController().signal): OutsideLine =>
    new OutsideLine('Larkpost Market', { address, token: 'a-shop', secret: 's' }, record, signal, 1);
  const call = { method: 'POST', path: '/listings', about: 'creates the listing', json: { a: 1 }, key: 'k-1' } as const;
  const says =
    (status: number, body = '{}', headers: Record<string, string> = {}) =>
    (_request: IncomingMessage, response: ServerResponse): void => {
      response.writeHead(status, headers).end(body);
    };

  it('tries again with the same key while a market is busy, down or cut off, and writes down every try', async () => {
    answers = [
      says(429, '', { 'Retry-After': '0' }),
      says(503, '<h1>'),
      (request) => request.socket.destroy(),
      says(201, '{"id":"L1"}'),
    ];
    const reply = await line().call(call);
    expect([reply.status, reply.body['id']]).toEqual([201, 'L1']);
    expect(heard.map(({ key, token }) => [key, token])).toEqual(Array(4).fill(['k-1', 'Bearer a-shop']));
    expect(notes.map(({ status }) => status)).toEqual([429, 503, null, 201]);
    expect(notes.every(({ about, key }) => about === 'creates the listing' && key === 'k-1')).toBeTrue();
  });

  it('waits as long as it is asked to', async () => {
    answers = [says(429, '', { 'Retry-After': '1' }), says(200)];
    const begun = Date.now();
    await line().call(call);
    expect(Date.now() - begun).toBeGreaterThanOrEqual(990);
  });

  it('gives up after some tries, in a sentence', async () => {
    answers = Array.from({ length: 6 }, () => says(503));
    const error = await line()
      .call(call)
      .then(
        () => null,
        (reason: unknown) => reason as ProblemError,
      );
    expect(error).toBeInstanceOf(ProblemError);
    expect([error!.code, error!.message]).toEqual([
      'market-away',
      jasmine.stringContaining('too busy to take this (it answered 503, 6 times)'),
    ]);
    expect(heard.length).toBe(6);
  });

  it('does not try again what was refused, nor where it is not known', async () => {
    answers = [says(422, '{"reasons":[]}'), says(401)];
    expect((await line().call(call)).status).toBe(422);
    await expectAsync(line().call(call)).toBeRejectedWithError(ProblemError, /does not know this shop/);
    expect(heard.length).toBe(2);
  });

  it('stops when it is stopped, and follows nobody elsewhere', async () => {
    const stop = new AbortController();
    answers = [() => stop.abort()];
    await expectAsync(line(stop.signal).call(call)).toBeRejected();
    answers = Array.from({ length: 6 }, () => says(302, '', { Location: 'http://127.0.0.1:1/' }));
    await expectAsync(line().call(call)).toBeRejectedWithError(ProblemError, /did not answer/);
  });

  it('takes reasons as they are said, and nothing else', () => {
    expect(
      reasonsOf([{ field: 'title', text: 'Too long.' }, { text: 3 }, null, 'x', { text: 'y'.repeat(900) }]),
    ).toEqual([
      { field: 'title', text: 'Too long.' },
      { field: '', text: 'y'.repeat(500) },
    ]);
    expect(reasonsOf('no')).toEqual([]);
  });
});

describe('answers of a market', () => {
  const taken: unknown[][] = [];
  const nonces = new Set<string>();
  const store = {
    isNew: (_market: string, nonce: string) => Promise.resolve(!nonces.has(nonce) && Boolean(nonces.add(nonce))),
    forgetNumber: (_market: string, nonce: string) => Promise.resolve(void nonces.delete(nonce)),
    byReference: (reference: string) => Promise.resolve(reference === 'p-1' ? { id: 'p' } : null),
    byRemote: (_ids: string[], remote: string) => Promise.resolve(remote === 'Q-1' ? { id: 'p' } : null),
    answered: (...all: unknown[]) => Promise.resolve(void taken.push(all)),
  } as unknown as PublicationStore;
  const place = { address: '', token: '', secret: 'between us' };
  const places = new Map([
    ['ticket', place],
    ['print-shop', place],
  ] as const);
  const told: unknown[][] = [];
  let away = false;
  const answers = new MarketAnswers(places, store, {
    channelsBy: () => Promise.resolve(['quill']),
    shopTold: (reference) => Promise.resolve(void told.push(['shop', reference])),
    sold: (by, { id }, sale) =>
      away ? Promise.reject(new Error('away')) : Promise.resolve(told.push(['sale', by, id, sale]) > 0),
  });
  const body = (what: object = { listing: 'Q-1', state: 'live', url: 'https://q.example/1' }): Buffer =>
    Buffer.from(JSON.stringify(what));
  let count = 0;
  const headers = (bytes: Buffer, change: { time?: string; secret?: string; nonce?: string } = {}) => {
    const time = change.time ?? new Date().toISOString();
    const nonce = change.nonce ?? `number-${++count}`;
    return { time, nonce, signature: signed(change.secret ?? 'between us', time, nonce, bytes) };
  };
  const code = (promise: Promise<void>): Promise<string> =>
    promise.then(
      () => 'taken',
      (error: unknown) => (error as ProblemError).code,
    );

  it('are taken when they are signed, young and new', async () => {
    const bytes = body();
    const head = headers(bytes);
    expect(await code(answers.take('ticket', head, bytes))).toBe('taken');
    expect(taken).toEqual([
      ['p', jasmine.any(Date), { state: 'live', reasons: [], url: 'https://q.example/1', remoteId: 'Q-1' }],
    ]);
    // The same again changes nothing.
    expect(await code(answers.take('ticket', head, bytes))).toBe('came-before');
    expect(taken.length).toBe(1);
  });

  it('are refused when anything of them is not the market’s', async () => {
    const bytes = body();
    const right = headers(bytes);
    for (const head of [
      headers(bytes, { secret: 'guessed' }),
      { ...right, signature: '' },
      { ...right, signature: right.signature.replace(/.$/, (c) => (c === '0' ? '1' : '0')) },
      { ...right, nonce: 'another-1' },
      { ...right, time: new Date(Date.now() + 1000).toISOString() },
    ])
      expect(await code(answers.take('ticket', head, bytes))).toBe('not-signed');
    expect(await code(answers.take('ticket', right, body({ listing: 'Q-1', state: 'refused' })))).toBe('not-signed');
    expect(await code(answers.take('one-call', headers(bytes, { secret: '' }), bytes))).toBe('not-signed');
  });

  it('are refused when a clock is far off, and forgiven a little', async () => {
    const bytes = body();
    const at = (ms: number): string => new Date(Date.now() + ms).toISOString();
    // Signed, and no object of JSON.
    for (const words of ['just words', '[]', 'null', '{"state":']) {
      const no = Buffer.from(words);
      expect(await code(answers.take('ticket', headers(no), no)))
        .withContext(words)
        .toBe('not-json');
    }
    expect(await code(answers.take('ticket', headers(bytes, { time: at(-MOST_SKEW - 2000) }), bytes))).toBe('too-old');
    expect(await code(answers.take('ticket', headers(bytes, { time: at(MOST_SKEW + 2000) }), bytes))).toBe('too-old');
    expect(await code(answers.take('ticket', headers(bytes, { time: 'yesterday' }), bytes))).toBe('too-old');
    expect(await code(answers.take('ticket', headers(bytes, { time: at(-MOST_SKEW + 5000) }), bytes))).toBe('taken');
  });

  it('are taken when they come again, where they could not be written down the first time', async () => {
    const bytes = body({ sale: 'S-1', reference: 'p-1' });
    const head = headers(bytes);
    away = true;
    await expectAsync(answers.take('ticket', head, bytes)).toBeRejectedWithError('away');
    away = false;
    expect(await code(answers.take('ticket', head, bytes))).toBe('taken');
    expect(told.at(-1)!.slice(0, 3)).toEqual(['sale', 'ticket', 'p']);
    expect(await code(answers.take('ticket', head, bytes))).toBe('came-before');
  });

  it('of a print shop are the name of an order, and nothing else is read of them', async () => {
    const bytes = body({ reference: 'o-1', state: 'yes' });
    expect(await code(answers.take('print-shop', headers(bytes), bytes))).toBe('taken');
    expect(told.at(-1)).toEqual(['shop', 'o-1']);
  });

  it('are understood by our own name for the listing, before the market’s is known here', async () => {
    const bytes = body({ listing: 'Q-99', reference: 'p-1', state: 'live' });
    expect(await code(answers.take('ticket', headers(bytes), bytes))).toBe('taken');
    // So that it can be taken down there, though the worker that sent it never wrote its name down.
    expect(taken.at(-1)![2]).toEqual(jasmine.objectContaining({ remoteId: 'Q-99' }));
  });

  it('say nothing of what is not here', async () => {
    for (const what of [{ listing: 'Q-2', state: 'live' }, { listing: 'Q-1', state: 'sold' }, { state: 'live' }]) {
      const bytes = body(what);
      expect(await code(answers.take('ticket', headers(bytes), bytes))).toBe('no-such-listing');
    }
  });
});

describe('sending a listing', () => {
  it('ends where it was taken down since it was asked for, when it is done again after its worker was killed', async () => {
    const written: unknown[][] = [];
    const publications = {
      get: () =>
        Promise.resolve({ id: 'p', state: 'down', rulesId: 'quill', channel: 'Quillmere', generation: 2, wanted: {} }),
      become: (...all: unknown[]) => Promise.resolve(void written.push(all)),
    } as unknown as PublicationStore;
    const kind = publishKind({
      publications,
      calls: { recordOf: () => ({}) } as never,
      blobs: {} as never,
      markets: new Map([['ticket', { address: 'http://nowhere.example', token: '', secret: '' }]]),
      channelRules: { find: () => Promise.resolve({ by: 'ticket' }) } as never,
    });
    const within = { who: { owner: 'o' }, signal: new AbortController().signal, progress: () => undefined };
    expect(await kind.run({ publicationId: 'p', what: 'publish' } as never, within as never)).toBe('p');
    expect(written).toEqual([]);
  });
});
