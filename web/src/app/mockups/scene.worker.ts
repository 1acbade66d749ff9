/// <reference lib="webworker" />
import { areaMaps, areaOf, compileSceneKernel, sceneMaps, SceneKernel, type Blank, type Plane } from '@kettle/core';
import type { SceneReply, SceneRequest } from './scene-messages';

// Decodes blank packs and draws scenes with the same WebAssembly as the server.

const ready = new Map<string, { blank: Blank; kernel: SceneKernel }>();
const MOST_READY = 3;
let compiled: Promise<object> | null = null;

/** Data pictures are read without colour management and without premultiplication. */
async function plane(url: string): Promise<Plane> {
  const response = await fetch(url);
  if (!response.ok) throw new Error('A picture of this blank could not be loaded.');
  const bitmap = await createImageBitmap(await response.blob(), { colorSpaceConversion: 'none', premultiplyAlpha: 'none' });
  const context = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  const { data } = context.getImageData(0, 0, bitmap.width, bitmap.height);
  const read = { width: bitmap.width, height: bitmap.height, channels: 4, data };
  bitmap.close();
  return read;
}

async function load(blank: Blank, areaId: string, size: number): Promise<SceneKernel> {
  const file = (name: string) => `/api/blanks/${blank.id}/files/${name}`;
  let entry = ready.get(blank.id);
  if (!entry) {
    const { photo, mask, shade, shadow } = blank.files;
    const [p, m, s, w] = await Promise.all([photo, mask, shade, shadow].map((name) => plane(file(name))));
    compiled ??= fetch('/scene.wasm').then((response) => response.arrayBuffer()).then((bytes) => compileSceneKernel(bytes));
    entry = { blank, kernel: new SceneKernel(await compiled, blank, sceneMaps({ photo: p, mask: m, shade: s, shadow: w }, size, Math.round((size * blank.height) / blank.width))) };
  }

  ready.delete(blank.id);
  ready.set(blank.id, entry);
  for (const oldest of ready.keys()) if (ready.size > MOST_READY) ready.delete(oldest);
  const { kernel } = entry;
  const area = areaOf(blank, areaId);
  if (!kernel.hasArea(area.id)) kernel.addArea(area.id, areaMaps(await plane(file(area.uv)), area, kernel.maps.width, kernel.maps.height));
  return kernel;
}

async function answer(request: SceneRequest): Promise<{ reply: SceneReply; transfer: Transferable[] }> {
  if (request.kind === 'load') {
    const kernel = await load(request.blank, request.areaId, request.size);
    const maps = kernel.areaMaps(request.areaId);
    return { reply: { kind: 'loaded', id: request.id, width: kernel.maps.width, height: kernel.maps.height, maps }, transfer: [] };
  }
  const kernel = ready.get(request.blankId)?.kernel;
  if (!kernel) throw new Error('This blank is not loaded.');
  const start = performance.now();
  kernel.setTexture({ width: request.grid.width, height: request.grid.height, data: new Uint8Array(request.texture) }, request.grid);
  const { width, height, data } = kernel.render(request.look, request.areaId);
  const pixels = data.slice().buffer as ArrayBuffer;
  return { reply: { kind: 'drawn', id: request.id, width, height, pixels, milliseconds: performance.now() - start }, transfer: [pixels] };
}

addEventListener('message', ({ data }: MessageEvent<SceneRequest>) => {
  answer(data).then(
    ({ reply, transfer }) => postMessage(reply, transfer),
    (error: unknown) => postMessage({ kind: 'failed', id: data.id, message: error instanceof Error ? error.message : 'The scene could not be drawn.' } satisfies SceneReply),
  );
});
