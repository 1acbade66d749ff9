/// <reference lib="webworker" />
import type { Pixels } from '@kettle/core/geometry';
import { measureInk } from '@kettle/core/raster';
import { atWork, type Treatment } from '@kettle/core/model';
import {
  compileTreatKernel,
  firstGuess,
  reduced,
  seenThrough,
  Treater,
  type TreatKernel,
} from '@kettle/core/treatments';
import type { TreatReply, TreatRequest } from './treat-messages';

// Treats pictures with the same computation, on the same working copies, as the server.

/** Numbers that come before the pixels of a working copy. */
const HEADER = 4;
/** Steps that many pictures keep what was worked out for them. */
const MOST_READY = 3;

/**
 * Longer side of the copies that first answers are worked out on, px: the largest that this machine works out within
 * {@link MOST_MS}, as it has shown. A fine answer follows whichever it was.
 */
const QUICK_SIDES = [180, 240, 320];
const [LEAST_MS, MOST_MS] = [5, 13];
let quickSide = QUICK_SIDES.length - 1;

const ready = new Map<string, Promise<Treater>>();
const quick = new Map<string, Promise<Treater>>();

interface Copy {
  readonly working: Pixels;
  readonly wholeWidth: number;
  readonly wholeHeight: number;
}
const copies = new Map<string, Promise<Copy>>();

let compiled: Promise<TreatKernel> | null = null;

/** The kernel, fetched once; a fetch that failed is tried again. */
async function kernel(): Promise<TreatKernel> {
  compiled ??= asked('/treat.wasm')
    .then((response) => response.arrayBuffer())
    .then(compileTreatKernel);
  compiled.catch(() => (compiled = null));
  return compiled;
}

/** @throws Error with a sentence when nothing comes, or a refusal */
async function asked(url: string): Promise<Response> {
  const response = await fetch(url).catch(() => null);
  if (!response?.ok)
    throw new Error('This picture could not be loaded: the server did not answer as it should. Nothing is lost.');
  return response;
}

async function fetched(assetId: string): Promise<Copy> {
  const response = await asked(`/api/assets/${assetId}/working`);
  const bytes = await response.arrayBuffer();
  const [width, height, wholeWidth, wholeHeight] = new Uint32Array(bytes.slice(0, HEADER * 4));
  return { working: { width, height, data: new Uint8ClampedArray(bytes, HEADER * 4) }, wholeWidth, wholeHeight };
}

/** What failed is tried again when it is asked for again; what was not used for long is dropped. */
function kept<T>(all: Map<string, Promise<T>>, key: string, make: () => Promise<T>): Promise<T> {
  const entry = all.get(key) ?? make();
  all.delete(key);
  all.set(key, entry);
  entry.catch(() => all.delete(key));
  for (const oldest of all.keys()) if (all.size > MOST_READY) all.delete(oldest);
  return entry;
}

const copyOf = (assetId: string): Promise<Copy> => kept(copies, assetId, () => fetched(assetId));
const treaterOf = (assetId: string): Promise<Treater> =>
  kept(ready, assetId, async () => {
    const { working, wholeWidth, wholeHeight } = await copyOf(assetId);
    return new Treater(await kernel(), working, wholeWidth, wholeHeight);
  });

const quickOf = (assetId: string): Promise<Treater> =>
  kept(quick, `${QUICK_SIDES[quickSide]} ${assetId}`, async () => {
    const { working, wholeWidth, wholeHeight } = await copyOf(assetId);
    const factor = Math.min(1, QUICK_SIDES[quickSide] / Math.max(working.width, working.height));
    const size = [working.width, working.height].map((px) => Math.max(1, Math.round(px * factor)));
    return new Treater(await kernel(), reduced(working, size[0], size[1]), wholeWidth, wholeHeight);
  });

/** True for steps that may make art translucent which nobody meant to be: a dissolved colour is meant so. */
function takesInsideToo(treatments: readonly Treatment[]): boolean {
  const steps = atWork(treatments);
  return steps.some(({ kind }) => kind === 'colour') && !steps.some(({ kind }) => kind === 'dissolve');
}

async function answer(request: TreatRequest): Promise<TreatReply> {
  const { id, assetId } = request;
  if (request.kind === 'load') {
    const { working, wholeWidth, wholeHeight } = await copyOf(assetId);
    const { width, height, data } = working;
    return {
      kind: 'loaded',
      id,
      width,
      height,
      wholeWidth,
      wholeHeight,
      pixels: data.slice().buffer as ArrayBuffer,
      guess: firstGuess(working, 'guess'),
      colours: measureInk(working).inks.map((ink) => ink.hex),
    };
  }
  const treater = await (request.quick ? quickOf : treaterOf)(assetId);
  const start = performance.now();
  const { width, height, data } = treater.treated(request.treatments);
  const pixels = data.slice().buffer as ArrayBuffer;
  const milliseconds = performance.now() - start;
  const through =
    !request.quick && takesInsideToo(request.treatments) ? seenThrough(treater.working, { width, height, data }) : null;
  if (request.quick) {
    const step = milliseconds > MOST_MS ? -1 : milliseconds < LEAST_MS ? 1 : 0;
    quickSide = Math.max(0, Math.min(QUICK_SIDES.length - 1, quickSide + step));
  }
  return { kind: 'treated', id, width, height, pixels, through, milliseconds };
}

addEventListener('message', ({ data }: MessageEvent<TreatRequest>) => {
  answer(data).then(
    (reply) => postMessage(reply, 'pixels' in reply ? [reply.pixels] : []),
    (error: unknown) =>
      postMessage({
        kind: 'failed',
        id: data.id,
        message: error instanceof Error ? error.message : 'This picture could not be worked on.',
      } satisfies TreatReply),
  );
});
