import { createHash } from 'node:crypto';
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';

// The kernels are kept in the repository as WebAssembly, beside the hash of what they were made of, so that nobody
// compiles them who has not changed them. `npm run kernels` makes them anew; without `--make` this looks whether they
// are of their sources.

const SOURCES = new URL('../core/src/kernels/', import.meta.url);
const MADE = new URL('../core/kernels/', import.meta.url);
export const KERNELS = ['scene', 'resample', 'treat', 'press'];

/** Hash of everything that the kernels are made of, the compiler's version and its settings among it. */
export async function sourceHash() {
  const lock = JSON.parse(await readFile(new URL('../package-lock.json', import.meta.url), 'utf8'));
  const { version } = lock.packages['node_modules/assemblyscript'];
  const hash = createHash('sha256').update(version);
  for (const name of (await readdir(SOURCES)).sort()) hash.update(name).update(await readFile(new URL(name, SOURCES)));
  return hash.digest('hex');
}

const stamp = new URL('sources.sha256', MADE);

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const hash = await sourceHash();
  if (process.argv.includes('--make')) {
    const { default: asc } = await import('assemblyscript/asc');
    for (const name of KERNELS) {
      const { error, stderr } = await asc.main([
        fileURLToPath(new URL(`${name}.ts`, SOURCES)),
        '--config',
        fileURLToPath(new URL('asconfig.json', SOURCES)),
        '--target',
        'release',
        '--outFile',
        fileURLToPath(new URL(`${name}.wasm`, MADE)),
      ]);
      if (error) {
        console.error(`${name}: ${stderr.toString()}`);
        process.exit(1);
      }
    }
    await writeFile(stamp, `${hash}\n`);
  } else if ((await readFile(stamp, 'utf8')).trim() !== hash) {
    console.error('A kernel was changed and not made anew. Run: npm run kernels');
    process.exit(1);
  }
}
