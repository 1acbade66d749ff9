import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { ProblemError } from '../safety/problem-error.js';
import { checkFont } from './text/check-font.js';
import { checkDesignText, deriveFromText } from './derive.js';
import { readGraphics } from './artwork/graphics.js';
import { inspect, setFace } from './artwork/inspect.js';
import { treatedFacts, writeWorking } from './artwork/treated.js';
import { makeLettering } from './text/lettering.js';
import { writeOra } from './archive/open-raster.js';
import { checkPack, makeOwnPack } from './mockup/own-pack.js';
import { blankPreview, blankThumbnail, gridOfArea, readPicture } from './mockup/picture.js';
import { outputKind } from '../making/output-kinds.js';
import { readManifest } from './archive/design-manifest.js';
import { readStack } from './archive/ora-stack.js';
import { inkOfFile } from './print/ink-of.js';
import { makeMiniature, makeRendition, makeStrip } from './print/rendition.js';
import { unpackZip, writeZip } from './archive/zip.js';
import type { RenderReply, RenderRequest, RenderTask, RenderTasks } from './tasks.js';

// Entry of a child process that decodes and draws. It may die without taking the server along.

// One thread a process: several workers share the machine better than several threads of each.
sharp.concurrency(1);

const reply = (message: RenderReply): void => {
  process.send?.(message);
};

const run: { [T in RenderTask]: (input: RenderTasks[T]['input']) => Promise<RenderTasks[T]['output']> } = {
  inspect: ({ path, families }) => inspect(path, families),
  fromHeic: async ({ path, out }) => {
    const { heicToPng } = await import('./artwork/heic.js');
    await heicToPng(path, out);
    return null;
  },
  make: ({ kind, ...job }) => {
    const output = outputKind(kind);
    if (!output)
      throw new ProblemError(
        422,
        'unknown-kind',
        `This worker does not know how to make “${kind}”. Start the newest version.`,
      );
    return output.make({ ...job, progress: (share) => reply({ kind: 'progress', share }) });
  },
  paper: async ({ paper, files, out }) => {
    const { writePaper } = await import('./press/paper.js');
    await writePaper(paper, files, out);
    return null;
  },
  inkOf: ({ path }) => inkOfFile(path),
  ownPack: (job) => makeOwnPack(job),
  checkPack: ({ blank, files }) => checkPack(blank, files),
  areaGrid: ({ blank, files, areaId }) => gridOfArea(blank, files, areaId),
  rendition: async ({ sha256, treated, path, size, light, out }) => {
    await makeRendition({ sha256, treated }, path, size, out, light);
    return null;
  },
  treatedFacts: ({ path, treated }) => treatedFacts(path, treated),
  trace: async ({ shown, path, colours }) => {
    // The tracer is loaded where it is needed.
    const { trace } = await import('./artwork/trace.js');
    return trace(shown, path, colours);
  },
  working: async ({ path, out }) => {
    await writeWorking(path, out);
    return null;
  },
  miniature: async ({ grid, layers, files, out }) => {
    await makeMiniature(grid, layers, files, out);
    return null;
  },
  halfPack: async ({ blank, files, out }) => {
    const { writeHalfPack } = await import('./mockup/half-pack.js');
    await writeHalfPack(blank, files, out);
    return null;
  },
  readClip: async ({ path }) => {
    const { readClip } = await import('./clip/read-clip.js');
    return readClip(path);
  },
  readPicture: async ({ path }) => readPicture(await readFile(path)),
  checkMusic: async ({ path }) => {
    const { checkMusic } = await import('./clip/check-music.js');
    return checkMusic(path);
  },
  checkFont: ({ path, out }) => checkFont(path, out),
  checkProfile: async ({ path }) => {
    const { checkProfile } = await import('./press/profiles.js');
    return checkProfile(path);
  },
  measurePrint: async (job) => {
    const { measureRecipe } = await import('./press/measure-print.js');
    return measureRecipe(job);
  },
  proofTables: async ({ conversion, paper, files, out }) => {
    const { writeProof } = await import('./press/proof.js');
    await writeProof(conversion, paper, files, out);
    return null;
  },
  setFace: async ({ path, out, face }) => {
    await setFace(path, out, face);
    return null;
  },
  lettering: ({ paths, text, settings }) => makeLettering(paths, text, settings),
  graphics: async () => readGraphics(),
  zip: async ({ out, inputs }) => {
    await writeZip(out, inputs);
    return null;
  },
  checkDesign: async ({ text }) => checkDesignText(text),
  derive: async ({ text, name, input }) => deriveFromText(text, name, input),
  oraStack: async ({ path }) => readStack(await readFile(path, 'utf8')),
  manifest: ({ path }) => readManifest(path),
  unzip: ({ path, folder }) => unpackZip(path, folder),
  openRaster: async (job) => {
    await writeOra(job);
    return null;
  },
  strip: async ({ files, box, out }) => {
    await makeStrip(files, box, out);
    return null;
  },
  blankThumbnail: async ({ blank, files, out }) => {
    await blankThumbnail(blank, files, out);
    return null;
  },
  blankPreview: async ({ blank, files, area, view, out }) => {
    await blankPreview(blank, files, area, view, out);
    return null;
  },
};

process.on('message', async ({ task, input }: RenderRequest) => {
  try {
    reply({ kind: 'done', output: await (run[task] as (input: unknown) => Promise<unknown>)(input) });
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
