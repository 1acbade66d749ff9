import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join, relative } from 'node:path';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';

// node scripts/specs.mjs [WORD …]: the specifications that run in Node.js, in as many processes as there are cores, two at
// most; with words, those whose file is called so. What runs together follows from how long each file took last time.
// Jasmine's own way to do it would put the specifications of a file in any order, and many tell one story.

const ROOT = fileURLToPath(new URL('..', import.meta.url));
const TIMES = join(ROOT, 'var/test/spec-times.json');
// Three on two cores were no quicker.
const PROCESSES = Math.min(2, availableParallelism());

const words = process.argv.slice(2);
const files = ['core', 'contract', 'server', 'stand-ins']
  .flatMap((name) =>
    readdirSync(join(ROOT, name, 'dist'), { recursive: true })
      .filter((file) => file.endsWith('.spec.js'))
      .map((file) => join(name, 'dist', file)),
  )
  .filter((file) => !words.length || words.some((word) => file.includes(word)));
const times = { ...readJson(join(ROOT, 'scripts/spec-times.json')), ...readJson(TIMES) };

function readJson(path) {
  return existsSync(path) ? JSON.parse(readFileSync(path, 'utf8')) : {};
}

/** Shares files out, the longest first, each to whoever has least to do. */
function shared(all, count) {
  const hands = Array.from({ length: count }, () => ({ files: [], ms: 0 }));
  for (const file of [...all].sort((a, b) => weight(b) - weight(a))) {
    const hand = hands.reduce((least, one) => (one.ms < least.ms ? one : least));
    hand.files.push(file);
    hand.ms += weight(file);
  }
  return hands.filter((hand) => hand.files.length).sort((a, b) => b.ms - a.ms);
}
const weight = (file) => times[file] ?? statSync(join(ROOT, file)).size / 10;

const results = { passed: 0, failed: 0, times: {}, failures: [] };
async function run({ files: own }, number) {
  const child = spawn(
    process.execPath,
    [join(ROOT, 'node_modules/jasmine/bin/jasmine.js'), '--config=jasmine.json', ...own],
    {
      cwd: ROOT,
      stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
    },
  );
  let told = null;
  child.on('message', (message) => {
    told = message;
  });
  for await (const line of createInterface({ input: child.stdout })) if (line) console.log(`${number}| ${line}`);
  const code = await new Promise((done) => (child.exitCode === null ? child.once('exit', done) : done(child.exitCode)));
  if (!told || (code !== 0 && !told.failures.length)) {
    results.failed++;
    results.failures.push(`process ${number} ended with ${code ?? child.signalCode} before it was through`);
  }
  results.passed += told?.passed ?? 0;
  results.failed += told?.failures.length ?? 0;
  results.failures.push(...(told?.failures ?? []));
  Object.assign(results.times, told?.times);
}

// Those with a database begin at once. The others need nothing, so that they come in small pieces at the end: whoever
// is through first takes the next.
const needsNothing = (file) => /^(?:core|contract)\//.test(file);
const waiting = [
  ...shared(
    files.filter((file) => !needsNothing(file)),
    PROCESSES,
  ),
  ...shared(files.filter(needsNothing), 2 * PROCESSES),
];
let begun = 0;
await Promise.all(
  Array.from({ length: PROCESSES }, async () => {
    for (let next = waiting.shift(); next; next = waiting.shift()) await run(next, ++begun);
  }),
);
mkdirSync(join(ROOT, 'var/test'), { recursive: true });
writeFileSync(TIMES, JSON.stringify({ ...readJson(TIMES), ...results.times }, null, 1));
const slow = Object.entries(results.times).sort((a, b) => b[1] - a[1]);
console.log(
  `slowest files: ${slow
    .slice(0, 8)
    .map(([file, ms]) => `${relative('.', file)} ${(ms / 1000).toFixed(1)} s`)
    .join(', ')}`,
);
for (const failure of results.failures) console.log(`FAILED: ${failure}`);
console.log(`node specs passed ${results.passed}\nnode specs failed ${results.failed}`);
process.exit(results.failed || !results.passed ? 1 : 0);
