import { spawn } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';

// npm run patience [-- PROGRAMS]: walks the journey of the README, from the first start to a listing, a client's yes and a
// clip, in the real browser, while as many other programs compute (12). Nothing is measured against a clock: it is to
// end well, and everything that the page says on the way is to be true.

const ROOT = fileURLToPath(new URL('..', import.meta.url));
const PROGRAMS = Number(process.argv[2] ?? 12);
const folder = await mkdtemp(join(tmpdir(), 'kettle-patience-'));
const begun = performance.now();
const say = (what) => console.log(`${((performance.now() - begun) / 1000).toFixed(0).padStart(5)} s  ${what}`);

// Each in a session of its own: Linux weighs sessions against each other, and all of one would count as one program.
const busy = Array.from({ length: PROGRAMS }, () =>
  spawn(process.execPath, ['-e', 'for (;;);'], { stdio: 'ignore', detached: true }),
);
say(`${PROGRAMS} programs compute.`);
const app = spawn(join(ROOT, 'bin/start'), {
  cwd: ROOT,
  env: { ...process.env, KETTLE_VAR: folder, KETTLE_PORT: '0', STAND_IN_SHOPPERS: '0' },
  stdio: ['ignore', 'pipe', 'inherit'],
  detached: true,
});
const ended = new Promise((resolve) => app.once('exit', resolve));
for (const signal of ['SIGINT', 'SIGTERM'])
  process.once(signal, () => {
    for (const one of busy) one.kill('SIGKILL');
    if (app.exitCode === null) process.kill(-app.pid, 'SIGTERM');
    process.exit(1);
  });
let code = 1;
try {
  const address = await Promise.race([
    (async () => {
      for await (const line of createInterface({ input: app.stdout })) {
        say(line);
        const found = /is at (http:\S+)/.exec(line);
        if (found) return found[1];
      }
    })(),
    ended.then(() => undefined),
  ]);
  if (!address) throw new Error('The application ended before it was there.');
  app.stdout.resume();
  const walk = spawn('npx', ['playwright', 'test'], {
    cwd: join(ROOT, 'e2e'),
    env: { ...process.env, KETTLE_WALK: address },
    stdio: 'inherit',
  });
  code = await new Promise((resolve) => walk.once('exit', resolve));
  say(code === 0 ? 'The walk ended well.' : 'The walk did not end well.');
} catch (error) {
  console.error(error.message);
} finally {
  for (const one of busy) one.kill('SIGKILL');
  if (app.exitCode === null) process.kill(-app.pid, 'SIGTERM');
  await ended;
  await rm(folder, { recursive: true, force: true });
}
process.exitCode = code;
