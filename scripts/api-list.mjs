import { readFile, writeFile } from 'node:fs/promises';
import { callList } from '@kettle/contract';

// npm run api:list: writes the table of calls in docs/api.md from the contract.

const FILE = new URL('../docs/api.md', import.meta.url);
const text = await readFile(FILE, 'utf8');
await writeFile(
  FILE,
  text.replace(/<!-- calls -->[\s\S]*<!-- \/calls -->/, () => `<!-- calls -->\n${callList()}\n<!-- /calls -->`),
);
