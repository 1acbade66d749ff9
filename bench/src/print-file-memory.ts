import { readFile } from 'node:fs/promises';
import type { PrintRecipe } from '@kettle/core/recipes';
import { encodePrintFile } from '@kettle/server';

// Makes one print file in a process of its own and tells its peak memory in KB. Its recipe and files are in the JSON
// file it is given.

const { recipe, files } = JSON.parse(await readFile(process.argv[2], 'utf8')) as {
  recipe: PrintRecipe;
  files: Record<string, string>;
};
await encodePrintFile(recipe, files);
// The process's own peak: getrusage would count the parent's memory at the moment of its birth too.
console.log(/VmHWM:\s+(\d+)/.exec(await readFile('/proc/self/status', 'utf8'))![1]);
