import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { encode } from 'fast-png';
import { createLarkpost, judge } from './larkpost.js';
import { readPrintFile, type ReadPrintFile } from './print-file-reader.js';

const product = { width: 400, height: 300, dpi: 300, mustBeClear: true, mostBytes: 1_000_000 };

const file = (change: Partial<ReadPrintFile> = {}): ReadPrintFile => ({
  width: 400,
  height: 300,
  dpiX: 300,
  dpiY: 300,
  channels: 4,
  depth: 8,
  palette: false,
  hasProfile: true,
  clear: 0.5,
  opaqueCorners: false,
  ...change,
});

describe('the simulated marketplace', () => {
  it('accepts a file that is as it wants', () => {
    expect(judge(product, file(), 1000)).toEqual([]);
    expect(judge({ ...product, mustBeClear: false }, file({ clear: 0, opaqueCorners: true }), 1000)).toEqual([]);
  });

  it('names every reason for a refusal, each in a sentence', () => {
    const reason = (change: Partial<ReadPrintFile>, bytes = 1000) => judge(product, file(change), bytes).join(' ');
    expect(reason({ width: 399 })).toContain('The file is 399 × 300 px; this product needs 400 × 300 px.');
    expect(reason({ dpiY: 72 })).toContain('300 × 72 DPI');
    expect(reason({ dpiX: null, dpiY: null })).toContain('no × no DPI');
    expect(reason({ palette: true })).toContain('no palette');
    expect(reason({ depth: 16 })).toContain('8 bits');
    expect(reason({ hasProfile: false })).toContain('no colour profile');
    expect(reason({ clear: 0 })).toContain('printed as a box');
    expect(reason({ opaqueCorners: true })).toContain('All four corners are opaque');
    expect(reason({}, 1_000_001)).toContain('larger than 1 MB');
    expect(judge(product, file({ width: 1, dpiX: 1, hasProfile: false }), 1).length).toBe(3);
  });

  it('accepts 299.9994 DPI as 300, as whole pixels per metre give it', () => {
    expect(judge(product, file({ dpiX: 299.9994, dpiY: 299.9994 }), 1000)).toEqual([]);
  });

  describe('over HTTP', () => {
    let server: Server;
    let address = '';
    beforeAll(async () => {
      server = createLarkpost().listen(0, '127.0.0.1');
      await new Promise((resolve) => server.once('listening', resolve));
      address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    });
    afterAll(() => new Promise((resolve) => server.close(resolve)));
    const send = async (bytes: Uint8Array, to = 'tote') => {
      const response = await fetch(`${address}/products/${to}/print-file`, {
        method: 'POST',
        body: Buffer.from(bytes),
      });
      return { status: response.status, ...((await response.json()) as { accepted: boolean; reasons: string[] }) };
    };

    it('reads the bytes itself and refuses what is not a whole PNG', async () => {
      const png = encode({ width: 20, height: 10, data: new Uint8Array(800).fill(128), channels: 4, depth: 8 });
      const refused = await send(png);
      expect([refused.status, refused.accepted]).toEqual([422, false]);
      expect(refused.reasons[0]).toContain('20 × 10 px');
      expect((await send(png.subarray(0, 40))).reasons).toEqual(['The file is not a PNG, or not a whole one.']);
      expect((await send(Buffer.from('words'))).status).toBe(422);
      expect((await send(png, 'kettle')).status).toBe(404);
      expect(await (await fetch(`${address}/products`)).json()).toEqual(['tee-front', 'tote', 'mug-wrap']);
    });

    it('sees what is clear and what the corners hold', () => {
      const data = new Uint8Array(4 * 4 * 4);
      for (const corner of [0, 3, 12, 15]) data[corner * 4 + 3] = 255;
      const found = readPrintFile(encode({ width: 4, height: 4, data, channels: 4, depth: 8 }));
      expect([found.clear, found.opaqueCorners, found.hasProfile, found.dpiX]).toEqual([0.75, true, false, null]);
      expect(readPrintFile(encode({ width: 2, height: 2, data: new Uint8Array(12), channels: 3, depth: 8 }))).toEqual(
        jasmine.objectContaining({ clear: 0, opaqueCorners: true, channels: 3 }),
      );
    });
  });
});
