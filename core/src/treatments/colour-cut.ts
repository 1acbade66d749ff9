import { rgbOf } from '../colour/srgb.js';
import type { Pixels } from '../geometry/pixels.js';
import { BAND, emptyMatte, type Matte } from './matte.js';
import type { ColourCut } from '../model/treatment.js';

interface TreatExports {
  readonly memory: { readonly buffer: ArrayBuffer };
  reset(): void;
  allocate(bytes: number): number;
  cutColour(...values: number[]): void;
}

// Core knows neither the browser's nor Node's types; both offer this much.
declare const WebAssembly: {
  Module: new (bytes: Uint8Array | ArrayBuffer) => object;
  Instance: new (module: object, imports: Record<string, Record<string, unknown>>) => { readonly exports: unknown };
};

/** The compiled loops of treatments, in memory of their own. */
export type TreatKernel = TreatExports & { readonly isTreatKernel: true };

/** Makes the kernel that {@link cutColour} runs in. One serves any number of pictures, one after the other. */
export const compileTreatKernel = (wasm: Uint8Array | ArrayBuffer): TreatKernel =>
  new WebAssembly.Instance(new WebAssembly.Module(wasm), {
    env: {
      abort: () => {
        throw new Error('The treatment kernel stopped.');
      },
    },
  }).exports as TreatKernel;

const FROM = { border: 0, point: 1, everywhere: 2 } as const;

/** What compression may have left beside an edge, levels: by the tolerance that its noise asks for. */
const ringing = (tolerance: number): number => (tolerance > 3 ? 52 : 10);

/**
 * Takes a colour out of a picture's working copy. The ground is what lies within the tolerance; from there inwards each
 * cell asks what pure colour the art has behind it: a few cells at a clean edge, as far as it goes on at a soft one,
 * whose colour leaves the ground's step by step, never turns back, and has left it by the depth that an edge may have:
 * art that goes on shading into the ground's colour is art. From the deepest cell outwards each takes over
 * the colour of the neighbour behind it, where that lies farther from the ground in the same direction of colour. Small
 * islands that hardly differ from the ground are what compression left of it.
 * @param pixels the working copy, as the steps before this one left it
 */
export function cutColour(kernel: TreatKernel, pixels: Pixels, cut: ColourCut): Matte {
  const { width, height, data } = pixels;
  const count = width * height;
  const { r, g, b } = rgbOf(cut.hex);
  const matte = emptyMatte(width, height, Math.min(cut.tolerance, 12));
  kernel.reset();
  const source = kernel.allocate(count * 4);
  const [kind, alpha, art] = [kernel.allocate(count), kernel.allocate(count), kernel.allocate(count * 3)];
  new Uint8Array(kernel.memory.buffer, source, count * 4).set(data);
  const x = Math.min(width - 1, Math.max(0, Math.floor((cut.at?.x ?? 0) * width)));
  const y = Math.min(height - 1, Math.max(0, Math.floor((cut.at?.y ?? 0) * height)));
  const from = cut.from === 'point' && !cut.at ? FROM.border : FROM[cut.from];
  const rings = ringing(cut.tolerance);
  const deepest = cut.soft === undefined ? -1 : Math.round(cut.soft * Math.max(width, height));
  kernel.cutColour(
    source,
    width,
    height,
    r,
    g,
    b,
    cut.tolerance,
    from,
    y * width + x,
    rings,
    deepest,
    kind,
    art,
    alpha,
  );
  const { buffer } = kernel.memory;
  matte.kind.set(new Uint8Array(buffer, kind, count));
  matte.alpha.set(new Uint8Array(buffer, alpha, count));
  matte.art.set(new Uint8Array(buffer, art, count * 3));
  for (let cell = 0, c = 0; cell < count; cell++, c += 3) {
    if (matte.kind[cell] !== BAND) continue;
    matte.ground[c] = r;
    matte.ground[c + 1] = g;
    matte.ground[c + 2] = b;
  }
  return matte;
}
