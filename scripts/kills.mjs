import { Buffer } from 'node:buffer';
import { spawn } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';

// npm run kills [-- TIMES]: saves designs and asks for print files, kills the application or its database in the middle, as
// often as is said (60), and looks each time whether everything that was acknowledged is there, and whether
// everything that was asked for is made in the end.

const ROOT = fileURLToPath(new URL('..', import.meta.url));
const TIMES = Number(process.argv[2] ?? 60);
const folder = await mkdtemp(join(tmpdir(), 'kettle-kills-'));
const DESIGNS = 3;

/** The application, once it answers. */
async function start() {
  const child = spawn(process.execPath, [join(ROOT, 'server/dist/start.js'), '--empty'], {
    env: { PATH: process.env.PATH, KETTLE_VAR: folder, KETTLE_PORT: '0', STAND_IN_SHOPPERS: '0' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  for await (const line of createInterface({ input: child.stdout })) {
    const found = /is at (http:\S+)/.exec(line);
    if (found) {
      child.stdout.resume();
      return { child, address: found[1] };
    }
  }
  throw new Error('The application ended before it was there.');
}

/** @returns status and body; status 0 when nobody answered */
async function call(address, method, path, body, headers = {}) {
  try {
    const response = await fetch(address + path, {
      method,
      headers: { ...(body ? { 'Content-Type': 'application/json' } : {}), ...headers },
      body: body && (typeof body === 'string' || body instanceof Buffer ? body : JSON.stringify(body)),
    });
    const text = await response.text();
    return { status: response.status, body: text ? JSON.parse(text) : null };
  } catch {
    return { status: 0, body: null };
  }
}

let { child, address } = await start();
const art = Buffer.from(
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><circle cx="4.5" cy="4.5" r="4.5" fill="#f2bd4b"/></svg>',
);
const asset = await call(address, 'POST', '/api/assets', art, {
  'Content-Type': 'image/svg+xml',
  'X-Filename': 'disc.svg',
});
const [requirement] = (await call(address, 'GET', '/api/requirements')).body;
const layer = {
  kind: 'picture',
  id: 'disc',
  name: 'Disc',
  assetId: asset.body.id,
  opacity: 1,
  hidden: false,
  place: { x: 170, y: 120, width: 100, height: 100, turn: 0, flipX: false, flipY: false },
};
const documentOf = (name) => ({
  version: 1,
  name,
  field: { width: 355.6, height: 406.4 },
  layers: [layer],
  targets: [{ requirementId: requirement.id }],
});
const kept = [];
for (let i = 0; i < DESIGNS; i++) {
  const made = await call(address, 'POST', '/api/designs', documentOf(`Design ${i}`));
  if (made.status !== 201) throw new Error(`No design could be made: ${JSON.stringify(made)}`);
  kept.push({ id: made.body.id, revision: made.body.revision, name: `Design ${i}`, next: null });
}
const jobs = [];
let [saves, lost, wrong] = [0, 0, 0];

for (let n = 1; n <= TIMES; n++) {
  let isOver = false;
  const work = kept.map(async (design, i) => {
    for (let k = 0; !isOver; k++) {
      design.next = `Design ${i}, ${n}.${k}`;
      const { status, body } = await call(address, 'PUT', `/api/designs/${design.id}`, documentOf(design.next), {
        'If-Match': `"${design.revision}"`,
      });
      if (status === 200) {
        saves++;
        Object.assign(design, { revision: body.revision, name: design.next, next: null });
      } else if (status !== 0 && status !== 503 && status !== 412) wrong++;
      if (status !== 200) break;
    }
  });
  const asked = call(address, 'POST', `/api/designs/${kept[n % DESIGNS].id}/print-files`, {
    requirementIds: [requirement.id],
  });
  await new Promise((resolve) => setTimeout(resolve, 150 + ((n * 397) % 1500)));
  // Every third time it is the database that ends.
  if (n % 3 === 0) {
    const pid = Number(await readFile(join(folder, 'empty/mariadb/pid'), 'utf8').catch(() => 0));
    if (pid) process.kill(pid, 'SIGKILL');
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  child.kill('SIGKILL');
  isOver = true;
  await Promise.all(work);
  const { status, body } = await asked;
  if (status === 202) jobs.push(body.jobId);
  ({ child, address } = await start());
  for (const design of kept) {
    const found = (await call(address, 'GET', `/api/designs/${design.id}`)).body;
    const { revision, document } = found;
    // One that was under way may have come through: then it is the next, and whole.
    const isNext = revision === design.revision + 1 && document.name === design.next;
    if (!(revision === design.revision && document.name === design.name) && !isNext) {
      lost++;
      console.log(
        `kill ${n}: ${design.name} at ${design.revision} was acknowledged; ${document.name} at ${revision} is there`,
      );
    }
    Object.assign(design, { revision, name: document.name, next: null });
  }
}

// Whatever was asked for is made in the end.
let unmade = 0;
for (const id of jobs)
  for (;;) {
    const { body } = await call(address, 'GET', `/api/jobs/${id}`);
    if (body && !['queued', 'running'].includes(body.state)) {
      if (body.state !== 'done') {
        unmade++;
        console.log(`run ${id}: ${body.state} ${body.message}`);
      }
      break;
    }
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
child.kill('SIGTERM');
await new Promise((resolve) => child.once('exit', resolve));
await rm(folder, { recursive: true, force: true });
console.log(
  `${TIMES} kills: ${saves} saves were acknowledged, ${lost} lost; ${jobs.length} runs were asked for, ${unmade} not made; ${wrong} answers that should not be.`,
);
process.exitCode = lost || unmade || wrong ? 1 : 0;
