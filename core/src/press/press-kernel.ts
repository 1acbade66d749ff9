import type { ColourTable } from './colour-table.js';

interface PressExports {
  readonly memory: { readonly buffer: ArrayBuffer };
  allocate(bytes: number): number;
  convert(source: number, count: number, table: number, target: number, extra: number): void;
  differ(row: number, width: number, samples: number): void;
  lzw(source: number, length: number, target: number): number;
}

// Core knows neither the browser's nor Node's types; both offer this much.
declare const WebAssembly: {
  Module: new (bytes: Uint8Array | ArrayBuffer) => object;
  Instance: new (module: object, imports: Record<string, Record<string, unknown>>) => { readonly exports: unknown };
};

/** Pixels worked on at a time: a strip of rows, so that memory stays small whatever the canvas. */
const MOST_AT_ONCE = 1 << 18;

/** What turns straight RGBA into the bytes of a print. One instance serves any number of pictures, one at a time. */
export class PressKernel {
  private readonly kernel: PressExports;
  private readonly source: number;
  private readonly table: number;
  private target = 0;
  private packed = 0;
  private room = 0;
  private held: ColourTable | null = null;

  /** @param wasm the compiled kernel's bytes */
  constructor(wasm: Uint8Array | ArrayBuffer) {
    this.kernel = new WebAssembly.Instance(new WebAssembly.Module(wasm), {
      env: {
        abort: () => {
          throw new Error('The press kernel stopped.');
        },
      },
    }).exports as PressExports;
    this.source = this.kernel.allocate(MOST_AT_ONCE * 4);
    this.table = this.kernel.allocate(33 ** 3 * 8);
    this.grow(MOST_AT_ONCE * 5);
  }

  /**
   * Colours sent through a table.
   * @param rgba straight RGBA, 8 bits
   * @param alpha true for five values a pixel, the last one its alpha; clear pixels then are all zero
   * @returns four or five bytes a pixel
   */
  convert(rgba: Uint8Array | Uint8ClampedArray, table: ColourTable, alpha: boolean): Uint8Array {
    const count = rgba.length / 4;
    const step = alpha ? 5 : 4;
    const out = new Uint8Array(count * step);
    for (let from = 0; from < count; from += MOST_AT_ONCE) {
      const some = Math.min(MOST_AT_ONCE, count - from);
      this.hold(table);
      this.bytes(this.source, some * 4).set(rgba.subarray(from * 4, (from + some) * 4));
      this.kernel.convert(this.source, some, this.table, this.target, alpha ? 1 : 0);
      out.set(this.bytes(this.target, some * step), from * step);
    }
    return out;
  }

  /**
   * A strip of rows packed by LZW, as TIFF has it.
   * @param samples bytes a pixel
   * @param differences true to pack the differences of neighbours, TIFF's predictor 2
   */
  lzw(strip: Uint8Array, width: number, samples: number, differences: boolean): Uint8Array {
    this.grow(strip.length);
    this.bytes(this.target, strip.length).set(strip);
    if (differences)
      for (let row = 0; row < strip.length; row += width * samples)
        this.kernel.differ(this.target + row, width, samples);
    const length = this.kernel.lzw(this.target, strip.length, this.packed);
    return this.bytes(this.packed, length).slice();
  }

  /** Rows as the differences of neighbours, TIFF's predictor 2. */
  differences(strip: Uint8Array, width: number, samples: number): Uint8Array {
    this.grow(strip.length);
    this.bytes(this.target, strip.length).set(strip);
    for (let row = 0; row < strip.length; row += width * samples) this.kernel.differ(this.target + row, width, samples);
    return this.bytes(this.target, strip.length).slice();
  }

  private hold(table: ColourTable): void {
    if (this.held === table) return;
    this.bytes(this.table, table.values.byteLength).set(
      new Uint8Array(table.values.buffer, table.values.byteOffset, table.values.byteLength),
    );
    this.held = table;
  }

  private grow(bytes: number): void {
    if (bytes <= this.room) return;
    this.room = bytes;
    this.target = this.kernel.allocate(bytes);
    this.packed = this.kernel.allocate(bytes * 1.5 + 64);
  }

  private bytes(at: number, length: number): Uint8Array {
    return new Uint8Array(this.kernel.memory.buffer, at, length);
  }
}
