import { build, transform } from 'esbuild';
import { existsSync } from 'node:fs';
import { cp, readdir, rm } from 'node:fs/promises';
import { join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

// Translates TypeScript, and checks no types: that is `npm run types`. node scripts/build.mjs [product|node|faces|page]
//   product  what runs on the server, without specifications, browser tests and benches
//   node     the same with them
//   faces    the shipped fonts as plain files
//   page     the interface, which needs what runs on the server
// Nothing named: all but the first.

const ROOT = fileURLToPath(new URL('..', import.meta.url));
const PRODUCT = ['core', 'contract', 'demo', 'server', 'stand-ins'];
const TESTED = [...PRODUCT, 'bench'];
const isTest = (file) => /\.spec\.ts$|\/testing\//.test(file);

const filesIn = async (folder, ending) =>
  existsSync(folder)
    ? (await readdir(folder, { recursive: true }))
        .filter((file) => file.endsWith(ending))
        .map((file) => join(folder, file))
    : [];

/** How every file is translated. */
const TRANSLATION = {
  platform: 'node',
  format: 'esm',
  target: 'node20',
  tsconfigRaw: { compilerOptions: { verbatimModuleSyntax: true, target: 'ES2022' } },
};

/** A single text as the build translates it. */
export const translated = async (text) => (await transform(text, { ...TRANSLATION, loader: 'ts' })).code;

/** Translates the sources of packages file by file, and takes away what has no source any more. */
async function translate(packages, wanted) {
  const entryPoints = (await Promise.all(packages.map((name) => filesIn(join(ROOT, name, 'src'), '.ts'))))
    .flat()
    .filter((file) => !file.includes('/kernels/') && !file.endsWith('.d.ts') && wanted(file));
  const { metafile } = await build({
    absWorkingDir: ROOT,
    entryPoints: entryPoints.map((file) => ({
      in: file,
      out: relative(ROOT, file).replace('/src/', '/dist/').slice(0, -'.ts'.length),
    })),
    outdir: ROOT,
    ...TRANSLATION,
    sourcemap: true,
    metafile: true,
    logLevel: 'warning',
  });
  const made = new Set(Object.keys(metafile.outputs).map((file) => resolve(ROOT, file)));
  for (const name of packages)
    for (const file of await filesIn(join(ROOT, name, 'dist'), '.js'))
      if (!made.has(file) && !file.includes('/types/')) await rm(file);
}

/**
 * Bundles each library of the page to one file with only what is used of it: Angular's builder would send every file of
 * a library through Babel, which takes longer than all else.
 */
const libraries = async () =>
  build({
    entryPoints: await filesIn(join(ROOT, 'web/src/libraries'), '.ts'),
    outdir: join(ROOT, 'web/dist/libraries'),
    bundle: true,
    format: 'esm',
    target: 'es2022',
    minify: true,
    legalComments: 'inline',
    define: { 'process.env.NODE_ENV': '"production"' },
    logLevel: 'warning',
  });

async function page() {
  // Angular serves what lies in its own folder alone.
  await cp(join(ROOT, 'core/kernels'), join(ROOT, 'web/public'), {
    recursive: true,
    filter: (file) => !file.endsWith('.sha256'),
  });
  await libraries();
  const { runTarget } = await import('../web/angular.mjs');
  if (!(await runTarget('build'))) throw new Error('The page could not be built.');
}

const parts = {
  product: () => translate(PRODUCT, (file) => !isTest(file)),
  node: () => translate(TESTED, () => true),
  faces: () => import('../server/dist/unpack-faces.js'),
  page,
};
async function run(wanted) {
  try {
    for (const part of wanted) await parts[part]();
  } catch (error) {
    // What esbuild and Angular found stands above already.
    if (!error.errors) console.error(error);
    process.exit(1);
  }
  // Angular's workers are still there.
  process.exit(0);
}
if (process.argv[1] === fileURLToPath(import.meta.url))
  await run(process.argv.length > 2 ? process.argv.slice(2) : Object.keys(parts).slice(1));
