import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import {
  areaMaps,
  compileSceneKernel,
  sceneMaps,
  SceneKernel,
  areaOf,
  type Blank,
  type Plane,
  type SceneMaps,
} from '@kettle/core';

const KERNEL = fileURLToPath(import.meta.resolve('@kettle/core/scene.wasm'));

let compiled: Promise<object> | null = null;

/** Local paths of a pack's pictures by their names in its manifest. */
export type PackFiles = Readonly<Record<string, string>>;

/** The pictures of a pack that lies in a folder. */
export const packIn = (folder: string, blank: Blank): PackFiles =>
  Object.fromEntries(
    [...Object.values(blank.files), ...blank.areas.map((area) => area.uv)].map((name) => [name, join(folder, name)]),
  );

/** Blanks that were printed on last, ready in memory. Each takes up to 100 MB at 2000 px. */
const ready = new Map<string, Promise<SceneKernel>>();
const MOST_READY = 2;

/** @param width shrinks while reading, for small pictures where a reader's filter is good enough */
async function plane(path: string, width?: number): Promise<Plane> {
  const { data, info } = await sharp(path)
    .resize(width ? { width } : undefined)
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, channels: info.channels, data };
}

async function planes(files: PackFiles, blank: Blank, width?: number) {
  const { photo, mask, shade, shadow } = blank.files;
  const [p, m, s, w] = await Promise.all([photo, mask, shade, shadow].map((name) => plane(files[name], width)));
  return { photo: p, mask: m, shade: s, shadow: w };
}

/** Width up to which maps are reduced by the reader's own filter, which is several times as fast and as good there. */
const SMALL = 200;

/** A blank's maps at a picture width. */
export async function blankMaps(files: PackFiles, blank: Blank, size: number): Promise<SceneMaps> {
  if (size <= SMALL) {
    const small = await planes(files, blank, size);
    return sceneMaps(small, small.photo.width, small.photo.height);
  }
  return sceneMaps(await planes(files, blank), size, Math.round((size * blank.height) / blank.width));
}

/** Maps of one print area at the size of a picture. */
export async function blankAreaMaps(
  files: PackFiles,
  blank: Blank,
  areaId: string,
  { width, height }: { width: number; height: number },
) {
  const area = areaOf(blank, areaId);
  return areaMaps(await plane(files[area.uv]), area, width, height);
}

async function kernelOf(blank: Blank, maps: SceneMaps): Promise<SceneKernel> {
  compiled ??= readFile(KERNEL).then((bytes) => compileSceneKernel(bytes));
  return new SceneKernel(await compiled, blank, maps);
}

/** A kernel for the bare product at a small width: no print area, no exact maps. */
export async function smallBlank(files: PackFiles, blank: Blank, size: number): Promise<SceneKernel> {
  const small = await planes(files, blank, size);
  return kernelOf(blank, sceneMaps(small, small.photo.width, small.photo.height));
}

/** A kernel with a blank's maps at a picture width, and the print area made known to it. */
export async function readyBlank(files: PackFiles, blank: Blank, areaId: string, size: number): Promise<SceneKernel> {
  const key = `${files[blank.files.photo]} ${size}`;
  let entry = ready.get(key);
  ready.delete(key);
  entry ??= blankMaps(files, blank, size).then((maps) => kernelOf(blank, maps));
  ready.set(key, entry);
  entry.catch(() => ready.delete(key));
  for (const oldest of ready.keys()) if (ready.size > MOST_READY && oldest !== key) ready.delete(oldest);
  const kernel = await entry;
  if (!kernel.hasArea(areaId)) kernel.addArea(areaId, await blankAreaMaps(files, blank, areaId, kernel.maps));
  return kernel;
}
