/// <reference lib="webworker" />
import { compileSceneKernel, readPreview, SceneKernel, type Blank } from '@kettle/core';
import type { SceneReply, SceneRequest } from './scene-messages';

// Draws scenes with the same WebAssembly, on the same reduced maps, as the server.

/** Blanks that are ready to be printed on, the one used last at the end. Each takes about 25 MB. */
const ready = new Map<string, Promise<SceneKernel>>();
const MOST_READY = 6;
/** Small blanks, by blank and print area. Each takes about 2 MB. */
const small = new Map<string, Promise<SceneKernel>>();
const MOST_SMALL = 60;
let compiled: Promise<object> | null = null;

async function fetched(url: string): Promise<ArrayBuffer> {
  const response = await fetch(url);
  if (!response.ok) throw new Error('A picture of this blank could not be loaded.');
  return response.arrayBuffer();
}

const preview = async (blank: Blank, areaId: string, size: number) =>
  readPreview(await fetched(`/api/blanks/${blank.id}/preview?area=${areaId}&size=${size}`));

async function begin(blank: Blank, areaId: string, size: number): Promise<SceneKernel> {
  compiled ??= fetched('/scene.wasm').then((bytes) => compileSceneKernel(bytes));
  const [module, { maps, area }] = await Promise.all([compiled, preview(blank, areaId, size)]);
  const kernel = new SceneKernel(module, blank, maps);
  kernel.addArea(areaId, area);
  return kernel;
}

async function load(blank: Blank, areaId: string, size: number): Promise<SceneKernel> {
  const entry = ready.get(blank.id) ?? begin(blank, areaId, size);
  ready.delete(blank.id);
  ready.set(blank.id, entry);
  // What failed is tried again when it is asked for again.
  entry.catch(() => ready.delete(blank.id));
  for (const oldest of ready.keys()) if (ready.size > MOST_READY) ready.delete(oldest);
  const kernel = await entry;
  if (!kernel.hasArea(areaId)) kernel.addArea(areaId, (await preview(blank, areaId, size)).area);
  return kernel;
}

async function loadSmall(blank: Blank, areaId: string, size: number): Promise<SceneKernel> {
  const key = `${blank.id} ${areaId}`;
  const entry = small.get(key) ?? begin(blank, areaId, size);
  small.delete(key);
  small.set(key, entry);
  entry.catch(() => small.delete(key));
  for (const oldest of small.keys()) if (small.size > MOST_SMALL) small.delete(oldest);
  return entry;
}

/** Makes blanks ready that may be looked at next, one after the other, behind whatever is asked for meanwhile. */
async function prepare(
  blanks: readonly { readonly blank: Blank; readonly areaId: string }[],
  size: number,
): Promise<void> {
  for (const { blank, areaId } of blanks) {
    if (!ready.has(blank.id)) await load(blank, areaId, size).catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve, 60));
  }
}

/** What the page shows: product, area, colours. */
let shown = '';

/** First row of a print area, and the one after its last. */
function rowsOf(kernel: SceneKernel, areaId: string): [number, number] {
  const { index, count } = kernel.areaMaps(areaId);
  const { width } = kernel.maps;
  return count ? [Math.floor(index[0] / width), Math.floor(index[count - 1] / width) + 1] : [0, 0];
}

async function answer(request: SceneRequest): Promise<{ reply: SceneReply; transfer: Transferable[] } | null> {
  switch (request.kind) {
    case 'prepare':
      void prepare(request.blanks, request.size);
      return null;
    case 'load': {
      const kernel = await load(request.blank, request.areaId, request.size);
      return {
        reply: {
          kind: 'loaded',
          id: request.id,
          width: kernel.maps.width,
          height: kernel.maps.height,
          maps: kernel.areaMaps(request.areaId),
        },
        transfer: [],
      };
    }
    case 'load-small': {
      const kernel = await loadSmall(request.blank, request.areaId, request.size);
      return {
        reply: {
          kind: 'loaded-small',
          id: request.id,
          pixelsPerMm: kernel.areaMaps(request.areaId).pixelsPerMm,
        },
        transfer: [],
      };
    }
    case 'draw-small': {
      const { id, blankId, areaId, look, grid, texture } = request;
      const kernel = await small.get(`${blankId} ${areaId}`);
      if (!kernel) throw new Error('This blank is not loaded.');
      kernel.setTexture({ width: grid.width, height: grid.height, data: new Uint8Array(texture) }, grid);
      const { width, height, data } = kernel.render(look, areaId);
      const canvas = new OffscreenCanvas(width, height);
      canvas.getContext('2d')!.putImageData(new ImageData(new Uint8ClampedArray(data), width), 0, 0);
      const picture = await canvas.convertToBlob({ type: 'image/webp', quality: 0.9 });
      return { reply: { kind: 'drawn-small', id, picture }, transfer: [] };
    }
    case 'draw': {
      const kernel = await ready.get(request.blankId);
      if (!kernel) throw new Error('This blank is not loaded.');
      const start = performance.now();
      kernel.setTexture(
        { width: request.grid.width, height: request.grid.height, data: new Uint8Array(request.texture) },
        request.grid,
      );
      const { width, height, data } = kernel.render(request.look, request.areaId);
      // The bare product lies still while the design moves: its rows are sent once.
      const product = [
        request.blankId,
        request.areaId,
        request.look.garment,
        request.look.backdrop,
        request.look.shadow,
      ].join(' ');
      const [top, bottom] = product === shown ? rowsOf(kernel, request.areaId) : [0, height];
      shown = product;
      const pixels = data.slice(top * width * 4, bottom * width * 4).buffer as ArrayBuffer;
      return {
        reply: { kind: 'drawn', id: request.id, width, height, top, pixels, milliseconds: performance.now() - start },
        transfer: [pixels],
      };
    }
  }
}

addEventListener('message', ({ data }: MessageEvent<SceneRequest>) => {
  answer(data).then(
    (done) => {
      if (done) postMessage(done.reply, done.transfer);
    },
    (error: unknown) =>
      postMessage({
        kind: 'failed',
        id: data.id,
        message: error instanceof Error ? error.message : 'The scene could not be drawn.',
      } satisfies SceneReply),
  );
});
