/// <reference lib="webworker" />
import type { Pixels } from '@kettle/core/geometry';
import { isInRoom } from '@kettle/core/model';
import {
  areaOf,
  asBehind,
  compileSceneKernel,
  gradientBehind,
  readPreview,
  seenBehind,
  SceneKernel,
  viewOf,
  type AreaMaps,
} from '@kettle/core/mockup';
import { fetchPatiently } from '../data/again';
import type { SceneReply, SceneRequest, SeenBlank, ShownLook } from './scene-messages';

// Draws scenes with the same WebAssembly, on the same reduced maps, as the server.

let compiled: Promise<object> | null = null;

async function fetched(url: string): Promise<ArrayBuffer> {
  const response = await fetchPatiently(url);
  if (!response.ok) throw new Error('A picture of this blank could not be loaded.');
  return response.arrayBuffer();
}

/** Name of what is seen of a blank, whatever is printed on it. */
const nameOf = ({ blank, crop, size }: SeenBlank): string =>
  [blank.id, size, ...(crop ? [crop.x, crop.y, crop.width, crop.height] : [])].join(' ');

/** @param alone for a blank that is there already: the maps of one more print area */
const preview = async ({ blank, crop, size }: SeenBlank, areaId: string, alone = false) =>
  readPreview(
    await fetched(
      `/api/blanks/${blank.id}/preview?area=${areaId}&size=${size}` +
        (crop ? `&crop=${crop.x},${crop.y},${crop.width},${crop.height}` : '') +
        (alone ? '&alone' : ''),
    ),
  );

/** Blanks that are ready to be printed on, the one used last at the end. */
class ReadyBlanks {
  private readonly kernels = new Map<string, Promise<SceneKernel>>();

  constructor(private readonly most: number) {}

  has(seen: SeenBlank): boolean {
    return this.kernels.has(nameOf(seen));
  }

  /** @throws Error when it was never loaded, or is not there any more */
  async get(seen: SeenBlank): Promise<SceneKernel> {
    const kernel = await this.kernels.get(nameOf(seen));
    if (!kernel || !seen.areaIds.every((id) => kernel.hasArea(id))) throw new Error('This blank is not loaded.');
    return kernel;
  }

  async load(seen: SeenBlank): Promise<SceneKernel> {
    const name = nameOf(seen);
    const entry = this.kernels.get(name) ?? this.begin(seen);
    this.kernels.delete(name);
    this.kernels.set(name, entry);
    // What failed is tried again when it is asked for again.
    entry.catch(() => this.kernels.delete(name));
    for (const oldest of this.kernels.keys()) if (this.kernels.size > this.most) this.kernels.delete(oldest);
    const kernel = await entry;
    await Promise.all(
      seen.areaIds.map(async (id) => {
        if (kernel.hasArea(id)) return;
        const { area } = await preview(seen, id, true);
        // Another request may have brought it meanwhile.
        if (!kernel.hasArea(id)) add(kernel, seen, id, area);
      }),
    );
    return kernel;
  }

  private async begin(seen: SeenBlank): Promise<SceneKernel> {
    compiled ??= fetched('/scene.wasm').then((bytes) => compileSceneKernel(bytes));
    compiled.catch(() => (compiled = null));
    const [first] = seen.areaIds;
    const [module, { maps, area, exposure }] = await Promise.all([compiled, preview(seen, first)]);
    const kernel = new SceneKernel(module, seen.blank, maps, exposure);
    add(kernel, seen, first, area);
    return kernel;
  }
}

const add = (kernel: SceneKernel, { blank }: SeenBlank, areaId: string, maps: AreaMaps): void =>
  kernel.addArea(areaOf(blank, areaId), maps);

/** Largest side of what is looked at, px. */
const LARGE_SIZE = 1000;
/** Each takes about 25 MB. */
const large = new ReadyBlanks(6);
/** For files: up to 100 MB each, and needed once. */
const once = new ReadyBlanks(1);
const poolOf = ({ size }: SeenBlank): ReadyBlanks => (size > LARGE_SIZE ? once : large);
/** Each takes about 2 MB. */
const small = new ReadyBlanks(60);

/** Makes blanks ready that may be looked at next, one after the other, behind whatever is asked for meanwhile. */
async function prepare(blanks: readonly SeenBlank[]): Promise<void> {
  for (const seen of blanks) {
    if (!large.has(seen)) await large.load(seen).catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve, 60));
  }
}

/** What the page shows: product, areas, colours. */
let shown = '';

/** What stands behind in each kernel by now: it is laid there again only when it is another. */
const behinds = new WeakMap<SceneKernel, string>();

