import type { Blank } from '../model/blank.js';
import type { Plane } from '../mockup/maps.js';
import type { Pixels } from '../geometry/pixels.js';
import type { Treatment } from '../model/treatment.js';
import { layArea, type AreaShape } from './area-shape.js';
import { boxMean } from '../raster/box-mean.js';
import { lightOf } from './light-of.js';

/** Products that an own blank may be of, with the category each stands in. */
export const OWN_PRODUCTS: Readonly<Record<string, string>> = {
  'T-shirt': 'Tops',
  Hoodie: 'Tops',
  Apron: 'Aprons',
  Tote: 'Bags',
  Mug: 'Drinkware',
  Bottle: 'Drinkware',
  Cushion: 'Home',
  Card: 'Stationery',
  Notebook: 'Stationery',
  'Phone case': 'Tech',
  Poster: 'Wall',
};

/** Longest side of an own blank, px: larger photos are made smaller. */
export const OWN_SIDE = 2000;

/** Everything an own blank is made from. Kept with it, so that it can be changed later. */
export interface OwnBlankSource {
  readonly name: string;
  /** One of {@link OWN_PRODUCTS}. */
  readonly product: string;
  /** The photo. */
  readonly assetId: string;
  /** What takes everything but the product away; the result's alpha is where the product is. */
  readonly treatments: readonly Treatment[];
  readonly shape: AreaShape;
  readonly widthMm: number;
  readonly heightMm: number;
  /** True to show the product where it was photographed, false to set it before a backdrop. */
  readonly inRoom: boolean;
  /** How far the print follows folds, 0 to 1. */
  readonly folds: number;
  /** True when the product is to come in any colour; false when it stays as it is. */
  readonly anyColour: boolean;
}

/** Pictures of a pack, as the packs’ description has them. */
export interface OwnBlankMaps {
  /** RGBA. */
  readonly photo: Plane;
  /** Grey. */
  readonly mask: Plane;
  /** RGB. */
  readonly shade: Plane;
  /** Grey, half as large. */
  readonly shadow: Plane;
  /** RGB, twice as high. */
  readonly uv: Plane;
  /** The product's colour as it was photographed. */
  readonly hex: string;
  readonly doubts: readonly string[];
}

/** How far a full strength of folds moves the print, as a share of the picture's width for a step of light from 0 to 1. */
const FOLD_REACH = 0.012;

/**
 * Maps of an own blank.
 * @param photo as it was taken @param cut the same with everything but the product clear, on the same grid
 * @throws RangeError with a sentence when the area is none, or there is hardly any product
 */
export function ownBlankMaps(
  photo: Pixels,
  cut: Pixels,
  { shape, inRoom, folds }: Pick<OwnBlankSource, 'shape' | 'inRoom' | 'folds'>,
): OwnBlankMaps {
  const { width, height } = photo;
  const count = width * height;
  const mask = new Uint8Array(count);
  for (let i = 0; i < count; i++) mask[i] = cut.data[i * 4 + 3];
  const { light, gloss, hex, doubts } = lightOf(photo.data as Uint8Array, mask, width, height);
  const shade = new Uint8Array(count * 3);
  for (let i = 0; i < count; i++) {
    shade[i * 3] = codeOf(light[i]);
    shade[i * 3 + 2] = codeOf(gloss[i]);
  }
  const rgba = new Uint8Array(count * 4);
  for (let i = 0; i < count; i++) {
    rgba[i * 4] = photo.data[i * 4];
    rgba[i * 4 + 1] = photo.data[i * 4 + 1];
    rgba[i * 4 + 2] = photo.data[i * 4 + 2];
    rgba[i * 4 + 3] = inRoom ? 255 : mask[i];
  }
  const uv = positions(shape, light, mask, width, height, folds);
  const [halfW, halfH] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  return {
    photo: { width, height, channels: 4, data: rgba },
    mask: { width, height, channels: 1, data: mask },
    shade: { width, height, channels: 3, data: shade },
    shadow: { width: halfW, height: halfH, channels: 1, data: new Uint8Array(halfW * halfH) },
    uv,
    hex,
    doubts,
  };
}

/** Linear light as the packs code it: light = 2 · (code / 255)². */
const codeOf = (light: number): number => Math.min(255, Math.round(255 * Math.sqrt(Math.max(0, light) / 2)));

