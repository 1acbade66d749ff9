/// <reference lib="webworker" />
import { firstGuess, measureInk, Treater, type Pixels } from '@kettle/core';
import type { TreatReply, TreatRequest } from './treat-messages';

// Treats pictures with the same computation, on the same working copies, as the server.

/** Numbers that come before the pixels of a working copy. */
const HEADER = 4;
/** Steps that many pictures keep what was worked out for them. */
const MOST_READY = 3;

const ready = new Map<string, Promise<Treater>>();

interface Copy {
  readonly working: Pixels;
  readonly wholeWidth: number;
  readonly wholeHeight: number;
}
const copies = new Map<string, Promise<Copy>>();

async function fetched(assetId: string): Promise<Copy> {
  const response = await fetch(`/api/assets/${assetId}/working`);
  if (!response.ok) throw new Error('This picture could not be loaded. Check the connection and open it again.');
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
    return new Treater(working, wholeWidth, wholeHeight);
  });

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
  const treater = await treaterOf(assetId);
  const start = performance.now();
  const { data } = treater.treated(request.treatments);
  return { kind: 'treated', id, pixels: data.slice().buffer as ArrayBuffer, milliseconds: performance.now() - start };
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
