import type { Look } from '../model/scene.js';
import { linearOf, rgbOf } from '../colour/srgb.js';
import type { Pixels } from '../geometry/pixels.js';
import { FINER, MOST_TEXTURE, type TextureGrid } from './area.js';
import type { Blank, PrintArea } from '../model/blank.js';
import { exposureOf } from './exposure.js';
import { inkOn, PLAIN_LOOK } from './look.js';
import type { AreaMaps, SceneMaps } from './maps.js';
import { mergeAreas } from './merge-areas.js';

interface KernelExports {
  readonly memory: { readonly buffer: ArrayBuffer };
  allocate(bytes: number): number;
  expose(gain: number, folds: number): void;
  knitted(strength: number, across: number, down: number): void;
  inkAs(sheen: number, film: number, dye: number, relief: number, seep: number, edge: number): void;
  layCloth(...values: number[]): void;
  knitProduct(...values: number[]): void;
  finish(...values: number[]): void;
  standBefore(backdrop: number): void;
  renderProduct(...values: number[]): void;
  buildTexture(...values: number[]): void;
  layPrint(print: number, coarser: number, adds: number, span: number): void;
  renderPrints(...values: number[]): void;
}

// Core knows neither the browser's nor Node's types; both offer this much.
declare const WebAssembly: {
  Module: new (bytes: Uint8Array | ArrayBuffer) => object;
  Instance: new (module: object, imports: Record<string, Record<string, unknown>>) => { readonly exports: unknown };
};

/** How a scene is lit and coloured. */
export interface SceneLook {
  readonly garment: string;
  readonly backdrop: string;
  /** 0 to 1. */
  readonly inkOpacity: number;
  /** 0 to 1. */
  readonly shadow: number;
  /** Nothing is added when it is absent. */
  readonly look?: Look;
}

/** Stitches of a tee's jersey, per mm across and down: 14 wales and 19 courses a centimetre, as in a cloth of 150 g/m². */
const STITCHES = { across: 1.4, down: 1.9 } as const;
/** Longest side of a picture that shows all of what a camera adds, px. */
const FINISHED_AT = 2000;
/** How far a stitch changes the light where the knit is as strong as it gets, as a share. */
const KNIT_LIGHT = 0.28;

/** Compiles the kernel once; pass the result to each {@link SceneKernel}. */
export const compileSceneKernel = (wasm: Uint8Array | ArrayBuffer): object => new WebAssembly.Module(wasm);

/** Print areas that one picture may show at once. */
export const MOST_PRINTS = 20;

/** A print area's texture in kernel memory. */
interface Texture {
  readonly print: number;
  readonly area: Pick<PrintArea, 'widthMm' | 'heightMm' | 'kind'>;
  at: number;
  pixels: number;
  grid: TextureGrid | null;
}

interface Laid {
  readonly key: string;
  readonly count: number;
  /** Entries that there is room for. */
  readonly room: number;
  readonly at: Readonly<Record<'index' | 'u' | 'v' | 'coverage' | 'detail' | 'along' | 'print', number>>;
}

/**
 * One blank at one size, ready to be printed on again and again. The same WebAssembly runs in the browser's worker
 * and on the server,
 * so a preview and the finished picture are the same pixels.
 */
export class SceneKernel {
  private readonly kernel: KernelExports;
  private readonly at: Record<'photo' | 'mask' | 'shade' | 'shadow' | 'bare' | 'out', number>;
  private readonly areas = new Map<string, AreaMaps>();
  /** Where each print area lies in the picture, once that was asked. */
  private readonly bounds = new Map<string, readonly [number, number, number, number]>();
  private readonly textures = new Map<string, Texture>();
  private readonly pixels: number;
  /** Room for the pixels of a texture on their way in. */
  private source = { at: 0, pixels: 0 };
  /** The entries of the areas that were printed on last, in the order of their pixels. */
  private laid: Laid | null = null;
  private drawnProduct = '';
  /** Room for the picture as a camera finishes it; 0 until there was one. */
  private finishedAt = 0;
  /** Room for a picture behind the product; 0 until there was one. */
  private behindAt = 0;
  private isBehind = false;

  constructor(
    module: object,
    private readonly blank: Pick<Blank, 'albedo' | 'glossTint'>,
    public maps: SceneMaps,
    /** How brightly it is shot; found on the maps when absent. */
    readonly exposure: number = exposureOf(maps, blank.albedo),
  ) {
    this.kernel = new WebAssembly.Instance(module, {
      env: {
        abort: () => {
          throw new Error('The scene kernel stopped.');
        },
      },
    }).exports as KernelExports;
    this.pixels = maps.width * maps.height;
    this.kernel.knitted(0, STITCHES.across, STITCHES.down);
    this.at = {
      photo: this.put(maps.photo),
      mask: this.put(maps.mask),
      shade: this.put(maps.shade),
      shadow: this.put(maps.shadow),
      bare: this.kernel.allocate(this.pixels * 4),
      out: this.kernel.allocate(this.pixels * 4),
    };
  }

