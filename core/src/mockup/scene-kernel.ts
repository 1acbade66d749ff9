import { linearOf, rgbOf } from '../colour/srgb.js';
import type { Pixels } from '../raster/pixels.js';
import { FINER, MOST_TEXTURE, type TextureGrid } from './area.js';
import type { Blank } from './blank.js';
import { exposureOf } from './exposure.js';
import type { AreaMaps, SceneMaps } from './maps.js';
import { mergeAreas } from './merge-areas.js';

interface KernelExports {
  readonly memory: { readonly buffer: ArrayBuffer };
  allocate(bytes: number): number;
  expose(gain: number): void;
  standBefore(backdrop: number): void;
  renderProduct(...values: number[]): void;
  buildTexture(print: number, source: number, width: number, height: number, room: number): void;
  layPrint(print: number, coarser: number, adds: number): void;
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
}

/** Compiles the kernel once; pass the result to each {@link SceneKernel}. */
export const compileSceneKernel = (wasm: Uint8Array | ArrayBuffer): object => new WebAssembly.Module(wasm);

/** Print areas that one picture may show at once. */
export const MOST_PRINTS = 20;

/** A print area's texture in kernel memory. */
interface Texture {
  readonly print: number;
  readonly adds: boolean;
  at: number;
  pixels: number;
  grid: TextureGrid | null;
}

interface Laid {
  readonly key: string;
  readonly count: number;
  /** Entries that there is room for. */
  readonly room: number;
  readonly at: Readonly<Record<'index' | 'u' | 'v' | 'coverage' | 'detail' | 'print', number>>;
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
  private readonly textures = new Map<string, Texture>();
  private readonly pixels: number;
  /** Room for the pixels of a texture on their way in. */
  private source = { at: 0, pixels: 0 };
  /** The entries of the areas that were printed on last, in the order of their pixels. */
  private laid: Laid | null = null;
  private drawnProduct = '';
  /** Room for a picture behind the product; 0 until there was one. */
  private behindAt = 0;
  private isBehind = false;

  constructor(
    module: object,
    private readonly blank: Pick<Blank, 'albedo' | 'glossTint'>,
    readonly maps: Pick<SceneMaps, 'width' | 'height'> & SceneMaps,
    /** How brightly it is shot; found on the maps when absent. */
    exposure: number = exposureOf(maps, blank.albedo),
  ) {
    this.kernel = new WebAssembly.Instance(module, {
      env: {
        abort: () => {
          throw new Error('The scene kernel stopped.');
        },
      },
    }).exports as KernelExports;
    this.pixels = maps.width * maps.height;
    this.kernel.expose(exposure);
    this.at = {
      photo: this.put(maps.photo),
      mask: this.put(maps.mask),
      shade: this.put(maps.shade),
      shadow: this.put(maps.shadow),
      bare: this.kernel.allocate(this.pixels * 4),
      out: this.kernel.allocate(this.pixels * 4),
    };
  }

  /** Makes a print area known. @param adds true for a panel of cloth, false for a print that lies on what is below */
  addArea(id: string, maps: AreaMaps, adds = false): void {
    if (this.textures.size >= MOST_PRINTS)
      throw new RangeError(`One picture shows at most ${MOST_PRINTS} print areas.`);
    this.areas.set(id, maps);
    this.textures.set(id, { print: this.textures.size, adds, at: 0, pixels: 0, grid: null });
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
    this.kernel.buildTexture(own.print, this.source.at, texture.width, texture.height, own.at);
    this.kernel.layPrint(own.print, Math.log2((FINER * maps.pixelsPerMm) / grid.density), own.adds ? 1 : 0);
    own.grid = grid;
  }

  /**
   * Draws the scene and returns RGBA pixels, opaque, that stay valid until the next call.
   * @param areaIds print areas to print on, from the lowest to the topmost; none for the bare product
   */
  render(look: SceneLook, areaIds: readonly string[]): Pixels {
    const { photo, mask, shade, shadow, bare, out } = this.at;
    const garment = linear(look.garment);
    const { albedo, glossTint } = this.blank;
    const product = `${look.garment} ${look.backdrop} ${look.shadow} ${areaIds.join(' ')}`;
    // The bare product is kept: a new design only touches the pixels of its print area.
    if (product !== this.drawnProduct) {
      this.kernel.renderProduct(
        this.pixels,
        photo,
        mask,
        shade,
        shadow,
        bare,
        ...garment,
        ...linear(look.backdrop),
        albedo,
        glossTint,
        look.shadow,
      );
      new Uint8Array(this.kernel.memory.buffer).copyWithin(out, bare, bare + this.pixels * 4);
      this.drawnProduct = product;
    }
    const printed = areaIds.filter((id) => this.areaMaps(id) && this.textures.get(id)?.grid);
    if (printed.length) {
      const { count, at } = this.lay(printed);
      this.kernel.renderPrints(
        count,
        at.index,
        at.u,
        at.v,
        at.coverage,
        at.detail,
        at.print,
        photo,
        mask,
        shade,
        shadow,
        bare,
        out,
        look.inkOpacity,
        ...garment,
        albedo,
        glossTint,
      );
    }
    return {
      width: this.maps.width,
      height: this.maps.height,
      data: new Uint8ClampedArray(this.kernel.memory.buffer, out, this.pixels * 4),
    };
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
    if (!laid || laid.room < count)
      laid = {
        key,
        count,
        room: count,
        at: {
          index: this.kernel.allocate(count * 4),
          u: this.kernel.allocate(count * 2),
          v: this.kernel.allocate(count * 2),
          coverage: this.kernel.allocate(count),
          detail: this.kernel.allocate(count),
          print: this.kernel.allocate(count),
        },
      };
    for (const part of ['index', 'u', 'v', 'coverage', 'detail', 'print'] as const)
      this.write(laid.at[part], merged[part]);
    this.laid = { ...laid, key, count };
    return this.laid;
  }

  private put(values: Uint8Array | Uint16Array | Uint32Array): number {
    const at = this.kernel.allocate(values.byteLength);
    this.write(at, values);
    return at;
  }

  private write(at: number, values: Uint8Array | Uint8ClampedArray | Uint16Array | Uint32Array): void {
    new Uint8Array(this.kernel.memory.buffer, at, values.byteLength).set(
      new Uint8Array(values.buffer, values.byteOffset, values.byteLength),
    );
  }
}

const linear = (hex: string): [number, number, number] => {
  const { r, g, b } = rgbOf(hex);
  return [linearOf(r / 255), linearOf(g / 255), linearOf(b / 255)];
};
