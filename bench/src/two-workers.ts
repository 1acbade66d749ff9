import { spawn, type ChildProcess } from 'node:child_process';
import { createReadStream } from 'node:fs';
import { readdir, readFile } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { emptyDesign } from '@kettle/core/model';
import { artworkPath } from '@kettle/demo';
import { SELLER } from '@kettle/server';
import type { Application } from './application.js';
import { benchTarget } from './bench-target.js';
import { measureOf, median, spreadOf, type Row } from './timing.js';

const WORKER = fileURLToPath(new URL('../../server/dist/worker.js', import.meta.url));
const ROUNDS = 3;
const TICKS_A_SECOND = 100;

/** Seconds of processor time that workers and the processes they started have taken. */
async function cpuOf(workers: readonly ChildProcess[]): Promise<number> {
  const found = new Map<number, { parent: number; ticks: number }>();
  for (const name of await readdir('/proc')) {
    if (!/^\d+$/.test(name)) continue;
    const text = await readFile(`/proc/${name}/stat`, 'utf8').catch(() => '');
    const fields = text.slice(text.lastIndexOf(')') + 2).split(' ');
    if (text)
      found.set(Number(name), {
        parent: Number(fields[1]),
        ticks: Number(fields[11]) + Number(fields[12]) + Number(fields[13]) + Number(fields[14]),
      });
  }
  const roots = new Set(workers.map((one) => one.pid!));
  const belongs = (pid: number): boolean => {
    const one = found.get(pid);
    return roots.has(pid) || (one !== undefined && one.parent > 1 && belongs(one.parent));
  };
  return [...found].filter(([pid]) => belongs(pid)).reduce((sum, [, { ticks }]) => sum + ticks, 0) / TICKS_A_SECOND;
}

/** Twelve targets of one design with one worker process and with two. */
export async function twoWorkers({ serve, folder, rootUrl }: Application): Promise<Row> {
  const [one, two, cores]: [number[], number[], number[]] = [[], [], []];
  for (let round = 0; round < ROUNDS; round++) {
    for (const [workers, seconds] of [
      [1, one],
      [2, two],
    ] as const) {
      const name = `kettle_workers_${round}_${workers}`;
      const server = await serve(name, false);
      const asset = await server.house.assets.takeIn(
        SELLER,
        createReadStream(artworkPath('fog-signal.png')),
        'fog-signal.png',
      );
      const requirementIds: string[] = [];
      for (let i = 0; i < 12; i++) {
        requirementIds.push(
          (await server.house.requirements.add(SELLER.owner, benchTarget(i, 3600 + 20 * i, 4200 + 20 * i))).id,
        );
      }
      const design = await server.house.designs.add(SELLER, {
        ...emptyDesign('Twelve', { width: 304.8, height: 355.6 }),
        targets: requirementIds.map((requirementId) => ({ requirementId })),
        layers: [
          {
            kind: 'picture',
            id: 'a',
            name: 'Lighthouse',
            assetId: asset.id,
            opacity: 1,
            hidden: false,
            place: { x: 152, y: 177, width: 300, height: 350, turn: 0, flipX: false, flipY: false },
          },
        ],
      });
      // One export at a time in each, so that it is processes that are compared.
      const env = { ...process.env, KETTLE_EXPORTERS: '1', KETTLE_DB_URL: rootUrl.replace(/\/kettle$/, `/${name}`) };
      const children = await Promise.all(
        Array.from({ length: workers }, async (_, i) => {
          const child = spawn(process.execPath, [WORKER], {
            env: { ...env, KETTLE_CACHE: join(folder, `${name}-${i}`) },
            stdio: ['ignore', 'pipe', 'inherit'],
          });
          await new Promise((resolve) => child.stdout.once('data', resolve));
          return child;
        }),
      );
      const start = performance.now();
      const before = await cpuOf(children);
      const job = await server.house.outputs.askForPrintFiles(SELLER, design.id, requirementIds);
      while ((await server.house.outputs.job(SELLER, job.id)).state !== 'done')
        await new Promise((resolve) => setTimeout(resolve, 50));
      const took = (performance.now() - start) / 1000;
      seconds.push(took);
      if (workers === 1) cores.push(((await cpuOf(children)) - before) / took);
      for (const child of children) child.kill('SIGKILL');
    }
  }
  const faster = measureOf(one.map((time, i) => time / two[i]));
  const used = median(cores);
  return {
    what: `Twelve targets, two workers against one (${availableParallelism()} cores; one worker alone keeps ${used.toFixed(2)} of them at work, so that ${(availableParallelism() / used).toFixed(2)} × is the limit)`,
    measured: `${median(two).toFixed(1)} s`,
    spread: spreadOf(measureOf(two), 's'),
    against: `one worker: ${median(one).toFixed(1)} s`,
    ratio: `${faster.median.toFixed(2)} × (${faster.least.toFixed(2)} to ${faster.most.toFixed(2)})`,
    budget: '≥ 1.70 ×',
    kept: faster.median >= 1.7,
  };
}
