import { linearOf, rgbOf } from '../colour/srgb.js';
import type { Pixels } from '../raster/pixels.js';
import { FINER, MOST_TEXTURE, type TextureGrid } from './area.js';
import type { Blank } from './blank.js';
import { exposureOf } from './exposure.js';
import type { AreaMaps, SceneMaps } from './maps.js';

interface KernelExports {
  readonly memory: { readonly buffer: ArrayBuffer };
  allocate(bytes: number): number;
  expose(gain: number): void;
  renderProduct(...values: number[]): void;
  buildTexture(source: number, width: number, height: number, room: number): void;
  renderPrint(...values: number[]): void;
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

/**
 * One blank at one size, ready to be printed on again and again. The same WebAssembly runs in the browser's worker
 * and on the server,
 * so a preview and the finished picture are the same pixels.
 */
export class SceneKernel {
  private readonly kernel: KernelExports;
  private readonly at: Record<'photo' | 'mask' | 'shade' | 'shadow' | 'bare' | 'out', number>;
  private readonly areas = new Map<
    string,
    { maps: AreaMaps; at: Record<'index' | 'u' | 'v' | 'coverage' | 'detail', number> }
  >();
  private readonly pixels: number;
  private textureRoom = { at: 0, source: 0, pixels: 0 };
  private grid: TextureGrid | null = null;
  private drawnProduct = '';

  constructor(
    module: object,
    private readonly blank: Pick<Blank, 'albedo' | 'glossTint'>,
    readonly maps: Pick<SceneMaps, 'width' | 'height'> & SceneMaps,
  ) {
    this.kernel = new WebAssembly.Instance(module, {
      env: {
        abort: () => {
          throw new Error('The scene kernel stopped.');
        },
      },
    }).exports as KernelExports;
    this.pixels = maps.width * maps.height;
    this.kernel.expose(exposureOf(maps, blank.albedo));
    this.at = {
      photo: this.put(maps.photo),
      mask: this.put(maps.mask),
      shade: this.put(maps.shade),
      shadow: this.put(maps.shadow),
      bare: this.kernel.allocate(this.pixels * 4),
      out: this.kernel.allocate(this.pixels * 4),
    };
  }

  /** Makes a print area known. */
  addArea(id: string, maps: AreaMaps): void {
    this.areas.set(id, {
      maps,
      at: {
        index: this.put(maps.index),
        u: this.put(maps.u),
        v: this.put(maps.v),
        coverage: this.put(maps.coverage),
        detail: this.put(maps.detail),
      },
    });
  }

  hasArea(id: string): boolean {
    return this.areas.has(id);
  }

  areaMaps(id: string): AreaMaps {
    const area = this.areas.get(id);
    if (!area) throw new RangeError(`This blank has no print area “${id}”.`);
    return area.maps;
  }

  /** Takes a design drawn on a texture grid. @throws RangeError when the sizes differ or exceed {@link MOST_TEXTURE} */
  setTexture(texture: Pixels, grid: TextureGrid): void {
    if (
      texture.width !== grid.width ||
      texture.height !== grid.height ||
      Math.max(grid.width, grid.height) > MOST_TEXTURE
    ) {
      throw new RangeError('The design does not fit the print area’s grid.');
    }
    const pixels = texture.width * texture.height;
    if (pixels > this.textureRoom.pixels) {
      // All mip levels together need a third more than the first, and each rounds up.
      this.textureRoom = {
        source: this.kernel.allocate(pixels * 4),
        at: this.kernel.allocate(Math.ceil(pixels * 8 * 1.34) + 4096),
        pixels,
      };
    }
    new Uint8Array(this.kernel.memory.buffer, this.textureRoom.source, pixels * 4).set(texture.data);
    this.kernel.buildTexture(this.textureRoom.source, texture.width, texture.height, this.textureRoom.at);
    this.grid = grid;
  }

  /**
   * Draws the scene and returns RGBA pixels, opaque, that stay valid until the next call.
   * @param areaId print area to print on, or null for the bare product
   */
  render(look: SceneLook, areaId: string | null): Pixels {
    const { photo, mask, shade, shadow, bare, out } = this.at;
    const garment = linear(look.garment);
    const { albedo, glossTint } = this.blank;
    const product = `${look.garment} ${look.backdrop} ${look.shadow} ${areaId}`;
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
    if (areaId !== null && this.grid) {
      const area = this.areas.get(areaId);
      if (!area) throw new RangeError(`This blank has no print area “${areaId}”.`);
      const { index, u, v, coverage, detail } = area.at;
      this.kernel.renderPrint(
        area.maps.count,
        index,
        u,
        v,
        coverage,
        detail,
        photo,
        mask,
        shade,
        shadow,
        bare,
        out,
        this.grid.width,
        this.grid.height,
        Math.max(0, Math.log2((FINER * area.maps.pixelsPerMm) / this.grid.density)),
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

  private put(values: Uint8Array | Uint16Array | Uint32Array): number {
    const at = this.kernel.allocate(values.byteLength);
    new Uint8Array(this.kernel.memory.buffer, at, values.byteLength).set(
      new Uint8Array(values.buffer, values.byteOffset, values.byteLength),
    );
    return at;
  }
}

const linear = (hex: string): [number, number, number] => {
  const { r, g, b } = rgbOf(hex);
  return [linearOf(r / 255), linearOf(g / 255), linearOf(b / 255)];
};
