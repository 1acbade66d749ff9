import { readFile } from 'node:fs/promises';
import { ownValue } from '@kettle/core/units';
import sharp from 'sharp';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { TaskReply, TaskRequest } from '../floor/processes/process-pool.js';
import type { MakeJob } from './make-job.js';
import { MAKERS } from './makers.js';
import type { RenderTask, RenderTasks } from './tasks.js';

// Entry of a child process that decodes and draws. It may die without taking the server along.

// One thread a process: several workers share the machine better than several threads of each.
sharp.concurrency(1);

const reply = (message: TaskReply): void => {
  process.send?.(message);
};

// Each loads what it needs when it is first asked for: a process that sets words has no use for presses.
const run: { [T in RenderTask]: (input: RenderTasks[T]['input']) => Promise<RenderTasks[T]['output']> } = {
  inspect: async ({ path, fonts, out }) => (await import('./artwork/inspect.js')).inspect(path, fonts, out),
  fromHeic: async ({ path, out }) => {
    const { heicToPng } = await import('./artwork/heic.js');
    await heicToPng(path, out);
    return null;
  },
  make: async ({ kind, ...job }) => {
    const maker = ownValue(MAKERS, kind);
    if (!maker)
      throw new ProblemError(
        422,
        'unknown-kind',
        `This worker does not know how to make “${kind}”. Start the newest version.`,
      );
    return maker({ ...job, progress: (share) => reply({ kind: 'progress', share }) } as MakeJob<never>);
  },
  paper: async ({ paper, files, out }) => {
    const { writePaper } = await import('./press/paper.js');
    await writePaper(paper, files, out);
    return null;
  },
  inkOf: async ({ path }) => (await import('./print/ink-of.js')).inkOfFile(path),
  ownPack: async (job) => (await import('./mockup/own-pack.js')).makeOwnPack(job),
  checkPack: async ({ blank, files }) => (await import('./mockup/own-pack.js')).checkPack(blank, files),
  areaGrid: async ({ blank, files, areaId }) => (await import('./mockup/picture.js')).gridOfArea(blank, files, areaId),
  rendition: async ({ sha256, treated, path, size, light, out }) => {
    const { makeRendition } = await import('./print/rendition.js');
    await makeRendition({ sha256, treated }, path, size, out, light);
    return null;
  },
  treatedFacts: async ({ path, treated }) => (await import('./artwork/treated.js')).treatedFacts(path, treated),
  trace: async ({ shown, path, colours }) => (await import('./artwork/trace.js')).trace(shown, path, colours),
  working: async ({ path, out }) => {
    const { writeWorking } = await import('./artwork/treated.js');
    await writeWorking(path, out);
    return null;
  },
  miniature: async ({ grid, layers, files, out }) => {
    const { makeMiniature } = await import('./print/rendition.js');
    await makeMiniature(grid, layers, files, out);
    return null;
  },
  halfPack: async ({ blank, files, out }) => {
    const { writeHalfPack } = await import('./mockup/half-pack.js');
    await writeHalfPack(blank, files, out);
    return null;
  },
  readClip: async ({ path }) => (await import('./clip/read-clip.js')).readClip(path),
  readPicture: async ({ path }) => (await import('./mockup/picture.js')).readPicture(await readFile(path)),
  checkMusic: async ({ path }) => (await import('./clip/check-music.js')).checkMusic(path),
  checkFont: async ({ path }) => (await import('./text/check-font.js')).checkFont(path),
  checkProfile: async ({ path }) => (await import('./colour/profiles.js')).checkProfile(path),
  measurePrint: async (job) => (await import('./press/measure-print.js')).measureRecipe(job),
  mockupFile: async (job) => (await import('./mockup/layered.js')).makeMockupFile(job),
  measureOnCloths: async (job) => (await import('./press/measure-print.js')).measureOnCloths(job),
  proofTables: async ({ conversion, paper, files, out }) => {
    const { writeProof } = await import('./press/proof.js');
    await writeProof(conversion, paper, files, out);
    return null;
  },
  setFace: async ({ path, out, face }) => {
    const { setFace } = await import('./artwork/inspect.js');
    await setFace(path, out, face);
    return null;
  },
  lettering: async ({ paths, text, settings }) =>
    (await import('./text/lettering.js')).makeLettering(paths, text, settings),
  graphics: async () => (await import('./artwork/graphics.js')).readGraphics(),
  zip: async ({ out, inputs }) => {
    const { writeZip } = await import('./archive/zip.js');
    await writeZip(out, inputs);
    return null;
  },
  checkDesign: async ({ text }) => (await import('./documents/derive.js')).checkDesignText(text),
  derive: async ({ text, name, input }) => (await import('./documents/derive.js')).deriveFromText(text, name, input),
  oraStack: async ({ path }) => (await import('./archive/ora-stack.js')).readStack(await readFile(path, 'utf8')),
  manifest: async ({ path }) => (await import('./archive/design-manifest.js')).readManifest(path),
  unzip: async ({ path, folder }) => (await import('./archive/zip.js')).unpackZip(path, folder),
  openRaster: async (job) => {
    const { writeOra } = await import('./archive/open-raster.js');
    await writeOra(job);
    return null;
  },
  partFile: async (job) => (await import('./print/part-file.js')).makePartFile(job),
  strip: async ({ files, box, out }) => {
    const { makeStrip } = await import('./print/rendition.js');
    await makeStrip(files, box, out);
    return null;
  },
  blankThumbnail: async ({ blank, files, out }) => {
    const { blankThumbnail } = await import('./mockup/picture.js');
    await blankThumbnail(blank, files, out);
    return null;
  },
  blankPreview: async ({ blank, files, area, view, out }) => {
    const { blankPreview } = await import('./mockup/picture.js');
    await blankPreview(blank, files, area, view, out);
    return null;
  },
};

process.on('message', async ({ task, input }: TaskRequest) => {
  try {
    reply({ kind: 'done', output: await (run[task as RenderTask] as (input: unknown) => Promise<unknown>)(input) });
  } catch (error) {
    reply(
      error instanceof ProblemError
        ? { kind: 'refused', status: error.status, code: error.code, sentence: error.message }
        : {
            kind: 'failed',
            message: String((error as Error).stack ?? error),
            errno: (error as NodeJS.ErrnoException).code ?? null,
          },
    );
  }
});

// Ctrl-C reaches every process of the terminal: only the server, which finishes or gives back what is in hand, decides
// when a child ends.
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => undefined);

process.on('disconnect', () => process.exit(0));
// A line to a server that was killed breaks before its end is heard.
process.on('error', () => process.exit(0));
