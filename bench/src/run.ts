import { availableParallelism, totalmem } from 'node:os';
import { PARTS } from './parts.js';
import { busyShare, tooBusy } from './quiet.js';

// npm run bench [-- PART …]: prints the table of docs/performance.md, or parts of it. Every figure stands beside its
// baseline from the same run.

const wanted = process.argv.slice(2);
const unknown = wanted.filter((name) => !Object.hasOwn(PARTS, name));
if (unknown.length) {
  console.error(
    `There is no part “${unknown[0]}”. Parts are ${Object.keys(PARTS).join(', ')}; without a name all are measured.`,
  );
  process.exit(2);
}
console.log(
  `Measured on ${new Date().toISOString().slice(0, 10)}, ${availableParallelism()} cores, ${Math.round(totalmem() / 2 ** 30)} GB of memory, Node.js ${process.versions.node}.\n`,
);
console.log('| what | measured | spread | against | ratio | budget | kept |\n|---|---|---|---|---|---|---|');
const busy: string[] = [];
for (const [name, measure] of Object.entries(PARTS)) {
  if (wanted.length && !wanted.includes(name)) continue;
  const said = tooBusy(await busyShare());
  if (said) busy.push(`- ${name}: ${said}`);
  for (const row of await measure()) {
    console.log(
      `| ${row.what} | ${row.measured} | ${row.spread} | ${row.against} | ${row.ratio} | ${row.budget} | ${said ? 'not judged' : row.kept ? 'yes' : 'no'} |`,
    );
  }
}
if (busy.length) console.log(`\n${busy.join('\n')}`);
process.exit(0);
