import { readFile } from 'node:fs/promises';
import type { Treated } from '@kettle/core/treatments';
import { treatedFile } from '@kettle/server';

// Treats pictures in a process of its own and tells how long each took and its peak memory in KB. What to treat is in
// the JSON file it is given.

const { jobs } = JSON.parse(await readFile(process.argv[2], 'utf8')) as {
  jobs: { name: string; path: string; treated: Treated }[];
};
const times: number[] = [];
for (const { name, path, treated } of jobs) {
  const start = performance.now();
  await treatedFile(name, path, treated);
  times.push(performance.now() - start);
}
const peak = /VmHWM:\s+(\d+)/.exec(await readFile('/proc/self/status', 'utf8'))![1];
console.log(JSON.stringify({ times, peak: Number(peak) }));