async function standBefore(
  kernel: SceneKernel,
  { blank, crop, size }: SeenBlank,
  { backdrop, behind }: ShownLook,
): Promise<void> {
  const wanted = behind && !isInRoom(blank) ? `${backdrop} ${JSON.stringify(behind)}` : '';
  if ((behinds.get(kernel) ?? '') === wanted) return;
  behinds.set(kernel, wanted);
  const view = viewOf(blank, crop, size);
  if (!behind || !wanted) kernel.setBehind(null);
  else if (behind.kind === 'gradient') kernel.setBehind(gradientBehind(backdrop, behind, blank, view));
  else {
    const picture = await pictureOf(behind.assetId);
    const surface = new OffscreenCanvas(view.width, view.height).getContext('2d', { willReadFrequently: true })!;
    surface.fillStyle = backdrop;
    surface.fillRect(0, 0, view.width, view.height);
    const { x, y, width, height } = seenBehind(picture, blank, view);
    surface.imageSmoothingQuality = 'high';
    surface.drawImage(picture, x, y, width, height, 0, 0, view.width, view.height);
    const { data } = surface.getImageData(0, 0, view.width, view.height);
    // Another one may have been wished for meanwhile.
    if (behinds.get(kernel) === wanted)
      kernel.setBehind(asBehind({ width: view.width, height: view.height, data }, behind, blank, view));
  }
}

/** Pictures that stood behind last, decoded. */
const pictures = new Map<string, Promise<ImageBitmap>>();
const MOST_PICTURES = 4;

function pictureOf(assetId: string): Promise<ImageBitmap> {
  const picture =
    pictures.get(assetId) ??
    fetched(`/api/assets/${encodeURIComponent(assetId)}/rendition?size=1024`).then((bytes) =>
      createImageBitmap(new Blob([bytes])),
    );
  pictures.delete(assetId);
  pictures.set(assetId, picture);
  picture.catch(() => pictures.delete(assetId));
  for (const oldest of pictures.keys()) if (pictures.size > MOST_PICTURES) pictures.delete(oldest);
  return picture;
}

/** Frames are drawn in the order in which they were asked for, also where one waits for the picture behind it. */
let last: Promise<unknown> = Promise.resolve();
function drawn(...frame: Parameters<typeof drawOne>): Promise<Pixels> {
  const now = last.then(() => drawOne(...frame));
  last = now.catch(() => undefined);
  return now;
}

/** Draws with the kernel that is ready. */
async function drawOne(
  kernel: SceneKernel,
  { seen, look, prints }: Extract<SceneRequest, { kind: 'draw' | 'draw-small' | 'picture' }>,
): Promise<Pixels> {
  // A picture that cannot be had leaves the colour.
  await standBefore(kernel, seen, look).catch(() => {
    behinds.delete(kernel);
    kernel.setBehind(null);
  });
  for (const { areaId, grid, texture } of prints)
    kernel.setTexture(areaId, { width: grid.width, height: grid.height, data: new Uint8Array(texture) }, grid);
  return kernel.render(
    look,
    prints.map((print) => print.areaId),
  );
}

async function answer(request: SceneRequest): Promise<{ reply: SceneReply; transfer: Transferable[] } | null> {
  switch (request.kind) {
    case 'prepare':
      void prepare(request.blanks);
      return null;
    case 'load': {
      const kernel = await poolOf(request.seen).load(request.seen);
      const { width, height } = kernel.maps;
      const maps = request.seen.areaIds.map((id) => kernel.areaMaps(id));
      return { reply: { kind: 'loaded', id: request.id, width, height, maps }, transfer: [] };
    }
    case 'load-small': {
      const kernel = await small.load(request.seen);
      const areas = request.seen.areaIds.map((id) => {
        const { pixelsPerMm, part } = kernel.areaMaps(id);
        return { pixelsPerMm, part };
      });
      return { reply: { kind: 'loaded-small', id: request.id, areas }, transfer: [] };
    }
    case 'draw-small': {
      const { width, height, data } = await drawn(await small.get(request.seen), request);
      const canvas = new OffscreenCanvas(width, height);
      canvas.getContext('2d')!.putImageData(new ImageData(new Uint8ClampedArray(data), width), 0, 0);
      const picture = await canvas.convertToBlob({ type: 'image/webp', quality: 0.9 });
      return { reply: { kind: 'drawn-small', id: request.id, picture }, transfer: [] };
    }
    case 'picture': {
      const { width, data } = await drawn(await poolOf(request.seen).get(request.seen), request);
      // The page has none of its rows: the next frame on the stage is sent whole.
      shown = '';
      const picture = await createImageBitmap(new ImageData(new Uint8ClampedArray(data), width));
      return { reply: { kind: 'picture', id: request.id, picture }, transfer: [picture] };
    }
    case 'draw': {
      const { seen, look } = request;
      const kernel = await large.get(seen);
      const start = performance.now();
      const { width, height, data } = await drawn(kernel, request);
      // The bare product lies still while the design moves: its rows are sent once.
      const product = [
        nameOf(seen),
        ...seen.areaIds,
        look.garment,
        look.backdrop,
        look.shadow,
        JSON.stringify([look.behind, look.look]),
      ].join(' ');
      const [, top, , bottom] = product === shown ? kernel.changedBy(seen.areaIds) : [0, 0, width, height];
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
