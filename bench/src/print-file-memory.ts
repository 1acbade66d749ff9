import type { PrintRecipe } from '@kettle/core';
import { encodePrintFile } from '@kettle/server';

// Makes one print file in a process of its own and tells its peak memory in KB.

const [recipe, files] = process.argv.slice(2).map((text) => JSON.parse(text) as unknown) as [PrintRecipe, Record<string, string>];
await encodePrintFile(recipe, files);
console.log(process.resourceUsage().maxRSS);