  /** Makes a print area known. A panel's ink lies beside that of other panels, any other's on what is below. */
  addArea(area: Pick<PrintArea, 'id' | 'widthMm' | 'heightMm' | 'kind'>, maps: AreaMaps): void {
    if (this.textures.size >= MOST_PRINTS)
      throw new RangeError(`One picture shows at most ${MOST_PRINTS} print areas.`);
    this.areas.set(area.id, maps);
    this.textures.set(area.id, { print: this.textures.size, area, at: 0, pixels: 0, grid: null });
  }

  /**
   * Takes the maps of another frame of the same moving blank, with those of the areas it knows. Designs stay where they
   * are on their areas. @throws RangeError when it is of another size
   */
  showFrame(maps: SceneMaps, areas: ReadonlyMap<string, AreaMaps>): void {
    if (maps.width !== this.maps.width || maps.height !== this.maps.height)
      throw new RangeError('All frames of a moving blank are of one size.');
    for (const part of ['photo', 'mask', 'shade', 'shadow'] as const) this.write(this.at[part], maps[part]);
    for (const [id, area] of areas) if (this.areas.has(id)) this.areas.set(id, area);
    this.maps = maps;
    this.bounds.clear();
    if (this.laid) this.laid = { ...this.laid, key: '' };
    this.drawnProduct = '';
  }

  hasArea(id: string): boolean {
    return this.areas.has(id);
  }

  areaMaps(id: string): AreaMaps {
    const maps = this.areas.get(id);
    if (!maps) throw new RangeError(`This blank has no print area “${id}”.`);
    return maps;
  }

  /** Takes a design drawn on a print area's grid. @throws RangeError when the sizes differ or exceed {@link MOST_TEXTURE} */
  setTexture(areaId: string, texture: Pixels, grid: TextureGrid): void {
    const maps = this.areaMaps(areaId);
    const own = this.textures.get(areaId)!;
    if (
      texture.width !== grid.width ||
      texture.height !== grid.height ||
      Math.max(grid.width, grid.height) > MOST_TEXTURE
    ) {
      throw new RangeError('The design does not fit the print area’s grid.');
    }
    const pixels = texture.width * texture.height;
    if (pixels > this.source.pixels) this.source = { at: this.kernel.allocate(pixels * 4), pixels };
    if (pixels > own.pixels) {
      // All mip levels together need a third more than the first, and each rounds up.
      own.at = this.kernel.allocate(Math.ceil(pixels * 8 * 1.34) + 4096);
      own.pixels = pixels;
    }
    new Uint8Array(this.kernel.memory.buffer, this.source.at, pixels * 4).set(texture.data);
    const finer = grid.density / maps.pixelsPerMm;
    const isPanel = own.area.kind === 'all-over';
    this.kernel.buildTexture(own.print, this.source.at, texture.width, texture.height, own.at);
    this.kernel.layPrint(own.print, Math.log2(FINER / finer), isPanel ? 1 : 0, finer);
    const { widthMm, heightMm } = own.area;
    const { x, y, width, height } = maps.part;
    this.kernel.layCloth(
      own.print,
      (width * widthMm) / 65535,
      x * widthMm,
      (height * heightMm) / 65535,
      y * heightMm,
      isPanel ? 0 : widthMm,
      heightMm,
      maps.pixelsPerMm,
    );
    own.grid = grid;
  }

  /**
   * Draws the scene and returns RGBA pixels, opaque, that stay valid until the next call.
   * @param areaIds print areas to print on, from the lowest to the topmost; none for the bare product
   */
  render(look: SceneLook, areaIds: readonly string[]): Pixels {
    const { photo, mask, shade, shadow, bare, out } = this.at;
    const place = [photo, mask, shade, shadow];
    const garment = linear(look.garment);
    const { albedo, glossTint } = this.blank;
    const { ink, folds, knit, softness, grain } = look.look ?? PLAIN_LOOK;
    const product = [look.garment, look.backdrop, look.shadow, folds, knit, softness, grain, ...areaIds].join(' ');
    const printed = areaIds.filter((id) => this.areaMaps(id) && this.textures.get(id)?.grid);
    const laid = printed.length ? this.lay(printed) : null;
    const isNew = product !== this.drawnProduct;
    const strength = laid ? knit * KNIT_LIGHT : 0;
    this.kernel.knitted(strength, STITCHES.across, STITCHES.down);
    // The bare product is kept: a new design only touches the pixels of its print area.
    if (isNew) {
      this.kernel.expose(this.exposure, folds);
      this.kernel.renderProduct(
        this.pixels,
        ...place,
        bare,
        ...garment,
        ...linear(look.backdrop),
        albedo,
        glossTint,
        look.shadow,
      );
      if (laid && strength > 0) {
        const { index, u, v, detail, print } = laid.at;
        const { count } = laid;
        this.kernel.knitProduct(count, index, u, v, detail, print, ...place, bare, ...garment, albedo, glossTint);
      }
      new Uint8Array(this.kernel.memory.buffer).copyWithin(out, bare, bare + this.pixels * 4);
      this.drawnProduct = product;
    }
    if (laid) {
      const { count, at } = laid;
      const { sheen, film, dye, relief, seep, edge } = inkOn(ink, look.garment);
      this.kernel.inkAs(sheen, film, dye, relief, seep, edge);
      this.kernel.renderPrints(
        count,
        at.index,
        at.u,
        at.v,
        at.coverage,
        at.detail,
        at.along,
        at.print,
        ...place,
        bare,
        out,
        look.inkOpacity,
        ...garment,
        albedo,
        glossTint,
      );
    }
    const { width, height } = this.maps;
    let shown = out;
    // A small picture is a large one made smaller: less of a lens and a sensor is left.
    const share = Math.min(1, Math.max(width, height) / FINISHED_AT);
    if (softness > 0 || grain > 0) {
      shown = this.finishedAt ||= this.kernel.allocate(this.pixels * 4);
      const changed = isNew ? [0, 0, width, height] : this.changedBy(printed);
      this.kernel.finish(out, shown, width, height, ...changed, softness * share, grain * share);
    }
    return { width, height, data: new Uint8ClampedArray(this.kernel.memory.buffer, shown, this.pixels * 4) };
  }