/** The position map of an area: moved along the folds that its light shows. */
function positions(
  shape: AreaShape,
  light: Float32Array,
  mask: Uint8Array,
  width: number,
  height: number,
  folds: number,
): Plane {
  const { u, v, coverage } = layArea(shape, width, height);
  const data = new Uint8Array(width * height * 2 * 3);
  const lower = width * height * 3;
  // Folds are broad: the weave of the cloth moves nothing.
  const radius = Math.max(2, Math.round(width / 250));
  const broad = folds > 0 ? boxMean(boxMean(light, width, height, radius), width, height, radius) : light;
  const reach = folds * FOLD_REACH * width;
  const last = { x: width - 1, y: height - 1 };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (mask[at] === 0) continue;
      let [sx, sy] = [x, y];
      if (reach > 0 && x > radius && y > radius && x < last.x - radius && y < last.y - radius) {
        const [right, left, down, up] = [at + radius, at - radius, at + radius * width, at - radius * width];
        // Towards the edge of the product light ends for another reason than a fold.
        if (mask[right] === 255 && mask[left] === 255 && mask[down] === 255 && mask[up] === 255) {
          sx += reach * (broad[right] - broad[left]);
          sy += reach * (broad[down] - broad[up]);
        }
      }
      const i = Math.min(last.x - 1, Math.max(0, Math.floor(sx)));
      const j = Math.min(last.y - 1, Math.max(0, Math.floor(sy)));
      const [fx, fy] = [Math.min(1, Math.max(0, sx - i)), Math.min(1, Math.max(0, sy - j))];
      const from = j * width + i;
      const mix = (plane: Float32Array): number =>
        (plane[from] * (1 - fx) + plane[from + 1] * fx) * (1 - fy) +
        (plane[from + width] * (1 - fx) + plane[from + width + 1] * fx) * fy;
      const [pu, pv] = [mix(u), mix(v)];
      const covered = Math.round(255 * Math.min(1, Math.max(0, mix(coverage))));
      if (Number.isNaN(pu) || covered === 0) continue;
      const [codeU, codeV] = [pu, pv].map((value) => Math.round(65535 * Math.min(1, Math.max(0, value))));
      const o = at * 3;
      data[o] = codeU >> 8;
      data[o + 1] = codeV >> 8;
      data[o + 2] = covered;
      data[lower + o] = codeU & 255;
      data[lower + o + 1] = codeV & 255;
    }
  return { width, height: height * 2, channels: 3, data };
}

/** Colours that an own product is offered in beside the one it was photographed in. */
const ANY = [
  { name: 'White', hex: '#F5F4F0' },
  { name: 'Black', hex: '#1B1B1D' },
  { name: 'Navy', hex: '#1F2B4D' },
  { name: 'Grey', hex: '#9A9DA1' },
  { name: 'Red', hex: '#A5342F' },
  { name: 'Green', hex: '#3F5E43' },
  { name: 'Yellow', hex: '#D9A93B' },
  { name: 'Sky', hex: '#9CC3DB' },
] as const;

/** Manifest of an own blank. */
export function ownBlankManifest(
  id: string,
  { name, product, widthMm, heightMm, inRoom, anyColour }: OwnBlankSource,
  { photo, hex }: Pick<OwnBlankMaps, 'photo' | 'hex'>,
): Blank {
  const category = OWN_PRODUCTS[product] ?? 'Home';
  const soft = ['Tops', 'Aprons', 'Bags', 'Home'].includes(category);
  return {
    id,
    name,
    category,
    product,
    view: 'photo',
    wearer: 'nobody',
    setting: inRoom ? 'own photo' : 'own photo, cut out',
    kind: 'still',
    tags: ['own'],
    width: photo.width,
    height: photo.height,
    albedo: 0.85,
    glossTint: soft ? 0.7 : 0,
    // What is cut out of its photo leaves its shadow behind; in a room there is no backdrop for one to fall on.
    shadowStrength: 0,
    inRoom,
    backdrop: '#E4E1D9',
    colourways: [{ name: 'As photographed', hex }, ...(anyColour ? ANY : [])],
    areas: [
      {
        id: 'print',
        name: 'Print',
        widthMm,
        heightMm,
        safeInsetMm: Math.min(6, widthMm / 10, heightMm / 10),
        uv: 'uv-print.webp',
      },
    ],
    files: { photo: 'photo.webp', mask: 'mask.webp', shade: 'shade.webp', shadow: 'shadow.webp' },
  };
}
