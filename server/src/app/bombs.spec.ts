import { request } from 'node:http';
import { brotliCompressSync, constants, deflateSync, gzipSync } from 'node:zlib';
import { caller, serverForAll } from '../testing/test-house.js';

const ZEROS = Buffer.alloc(300e6, 0x20);
const FORM = 'application/x-www-form-urlencoded';
const BYTES = 'application/octet-stream';

describe('what unpacks to very much', () => {
  const { server } = serverForAll({ work: false });

  it('is answered with a sentence wherever it is sent, and never by a line that breaks off', async () => {
    const gzip = gzipSync(ZEROS);
    const bombs = {
      gzip,
      // Many of them in a row, so that the line is still busy when the limit is met.
      long: Buffer.concat(Array.from({ length: 40 }, () => gzip)),
      deflate: deflateSync(ZEROS),
      br: brotliCompressSync(ZEROS, { params: { [constants.BROTLI_PARAM_QUALITY]: 1 } }),
    };
    const send = (method: string, path: string, type: string, encoding: keyof typeof bombs) =>
      new Promise<string>((resolve) => {
        const { port } = new URL(server.address);
        const headers = {
          'Content-Type': type,
          'Content-Encoding': encoding === 'long' ? 'gzip' : encoding,
          'Content-Length': bombs[encoding].length,
          'X-Filename': 'a.png',
          'If-Match': '"1"',
        };
        const call = request({ host: '127.0.0.1', port, path, method, headers }, (response) => {
          response.resume().on('end', () => resolve(String(response.statusCode)));
        });
        call.on('error', (error: NodeJS.ErrnoException) => resolve(`cut off: ${error.code}`));
        call.end(bombs[encoding]);
      });
    for (const [method, path, type] of [
      ['POST', '/api/designs', 'application/json'],
      ['PUT', '/api/designs/x', 'application/json'],
      ['POST', '/api/requirements', 'application/json'],
      ['POST', '/answers/ticket', 'application/json'],
      ['POST', `/c/${'x'.repeat(22)}/words`, FORM],
      ['POST', `/i/${'x'.repeat(22)}`, FORM],
      ['POST', '/sign-in', FORM],
      ['POST', '/api/assets', 'image/png'],
      ['POST', '/api/design-files', BYTES],
      ['POST', '/api/music', BYTES],
      ['POST', '/api/fonts', BYTES],
      ['POST', '/api/profiles', BYTES],
      ['POST', '/api/own-blanks', 'application/json'],
      ['POST', '/api/print-runs/x/table', 'text/csv'],
      ['POST', '/api/blank-packs', 'application/zip'],
    ] as const)
      for (const encoding of Object.keys(bombs) as (keyof typeof bombs)[])
        expect(await send(method, path, type, encoding))
          .withContext(`${method} ${path} ${encoding}`)
          .toMatch(/^4\d\d$/);
    // And it still answers others.
    expect((await caller(server.address)('GET', '/api/health')).status).toBe(200);
  });
});
