import { readFile } from 'node:fs/promises';
import type { PrintRecipe } from '@kettle/core/recipes';
import { makePrintFile } from '@kettle/server';

// Makes print files in a process of its own and tells the milliseconds of each: drawn and encoded, written and read
// back, compared. Its recipes, files and the path to write to are in the JSON file it is given.

const { recipes, files, out } = JSON.parse(await readFile(process.argv[2], 'utf8')) as {
  recipes: readonly PrintRecipe[];
  files: Record<string, string>;
  out: string;
};
const phases: number[][] = [];
for (const recipe of recipes) {
  const times = [performance.now()];
  await makePrintFile(recipe, files, out, () => times.push(performance.now()));
  times.push(performance.now());
  // The last two that are told are: encoded, and read back.
  const [start, encoded, read, end] = [times[0], times.at(-3)!, times.at(-2)!, times.at(-1)!];
  phases.push([encoded - start, read - encoded, end - read]);
}
console.log(JSON.stringify(phases));
