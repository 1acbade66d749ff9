#!/usr/bin/env node
// npm run mutate [-- WORDS …]: breaks one line of the code at a time and runs the specs that should notice.
// Prints what no spec noticed.
// A mutant is a place, what stands there (whatever space is between its words), and what is put in its place;
// `scripts/mutants.mjs` lists them. What runs in Node.js is broken where it is built, the page in its sources.

import { spawn } from 'node:child_process';
import { translated } from './build.mjs';
import { readFile, writeFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { MUTANTS } from './mutants.mjs';

const ROOT = fileURLToPath(new URL('..', import.meta.url));
/** Longest that specs may take: no machine is that busy. */
const MOST_MS = 900_000;

/** True when the specs fail, or do not end: either way somebody notices. */
function noticed(mutant) {
  const [program, args] = mutant.web
    ? [process.execPath, ['web/angular.mjs', 'test', `include=${mutant.spec}`]]
    : [
        process.execPath,
        ['node_modules/jasmine/bin/jasmine.js', '--config=jasmine.json', '--fail-fast', ...mutant.spec.split(' ')],
      ];
  return new Promise((resolve) => {
    const child = spawn(program, args, { cwd: ROOT, stdio: ['ignore', 'pipe', 'pipe'], detached: true });
    let text = '';
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (piece) => {
        text += piece;
      });
    const end = () => {
      try {
        process.kill(-child.pid, 'SIGKILL');
      } catch {
        /* It has ended already. */
      }
    };
    const timer = setTimeout(end, MOST_MS);
    child.once('exit', (code) => {
      clearTimeout(timer);
      end();
      resolve({ fails: code !== 0, ran: code !== 0 || /[1-9]\d* specs|karma passed [1-9]/.test(text) });
    });
  });
}

const escape = (word) => word.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

const words = process.argv.slice(2);
const textOf = (mutant) => `${mutant.of} ${mutant.file} ${mutant.says}`;
const chosen = MUTANTS.filter((mutant) => !words.length || words.some((word) => textOf(mutant).includes(word)));
const alive = [];
let tried = 0;
for (const mutant of chosen) {
  const source = `${ROOT}${mutant.file}`;
  const text = await readFile(source, 'utf8');
  const place = new RegExp(mutant.from.trim().split(/\s+/).map(escape).join('\\s*'), 'g');
  const times = text.match(place)?.length ?? 0;
  if (times !== 1) {
    alive.push({ ...mutant, why: `its place is there ${times} times: the list is out of date` });
    continue;
  }
  const broken = text.replace(place, () => mutant.to);
  const path = mutant.web ? source : source.replace('/src/', '/dist/').replace(/ts$/, 'js');
  const fault = await (mutant.web ? broken : translated(broken).catch(() => null));
  if (fault === null) {
    alive.push({ ...mutant, why: 'what it makes is no program: the list is out of date' });
    continue;
  }
  const before = await readFile(path, 'utf8');
  await writeFile(path, fault);
  try {
    const { fails, ran } = await noticed(mutant);
    tried++;
    if (!fails) alive.push({ ...mutant, why: ran ? 'no spec noticed' : 'its specs were not run' });
    process.stdout.write(fails ? '.' : 'A');
  } finally {
    await writeFile(path, before);
  }
}
console.log(
  `\n\n${tried} mutants tried, ${tried - alive.filter((one) => one.why === 'no spec noticed').length} noticed.`,
);
for (const { of, file, says, why } of alive) console.log(`- ${of}: ${says} (${file}): ${why}`);
process.exit(alive.length ? 1 : 0);
