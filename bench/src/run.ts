import { availableParallelism, totalmem } from 'node:os';
import { benchApplication } from './application.js';
import { benchPrintFile } from './print-file.js';
import { benchScene } from './scene.js';

// npm run bench: prints the table of docs/performance.md. Every figure stands beside its baseline from the same run.

const rows = [...await benchPrintFile(), ...await benchScene(), ...await benchApplication()];
console.log(`Measured on ${new Date().toISOString().slice(0, 10)}, ${availableParallelism()} cores, ${Math.round(totalmem() / 2 ** 30)} GB of memory, Node.js ${process.versions.node}.\n`);
console.log('| what | measured | against | ratio | budget | kept |\n|---|---|---|---|---|---|');
for (const row of rows) console.log(`| ${row.what} | ${row.measured} | ${row.against} | ${row.ratio} | ${row.budget} | ${row.kept ? 'yes' : 'no'} |`);
process.exit(0);
