import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { areaMaps, compileSceneKernel, sceneMaps, SceneKernel, areaOf, type Blank, type Plane } from '@kettle/core';

const KERNEL = fileURLToPath(import.meta.resolve('@kettle/core/scene.wasm'));

let compiled: Promise<object> | null = null;

/** Blanks that were printed on last, ready in memory. Each takes up to 100 MB at 2000 px. */
const ready = new Map<string, Promise<{ kernel: SceneKernel; uv: (file: string) => Promise<Plane> }>>();
const MOST_READY = 2;

/** @param width shrinks while reading, for small pictures where a reader's filter is good enough */
async function plane(path: string, width?: number): Promise<Plane> {
  const { data, info } = await sharp(path).resize(width ? { width } : undefined).raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, channels: info.channels, data };
}

async function load(folder: string, blank: Blank, size: number) {
  const { photo, mask, shade, shadow } = blank.files;
  const [p, m, s, w] = await Promise.all([photo, mask, shade, shadow].map((file) => plane(join(folder, file))));
  const height = Math.round((size * blank.height) / blank.width);
  compiled ??= readFile(KERNEL).then((bytes) => compileSceneKernel(bytes));
  return { kernel: new SceneKernel(await compiled, blank, sceneMaps({ photo: p, mask: m, shade: s, shadow: w }, size, height)), uv: (file: string) => plane(join(folder, file)) };
}

/** A kernel for the bare product at a small width: no print area, no exact maps. */
export async function smallBlank(folder: string, blank: Blank, size: number): Promise<SceneKernel> {
  const { photo, mask, shade, shadow } = blank.files;
  const [p, m, s, w] = await Promise.all([photo, mask, shade, shadow].map((file) => plane(join(folder, file), size)));
  compiled ??= readFile(KERNEL).then((bytes) => compileSceneKernel(bytes));
  return new SceneKernel(await compiled, blank, sceneMaps({ photo: p, mask: m, shade: s, shadow: w }, p.width, p.height));
}

/** A kernel with a blank's maps at a picture width, and the print area made known to it. */
export async function readyBlank(folder: string, blank: Blank, areaId: string, size: number): Promise<SceneKernel> {
  const key = `${blank.id} ${size}`;
  let entry = ready.get(key);
  ready.delete(key);
  entry ??= load(folder, blank, size);
  ready.set(key, entry);
  for (const oldest of ready.keys()) if (ready.size > MOST_READY && oldest !== key) ready.delete(oldest);
  const { kernel, uv } = await entry;
  if (!kernel.hasArea(areaId)) {
    const area = areaOf(blank, areaId);
    kernel.addArea(areaId, areaMaps(await uv(area.uv), area, kernel.maps.width, kernel.maps.height));
  }
  return kernel;
}
