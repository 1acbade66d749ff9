import {
  areaMapsOf,
  areaOf,
  compileSceneKernel,
  exposureOf,
  frameOfBlank,
  readMovingArea,
  sceneMaps,
  SceneKernel,
  viewOf,
  WHOLE_AREA,
  type AreaMaps,
  type BlankView,
  type Plane,
  type SceneMaps,
} from '@kettle/core';
import { unzipSync } from 'fflate';
import type { PressedGuise, SeenMoving } from './moving-messages';

// Prints on the frames of a moving blank. For workers: it decodes and computes.

/** Packs that are held, compressed; each takes 3 to 8 MB. */
const MOST_PACKS = 4;
/** Frames whose maps are held decoded: the one in hand and those that come next. Each takes up to 25 MB. */
const MOST_DECODED = 3;

type Pack = Readonly<Record<string, Uint8Array<ArrayBuffer>>>;
const packs = new Map<string, Promise<Pack>>();
let compiled: Promise<object> | null = null;

const MISSING = 'A picture of this moving product could not be loaded. Try again, or choose another product.';

async function fetched(url: string): Promise<ArrayBuffer> {
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

/** The maps of one frame. */
interface FrameMaps {
  readonly maps: SceneMaps;
  readonly areas: ReadonlyMap<string, AreaMaps>;
}

/** A moving blank at a size, ready to be printed on frame by frame. */
export class MovingPress {
  private readonly decoded = new Map<number, Promise<FrameMaps>>();
  private shown = -1;
  private printed: PressedGuise['prints'] | null = null;

  private constructor(
    private readonly seen: SeenMoving,
    private readonly view: BlankView,
    private readonly pack: Pack,
    private readonly poster: FrameMaps,
    private readonly kernel: SceneKernel,
  ) {}

  /** @throws Error with a sentence */
  static async open(seen: SeenMoving): Promise<MovingPress> {
    compiled ??= fetched('/scene.wasm').then((bytes) => compileSceneKernel(bytes));
    compiled.catch(() => (compiled = null));
    const [module, pack] = await Promise.all([compiled, packOf(seen.blank.id, seen.size <= seen.blank.width / 2)]);
    const view = viewOf(seen.blank, null, seen.size);
    const poster = await decode(pack, seen, view, seen.blank.poster, new Map());
    // All frames are shot as brightly as the one that shows the print best.
    const kernel = new SceneKernel(module, seen.blank, poster.maps, exposureOf(poster.maps, seen.blank.albedo));
    for (const [id, maps] of poster.areas) kernel.addArea(areaOf(seen.blank, id), maps);
    return new MovingPress(seen, view, pack, poster, kernel);
  }

  /** How a print area is seen, for the design that is drawn for it: once for all frames. */
  area(id: string): Pick<AreaMaps, 'pixelsPerMm' | 'part'> {
    const { pixelsPerMm, part } = this.poster.areas.get(id)!;
    return { pixelsPerMm, part };
  }

  /** Begins to decode a frame that will be asked for. */
  ahead(frame: number): void {
    this.mapsOf(frame).catch(() => undefined);
  }

  /** One frame, printed. Close it when it is not needed any more. @throws Error with a sentence when one of its pictures is broken */
  async draw(frame: number, { look, prints }: PressedGuise): Promise<ImageBitmap> {
    const { maps, areas } = await this.mapsOf(frame);
    if (this.shown !== frame) this.kernel.showFrame(maps, areas);
    this.shown = frame;
    if (this.printed !== prints)
      for (const { areaId, grid, texture } of prints)
        this.kernel.setTexture(areaId, { width: grid.width, height: grid.height, data: new Uint8Array(texture) }, grid);
    this.printed = prints;
    const { width, data } = this.kernel.render(
      look,
      prints.map(({ areaId }) => areaId),
    );
    return createImageBitmap(new ImageData(new Uint8ClampedArray(data), width));
  }

  private mapsOf(frame: number): Promise<FrameMaps> {
    const maps = this.decoded.get(frame) ?? decode(this.pack, this.seen, this.view, frame, this.poster.areas);
    this.decoded.delete(frame);
    this.decoded.set(frame, maps);
    maps.catch(() => this.decoded.delete(frame));
    for (const oldest of this.decoded.keys()) if (this.decoded.size > MOST_DECODED) this.decoded.delete(oldest);
    return maps;
  }
}

/** @param poster how the areas are seen on the frame that shows them best; none while that is decoded */
async function decode(
  pack: Pack,
  { blank, areaIds }: SeenMoving,
  view: BlankView,
  frame: number,
  poster: ReadonlyMap<string, AreaMaps>,
): Promise<FrameMaps> {
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
        const density = poster.get(area.id)?.pixelsPerMm;
        return [area.id, areaMapsOf(readMovingArea(...uvs[i]), area, width, WHOLE_AREA, density)] as const;
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
