import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { wrap } from './font-file.js';

// Node.js has it; its types come with those of a browser.
declare const WebAssembly: {
  instantiate(bytes: Uint8Array): Promise<{ readonly instance: { readonly exports: unknown } }>;
};

/** HarfBuzz's subsetter, of which only the pinning of axes is used (hb-subset.h). */
interface Subsetter {
  readonly memory: { readonly buffer: ArrayBuffer };
  malloc(bytes: number): number;
  free(at: number): void;
  hb_blob_create(data: number, length: number, mode: number, user: number, destroy: number): number;
  hb_blob_destroy(blob: number): void;
  hb_blob_get_data(blob: number, length: number): number;
  hb_blob_get_length(blob: number): number;
  hb_face_create(blob: number, index: number): number;
  hb_face_destroy(face: number): void;
  hb_face_reference_blob(face: number): number;
  hb_subset_input_create_or_fail(): number;
  hb_subset_input_destroy(input: number): void;
  hb_subset_input_keep_everything(input: number): void;
  hb_subset_input_pin_all_axes_to_default(input: number, face: number): number;
  hb_subset_input_pin_axis_location(input: number, face: number, tag: number, value: number): number;
  hb_subset_or_fail(face: number, input: number): number;
}

const WGHT = 0x77676874;
const WRITABLE = 2;

let subsetter: Promise<Subsetter> | null = null;
const open = (): Promise<Subsetter> =>
  (subsetter ??= (async () => {
    const file = createRequire(import.meta.url)
      .resolve('harfbuzzjs')
      .replace(/[^/]+$/, 'harfbuzz-subset.wasm');
    const { instance } = await WebAssembly.instantiate(await readFile(file));
    return instance.exports as Subsetter;
  })());

/**
 * The weights of a font as fonts of their own: what knows nothing of axes finds each by its weight. A font without a
 * weight axis is the only one.
 * @param sfnt plain tables of a font
 */
export async function cutsOf(sfnt: Uint8Array): Promise<Uint8Array[]> {
  const axes = wrap(sfnt).face.getAxisInfos();
  const weight = Object.hasOwn(axes, 'wght') ? axes['wght'] : null;
  if (!weight) return [sfnt];
  const wanted = [100, 200, 300, 400, 500, 600, 700, 800, 900].filter((one) => one >= weight.min && one <= weight.max);
  const hb = await open();
  const at = hb.malloc(sfnt.length);
  new Uint8Array(hb.memory.buffer).set(sfnt, at);
  const blob = hb.hb_blob_create(at, sfnt.length, WRITABLE, 0, 0);
  const face = hb.hb_face_create(blob, 0);
  try {
    return wanted.length ? wanted.map((one) => pinned(hb, face, one)) : [sfnt];
  } finally {
    hb.hb_face_destroy(face);
    hb.hb_blob_destroy(blob);
    hb.free(at);
  }
}

function pinned(hb: Subsetter, face: number, weight: number): Uint8Array {
  const input = hb.hb_subset_input_create_or_fail();
  hb.hb_subset_input_keep_everything(input);
  hb.hb_subset_input_pin_all_axes_to_default(input, face);
  hb.hb_subset_input_pin_axis_location(input, face, WGHT, weight);
  const cut = hb.hb_subset_or_fail(face, input);
  hb.hb_subset_input_destroy(input);
  if (!cut) throw new Error(`A font could not be cut at the weight ${weight}.`);
  const blob = hb.hb_face_reference_blob(cut);
  const data = hb.hb_blob_get_data(blob, 0);
  const bytes = new Uint8Array(hb.memory.buffer).slice(data, data + hb.hb_blob_get_length(blob));
  hb.hb_blob_destroy(blob);
  hb.hb_face_destroy(cut);
  return bytes;
}
