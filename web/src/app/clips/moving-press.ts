import { areaOf, compileSceneKernel, exposureOf, SceneKernel, type AreaMaps } from '@kettle/core/mockup';
import type { FrameSource } from './frame-source';
import { fetched, type FrameMaps } from './moving-frames';
import type { PressedGuise, SeenMoving } from './moving-messages';

// Prints on the frames of a moving blank. For a worker: it computes.

/**
 * Memory for maps of frames that were read, bytes: what turns back shows its last ones again. The one in hand and the next
 * are held whatever they take.
 */
const MOST_BYTES = 20e6;
const LEAST_READ = 2;
/** Bytes of maps for a pixel of the picture, and about as much again for the areas on it. */
const BYTES_PER_PIXEL = 14;

let compiled: Promise<object> | null = null;

/** A moving blank at a size, ready to be printed on frame by frame. */
export class MovingPress {
  private readonly read = new Map<number, Promise<FrameMaps>>();
  private readonly densities: ReadonlyMap<string, number>;
  private shown = -1;
  private printed: PressedGuise['prints'] | null = null;

  private constructor(
    private readonly seen: SeenMoving,
    private readonly source: FrameSource,
    private readonly poster: FrameMaps,
    private readonly kernel: SceneKernel,
  ) {
    this.densities = new Map([...poster.areas].map(([id, { pixelsPerMm }]) => [id, pixelsPerMm]));
  }

  /** @throws Error with a sentence */
  static async open(seen: SeenMoving, source: FrameSource): Promise<MovingPress> {
    compiled ??= fetched('/scene.wasm').then((bytes) => compileSceneKernel(bytes));
    compiled.catch(() => (compiled = null));
    const [module, poster] = await Promise.all([compiled, source.read(seen, seen.blank.poster)]);
    // All frames are shot as brightly as the one that shows the print best.
    const kernel = new SceneKernel(module, seen.blank, poster.maps, exposureOf(poster.maps, seen.blank.albedo));
    for (const [id, maps] of poster.areas) kernel.addArea(areaOf(seen.blank, id), maps);
    return new MovingPress(seen, source, poster, kernel);
  }

  /** How a print area is seen, for the design that is drawn for it: once for all frames. */
  area(id: string): Pick<AreaMaps, 'pixelsPerMm' | 'part'> {
    const { pixelsPerMm, part } = this.poster.areas.get(id)!;
    return { pixelsPerMm, part };
  }

  /** Has a frame read that will be asked for. */
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
    const maps = this.read.get(frame) ?? this.source.read(this.seen, frame, this.densities);
    this.read.delete(frame);
    this.read.set(frame, maps);
    maps.catch(() => this.read.delete(frame));
    const { width, height } = this.kernel.maps;
    const most = Math.max(LEAST_READ, Math.floor(MOST_BYTES / (width * height * BYTES_PER_PIXEL)));
    for (const oldest of this.read.keys()) if (this.read.size > most) this.read.delete(oldest);
    return maps;
  }
}