  /** What a design on some areas changes of the picture: first column and row, and the ones after the last. */
  changedBy(areaIds: readonly string[]): readonly [left: number, top: number, right: number, bottom: number] {
    const { width, height } = this.maps;
    let [left, top, right, bottom] = [width, height, 0, 0];
    for (const id of areaIds) {
      const seen = this.boundsOf(id);
      left = Math.min(left, seen[0]);
      top = Math.min(top, seen[1]);
      right = Math.max(right, seen[2]);
      bottom = Math.max(bottom, seen[3]);
    }
    // A lens takes something of its neighbours.
    return right === 0
      ? [0, 0, 0, 0]
      : [Math.max(0, left - 1), Math.max(0, top - 1), Math.min(width, right + 1), Math.min(height, bottom + 1)];
  }

  private boundsOf(areaId: string): readonly [number, number, number, number] {
    let bounds = this.bounds.get(areaId);
    if (!bounds) {
      const { width } = this.maps;
      const { index, count } = this.areaMaps(areaId);
      let [left, right] = [width, 0];
      for (let i = 0; i < count; i++) {
        const x = index[i] % width;
        if (x < left) left = x;
        if (x >= right) right = x + 1;
      }
      bounds = count
        ? [left, Math.floor(index[0] / width), right, Math.floor(index[count - 1] / width) + 1]
        : [width, Infinity, 0, 0];
      this.bounds.set(areaId, bounds);
    }
    return bounds;
  }

  /** Sets the product before an opaque picture as large as the scene, or, with null, before its backdrop's colour. */
  setBehind(picture: Pixels | null): void {
    if (picture && (picture.width !== this.maps.width || picture.height !== this.maps.height))
      throw new RangeError('What stands behind the product is not as large as the picture.');
    if (picture) {
      this.behindAt ||= this.kernel.allocate(this.pixels * 4);
      this.write(this.behindAt, picture.data);
    } else if (!this.isBehind) return;
    this.isBehind = picture !== null;
    this.kernel.standBefore(picture ? this.behindAt : 0);
    this.drawnProduct = '';
  }

  /** The entries of some areas in kernel memory, those of one pixel one after the other. */
  private lay(areaIds: readonly string[]): Laid {
    const key = areaIds.join(' ');
    if (this.laid?.key === key) return this.laid;
    const all = areaIds.map((id) => ({ maps: this.areaMaps(id), print: this.textures.get(id)!.print }));
    const merged = mergeAreas(all);
    const { count } = merged;
    let { laid } = this;
    if (!laid || laid.room < count) {
      // What another frame sees of the same areas is about as much.
      const room = Math.ceil(count * 1.1);
      laid = {
        key,
        count,
        room,
        at: {
          index: this.kernel.allocate(room * 4),
          u: this.kernel.allocate(room * 2),
          v: this.kernel.allocate(room * 2),
          coverage: this.kernel.allocate(room),
          detail: this.kernel.allocate(room),
          along: this.kernel.allocate(room * 2),
          print: this.kernel.allocate(room),
        },
      };
    }
    for (const part of ['index', 'u', 'v', 'coverage', 'detail', 'along', 'print'] as const)
      this.write(laid.at[part], merged[part]);
    this.laid = { ...laid, key, count };
    return this.laid;
  }

  private put(values: Uint8Array | Uint16Array | Uint32Array): number {
    const at = this.kernel.allocate(values.byteLength);
    this.write(at, values);
    return at;
  }

  private write(at: number, values: Uint8Array | Uint8ClampedArray | Int8Array | Uint16Array | Uint32Array): void {
    new Uint8Array(this.kernel.memory.buffer, at, values.byteLength).set(
      new Uint8Array(values.buffer, values.byteOffset, values.byteLength),
    );
  }
}

const linear = (hex: string): [number, number, number] => {
  const { r, g, b } = rgbOf(hex);
  return [linearOf(r / 255), linearOf(g / 255), linearOf(b / 255)];
};
