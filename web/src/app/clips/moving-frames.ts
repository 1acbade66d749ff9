import {
  areaMapsOf,
  areaOf,
  frameOfBlank,
  readMovingArea,
  sceneMaps,
  viewOf,
  WHOLE_AREA,
  type AreaMaps,
  type Plane,
  type SceneMaps,
} from '@kettle/core/mockup';
import { unzipSync } from 'fflate';
import type { SeenMoving } from './moving-messages';

// Reads the frames of moving blanks. For a worker: it decodes and computes.

/** Packs that are held, compressed; each takes 3 to 8 MB. */
const MOST_PACKS = 4;

/** The maps of one frame. */
export interface FrameMaps {
  readonly maps: SceneMaps;
  readonly areas: ReadonlyMap<string, AreaMaps>;
}

type Pack = Readonly<Record<string, Uint8Array<ArrayBuffer>>>;
const packs = new Map<string, Promise<Pack>>();

const MISSING = 'A picture of this moving product could not be loaded. Try again, or choose another product.';

export async function fetched(url: string): Promise<ArrayBuffer> {
  const response = await fetch(url).catch(() => null);
  if (!response?.ok) throw new Error(MISSING);
  return response.arrayBuffer();
}

/** @param half for pictures of at most half the blank's size, which are decoded four times as fast */
function packOf(id: string, half: boolean): Promise<Pack> {
  const url = `/api/blanks/${encodeURIComponent(id)}/${half ? 'frames' : 'pack'}`;
  const pack = packs.get(url) ?? fetched(url).then((bytes) => unzipSync(new Uint8Array(bytes)) as Pack);
  packs.delete(url);
  packs.set(url, pack);
  // What failed is tried again when it is asked for again.
  pack.catch(() => packs.delete(url));
  for (const oldest of packs.keys()) if (packs.size > MOST_PACKS) packs.delete(oldest);
  return pack;
}

/**
 * Reads one frame of a moving blank.
 * @param densities px per mm at which its areas are taken to be seen; found on the frame where absent
 * @throws Error with a sentence when a picture is missing or broken
 */
export async function readFrame(
  { blank, areaIds, size }: SeenMoving,
  frame: number,
  densities: ReadonlyMap<string, number>,
): Promise<FrameMaps> {
  const pack = await packOf(blank.id, size <= blank.width / 2);
  const view = viewOf(blank, null, size);
  const still = frameOfBlank(blank, frame);
  const { photo, mask, shade, shadow } = still.files;
  const { width, height } = view;
  // Light between texels is what a canvas' own filter makes; bytes of positions are never filtered.
  const sized = (name: string): Promise<Plane> => planeOf(pack[name], name, view);
  const areas = areaIds.map((id) => areaOf(still, id));
  const [photos, uvs] = await Promise.all([
    Promise.all([photo, mask, shade, shadow].map(sized)),
    Promise.all(areas.map(({ uv, cover }) => Promise.all([planeOf(pack[uv], uv), sized(cover!)]))),
  ]);
  const [p, m, s, w] = photos;
  return {
    maps: sceneMaps({ photo: p, mask: m, shade: s, shadow: w }, width, height),
    areas: new Map(
      areas.map((area, i) => {
        return [
          area.id,
          areaMapsOf(readMovingArea(...uvs[i]), area, width, WHOLE_AREA, densities.get(area.id)),
        ] as const;
      }),
    ),
  };
}

/** Surfaces that pictures are read on, by size. */
const surfaces = new Map<string, OffscreenCanvasRenderingContext2D>();

/** @param size that it is brought to; its own when absent */
async function planeOf(
  bytes: Uint8Array<ArrayBuffer> | undefined,
  name: string,
  size?: { readonly width: number; readonly height: number },
): Promise<Plane> {
  if (!bytes) throw new Error(MISSING);
  const picture = await createImageBitmap(new Blob([bytes]), {
    colorSpaceConversion: 'none',
    premultiplyAlpha: 'none',
  }).catch(() => {
    throw new Error(`A frame of this moving product is broken (${name}). Choose another product.`);
  });
  const { width, height } = size ?? picture;
  const key = `${width} ${height}`;
  let surface = surfaces.get(key);
  if (!surface) {
    surface = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
    surface.globalCompositeOperation = 'copy';
    // Linear between texels' centres, as the maps are meant to be read.
    surface.imageSmoothingQuality = 'low';
    surfaces.set(key, surface);
  }
  surface.drawImage(picture, 0, 0, width, height);
  picture.close();
  return { width, height, channels: 4, data: surface.getImageData(0, 0, width, height).data };
}
