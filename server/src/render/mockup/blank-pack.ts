import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp, { type Sharp } from 'sharp';
import type { Box } from '@kettle/core/geometry';
import type { Blank } from '@kettle/core/model';
import {
  areaMaps,
  areaMapsOf,
  asStill,
  frameOfBlank,
  readMovingArea,
  compileSceneKernel,
  sceneMaps,
  SceneKernel,
  areaOf,
  exposureOf,
  filesOfBlank,
  isWhole,
  joinedUv,
  viewOf,
  type AreaMaps,
  type BlankView,
  type MovingBlank,
  type Plane,
  type SceneMaps,
} from '@kettle/core/mockup';

const KERNEL = fileURLToPath(import.meta.resolve('@kettle/core/scene.wasm'));

let compiled: Promise<object> | null = null;

/** Local paths of a pack's pictures by their names in its manifest. */
export type PackFiles = Readonly<Record<string, string>>;

/** The pictures of a pack that lies in a folder. */
export const packIn = (folder: string, blank: Blank): PackFiles =>
  Object.fromEntries(filesOfBlank(blank).map((name) => [name, join(folder, name)]));

/** Blanks that were printed on last, ready in memory. Each takes up to 100 MB at 2000 px. */
const ready = new Map<string, Promise<SceneKernel>>();
const MOST_READY = 2;

/** @param width shrinks while reading, for small pictures where a reader's filter is good enough */
async function plane(path: string, width?: number): Promise<Plane> {
  return planeOf(sharp(path).resize(width ? { width } : undefined));
}

async function planeOf(image: Sharp): Promise<Plane> {
  const { data, info } = await image.raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, channels: info.channels, data };
}

/** A part of a picture; where it is looked at more closely than it was taken, what lies between its pixels is smooth. */
async function part(path: string, { crop, width, height }: BlankView, blank: Blank): Promise<Plane> {
  const image = sharp(path);
  const { width: own = blank.width } = await image.metadata();
  // Some maps are half as large as the picture.
  const [scale, round] = [own / blank.width, (value: number): number => Math.max(0, Math.round(value))];
  const taken = image.extract({
    left: round(crop.x * scale),
    top: round(crop.y * scale),
    width: Math.max(1, round(crop.width * scale)),
    height: Math.max(1, round(crop.height * scale)),
  });
  return planeOf(crop.width * scale < width ? taken.resize(width, height, { fit: 'fill', kernel: 'mitchell' }) : taken);
}

async function planes(files: PackFiles, blank: Blank, read: (path: string) => Promise<Plane>) {
  const { photo, mask, shade, shadow } = blank.files;
  const [p, m, s, w] = await Promise.all([photo, mask, shade, shadow].map((name) => read(files[name])));
  return { photo: p, mask: m, shade: s, shadow: w };
}

/** Width up to which maps are reduced by the reader's own filter, which is several times as fast and as good there. */
const SMALL = 200;

/** A blank's maps as it is seen. */
export async function blankMaps(files: PackFiles, blank: Blank, view: BlankView): Promise<SceneMaps> {
  const { width, height } = view;
  const whole = isWhole(blank, view);
  const small = whole && width <= SMALL;
  const read = (path: string): Promise<Plane> =>
    whole ? plane(path, small ? width : undefined) : part(path, view, blank);
  const read4 = await planes(files, blank, read);
  return small ? sceneMaps(read4, read4.photo.width, read4.photo.height) : sceneMaps(read4, width, height);
}

/** Maps of one print area as it is seen. */
export async function blankAreaMaps(files: PackFiles, blank: Blank, areaId: string, view: BlankView, part?: Box) {
  const area = areaOf(blank, areaId);
  const uv = await plane(files[area.uv]);
  return areaMaps(area.cover ? joinedUv(uv, await plane(files[area.cover])) : uv, area, view, part);
}

/** A print area that is printed on, and the part of it that is seen; all of it when absent. */
export interface AreaPart {
  readonly areaId: string;
  readonly part?: Box;
}

async function kernelOf(blank: Blank, maps: SceneMaps, exposure?: number): Promise<SceneKernel> {
  compiled ??= readFile(KERNEL).then((bytes) => compileSceneKernel(bytes));
  return new SceneKernel(await compiled, blank, maps, exposure);
}

/** A kernel with maps of one's own making. */
export const kernelWith = kernelOf;

/** A kernel for the bare product at a small width: no print area, no exact maps. */
export async function smallBlank(files: PackFiles, blank: Blank): Promise<SceneKernel> {
  return kernelOf(blank, await blankMaps(files, blank, viewOf(blank, null, SMALL)));
}

/** A kernel with a blank's maps as it is seen, and its print areas made known to it. */
export async function readyBlank(
  files: PackFiles,
  blank: Blank,
  areas: readonly AreaPart[],
  view: BlankView,
): Promise<SceneKernel> {
  const { crop, width } = view;
  const key = `${files[blank.files.photo]} ${width} ${crop.x} ${crop.y} ${crop.width} ${crop.height}`;
  let entry = ready.get(key);
  ready.delete(key);
  entry ??= Promise.all([blankMaps(files, blank, view), exposureFor(files, blank, view)]).then(([maps, exposure]) =>
    kernelOf(blank, maps, exposure),
  );
  ready.set(key, entry);
  entry.catch(() => ready.delete(key));
  for (const oldest of ready.keys()) if (ready.size > MOST_READY && oldest !== key) ready.delete(oldest);
  const kernel = await entry;
  for (const { areaId, part } of areas)
    if (!kernel.hasArea(areaId))
      kernel.addArea(areaOf(blank, areaId), await blankAreaMaps(files, blank, areaId, view, part));
  return kernel;
}

/** A kernel of its own for a moving blank: all frames are shot as brightly as the one that shows the print best. */
export async function posterKernel(
  files: PackFiles,
  blank: MovingBlank,
  areas: readonly AreaPart[],
  view: BlankView,
): Promise<SceneKernel> {
  const still = asStill(blank);
  const maps = await blankMaps(files, still, view);
  const kernel = await kernelOf(still, maps, exposureOf(maps, still.albedo));
  for (const { areaId, part } of areas)
    if (!kernel.hasArea(areaId))
      kernel.addArea(areaOf(still, areaId), await blankAreaMaps(files, still, areaId, view, part));
  return kernel;
}

/** The maps of one frame of a moving blank, its areas as densely printed as on the poster. */
export async function frameMaps(
  files: PackFiles,
  blank: MovingBlank,
  frame: number,
  areas: readonly AreaPart[],
  view: BlankView,
  poster: SceneKernel,
): Promise<{ maps: SceneMaps; areas: ReadonlyMap<string, AreaMaps> }> {
  const still = frameOfBlank(blank, frame);
  const [maps, ...read] = await Promise.all([
    blankMaps(files, still, view),
    ...areas.map(async ({ areaId, part }) => {
      const area = areaOf(still, areaId);
      const uv = readMovingArea(await plane(files[area.uv]), await plane(files[area.cover!], view.width));
      return [areaId, areaMapsOf(uv, area, view.width, part, poster.areaMaps(areaId).pixelsPerMm)] as const;
    }),
  ]);
  return { maps, areas: new Map(read) };
}

/** A part of a picture is shot as brightly as all of it. */
export async function exposureFor(files: PackFiles, blank: Blank, view: BlankView): Promise<number | undefined> {
  return isWhole(blank, view)
    ? undefined
    : exposureOf(await blankMaps(files, blank, viewOf(blank, null, SMALL)), blank.albedo);
}
