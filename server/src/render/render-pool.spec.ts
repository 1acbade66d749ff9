import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { caller, freshFolder, smallDesign, smallTee, testServer, until } from '../testing/test-house.js';
import { RenderPool, startRenderProcess } from './render-pool.js';
import type { TaskReply } from '../floor/processes/process-pool.js';

describe('a drawing process', () => {
  it('cannot fill more memory than it may, and its end is heard', async () => {
    const path = join(await freshFolder(), 'wide.png');
    await writeFile(
      path,
      await sharp({ create: { width: 12_000, height: 9_000, channels: 3, background: '#234' } })
        .png({ compressionLevel: 1 })
        .toBuffer(),
    );
    const tried = (mostMemory: number) =>
      new Promise<string>((resolve) => {
        const child = startRenderProcess({ mostMemory });
        child.once('exit', () => resolve('ended'));
        child.on('error', () => undefined);
        child.on('message', (message: TaskReply) => {
          resolve(message.kind);
          child.kill('SIGKILL');
        });
        child.send({ task: 'inspect', input: { path } });
      });
    // 108 million pixels of four bytes are 432 MB: not to be had under 300, and done under 3,000.
    expect(['ended', 'failed', 'refused']).toContain(await tried(300e6));
    expect(await tried(3e9)).toBe('done');
  });

  it('is not given what nobody waits for any more: browsers that have left hold nobody up', async () => {
    const server = await testServer();
    try {
      const call = caller(server.address);
      const picture = (hex: string) =>
        Buffer.from(
          `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="9" height="9" fill="${hex}"/></svg>`,
        );
      const ids = await Promise.all(
        Array.from(
          { length: 24 },
          async (_, i) =>
            (await call('POST', '/api/assets', picture(`#0000${10 + i}`), { 'X-Filename': 'a.svg' })).body.id,
        ),
      );
      const { view } = server.house.pools;
      // Whoever draws what is looked at has something in hand, both of them.
      const held = await sharp({ create: { width: 5000, height: 5000, channels: 3, background: '#234' } })
        .png()
        .toBuffer();
      const path = join(await freshFolder(), 'held.png');
      await writeFile(path, held);
      const busy = [1, 2].map((n) =>
        view.run('rendition', { sha256: 'a'.repeat(64), path, size: 2048, out: `${path}.${n}` }),
      );
      const run = spyOn(view, 'run').and.callThrough();
      const left = new AbortController();
      const gone = ids
        .slice(1)
        .map((id) =>
          fetch(`${server.address}/api/assets/${id}/rendition?size=512`, { signal: left.signal }).catch(() => null),
        );
      await until(
        async () => run.calls.count(),
        (n) => n === gone.length,
      );
      left.abort();
      await Promise.all(gone);
      const settled = await Promise.all(
        run.calls.all().map(({ returnValue }) =>
          (returnValue as Promise<unknown>).then(
            () => 'drawn',
            (error: Error) => error.message,
          ),
        ),
      );
      expect(settled.filter((one) => one === 'drawn').length).toBeLessThanOrEqual(2);
      expect((await fetch(`${server.address}/api/assets/${ids[0]}/rendition?size=512`)).status).toBe(200);
      // And one of those that were left is made for whoever comes for it.
      expect((await fetch(`${server.address}/api/assets/${ids[5]}/rendition?size=512`)).status).toBe(200);
      await Promise.all(busy);
    } finally {
      await server.stop();
    }
  });

  it('refuses with a sentence when very much waits already', async () => {
    const pool = new RenderPool(1);
    try {
      const asked = Array.from({ length: 3002 }, () =>
        pool.run('checkFont', { path: '/none' }).catch((error: Error) => error.message),
      );
      expect(await asked.at(-1)).toContain('Very much waits to be drawn just now');
    } finally {
      pool.close();
    }
  });

  it('of one lane never keeps another lane waiting', async () => {
    const server = await testServer();
    const call = caller(server.address);
    try {
      const requirement = (await call('POST', '/api/requirements', smallTee())).body.id;
      const asset = (
        await call(
          'POST',
          '/api/assets',
          Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="9" height="9"/></svg>'),
          { 'X-Filename': 'a.svg' },
        )
      ).body.id;
      const { id } = (await call('POST', '/api/designs', smallDesign(asset, [requirement]))).body;
      // The lane for what comes in is held up by a process that is stopped: what people look at and type goes on.
      const { intake } = server.house.pools;
      const noise = await sharp({
        create: {
          width: 1500,
          height: 1500,
          channels: 3,
          background: '#000',
          noise: { type: 'gaussian', mean: 128, sigma: 40 },
        },
      })
        .png({ compressionLevel: 1 })
        .toBuffer();
      await until(
        async () => intake.children.length,
        (count) => count > 0,
      );
      for (const pid of intake.children) process.kill(pid, 'SIGSTOP');
      let taken = false;
      const held = call('POST', '/api/assets', noise, { 'X-Filename': 'held.png' }).then((answer) => {
        taken = true;
        return answer;
      });
      expect((await fetch(`${server.address}/api/designs/${id}/miniature?requirement=${requirement}`)).status).toBe(
        200,
      );
      expect(
        (
          await call('POST', '/api/lettering', {
            text: 'Fog',
            fontId: 'anton-latin-400',
            settings: { spacing: 0, lineSpacing: 110, align: 'middle', bend: 0 },
          })
        ).status,
      ).toBe(200);
      expect((await call('GET', '/api/sheet')).status).toBe(200);
      expect(taken).toBeFalse();
      for (const pid of intake.children) process.kill(pid, 'SIGCONT');
      expect((await held).status).toBe(201);
    } finally {
      await server.stop();
    }
  });

  it('is ended when it computes for longer than it may, and not when the machine has other work', async () => {
    const folder = await freshFolder();
    const [large, small] = [join(folder, 'large.png'), join(folder, 'small.png')];
    const noise = (width: number) =>
      sharp({
        create: { width, height: width, channels: 3, background: '#000', noise: { type: 'gaussian', sigma: 40 } },
      })
        .png({ compressionLevel: 1 })
        .toBuffer();
    await writeFile(large, await noise(3500));
    await writeFile(small, await noise(20));
    const impatient = new RenderPool(1, { most: 300 });
    const patient = new RenderPool(1, { most: 3_000 });
    try {
      await expectAsync(impatient.run('inspect', { path: large })).toBeRejectedWith(
        jasmine.objectContaining({ status: 422, code: 'too-slow' }),
      );
      const drawing = patient.run('inspect', { path: small });
      const [pid] = patient.children;
      process.kill(pid, 'SIGSTOP');
      const stopped = performance.now();
      await until(
        async () => performance.now() - stopped,
        (milliseconds) => milliseconds > 4_000,
      );
      process.kill(pid, 'SIGCONT');
      expect((await drawing).facts.width).toBe(20);
      expect(patient.children).toEqual([pid]);
    } finally {
      impatient.close();
      patient.close();
    }
  });
});
