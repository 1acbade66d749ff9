import { execFileSync, spawn } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';

// npm run measure -- [start] [test] [--busy N]
// Clones what is committed into an empty folder and measures what a newcomer waits for: `start`, from the first command
// until every picture of the job sheet has come, and again on what is there then; `test`, all of bin/test and once more.
// Packages come from npm's own cache where it has them. With --busy N as many programs compute all the while.

const ROOT = fileURLToPath(new URL('..', import.meta.url));
const given = process.argv.slice(2);
const busy = given.includes('--busy') ? Number(given[given.indexOf('--busy') + 1]) : 0;
const wanted = ['start', 'test'].filter((name) => given.includes(name));

const folder = await mkdtemp(join(tmpdir(), 'kettle-measure-'));
const clone = join(folder, 'kettle-sheet');
const others = Array.from({ length: busy }, () => spawn(process.execPath, ['-e', 'for (;;);'], { stdio: 'ignore' }));
const said = (what, value) => console.log(`${what.padEnd(52)} ${value}`);
const seconds = (from) => `${((performance.now() - from) / 1000).toFixed(1)} s`;

/** Ids of a process and of all that descend from it. */
function familyOf(pid) {
  const children = new Map();
  for (const name of readdirSync('/proc').filter((one) => /^\d+$/.test(one))) {
    try {
      const stat = readFileSync(`/proc/${name}/stat`, 'utf8');
      const parent = Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[1]);
      children.set(parent, [...(children.get(parent) ?? []), Number(name)]);
    } catch {
      // It has ended meanwhile.
    }
  }
  const all = [pid];
  for (const one of all) all.push(...(children.get(one) ?? []));
  return all;
}

/** Memory of a process that is its own, and its share of what it has in common with others, bytes. */
function memoryOf(pid) {
  try {
    return 1024 * Number(/^Pss: +(\d+)/m.exec(readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8'))[1]);
  } catch {
    return 0;
  }
}

const freePort = () =>
  new Promise((done) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => done(port));
    });
  });

/** Asks until it is answered, for as long as the process lives. */
async function answered(url, child) {
  for (;;) {
    if (child.exitCode !== null) throw new Error('It ended before it answered.');
    const response = await fetch(url).catch(() => null);
    if (response?.ok) return response;
    await pause(50);
  }
}

async function start(name) {
  const port = await freePort();
  const from = performance.now();
  const child = spawn('bin/start', {
    cwd: clone,
    env: { ...process.env, KETTLE_PORT: String(port) },
    stdio: ['ignore', 'inherit', 'inherit'],
    detached: true,
  });
  let peak = 0;
  const watch = setInterval(() => {
    peak = Math.max(
      peak,
      familyOf(child.pid).reduce((sum, pid) => sum + memoryOf(pid), 0),
    );
  }, 250);
  const address = `http://127.0.0.1:${port}`;
  await answered(`${address}/`, child);
  said(`${name}: the page answers after`, seconds(from));
  const { rows } = await (await answered(`${address}/api/sheet`, child)).json();
  const strip = ({ revision, cells }) =>
    `strip?r=${revision}-${cells.map((cell) => cell.miniature.slice(0, 3)).join('')}`;
  await Promise.all(
    rows.flatMap((row) =>
      [`miniature?size=160&r=${row.revision}`, strip(row)].map(async (picture) =>
        (await answered(`${address}/api/designs/${row.designId}/${picture}`, child)).arrayBuffer(),
      ),
    ),
  );
  said(`${name}: all pictures of ${rows.length} designs are there after`, seconds(from));
  clearInterval(watch);
  said(`${name}: most memory until then`, `${Math.round(peak / 1e6)} MB`);
  process.kill(-child.pid, 'SIGINT');
  await new Promise((done) => child.once('close', done));
}

async function test(name) {
  const from = performance.now();
  const child = spawn('bin/test', { cwd: clone, stdio: ['ignore', 'pipe', 'inherit'] });
  let last = '';
  for await (const piece of child.stdout) last = (last + piece).slice(-2000);
  said(`${name}: bin/test`, `${seconds(from)}, ${last.trim().split('\n').at(-1)}`);
}

const megabytes = (path) =>
  Math.round(Number(execFileSync('du', ['-sk', path], { encoding: 'utf8' }).split('\t')[0]) / 1000);

try {
  execFileSync('git', ['clone', '-q', ROOT, clone]);
  // The checks that lie beside the checkout are part of its tests.
  if (existsSync(join(ROOT, '../shared'))) execFileSync('ln', ['-s', join(ROOT, '../shared'), join(folder, 'shared')]);
  said('other programs that compute all the while', busy);
  if (wanted.includes('start')) {
    await start('first start');
    said('installed packages', `${megabytes(join(clone, 'node_modules'))} MB`);
    await start('second start');
  }
  if (wanted.includes('test')) {
    await test(wanted.includes('start') ? 'after a start' : 'fresh clone');
    await test('prepared clone');
  }
} finally {
  for (const one of others) one.kill('SIGKILL');
  await rm(folder, { recursive: true, force: true });
}
