import { rgbOf } from '../colour/srgb.js';
import type { Pixels } from '../geometry/pixels.js';

/** A picture of a product as it is taken apart. All of one size, RGBA in sRGB. */
export interface SceneParts {
  /** The picture with the print, and the same product without it. */
  readonly full: Pixels;
  readonly bare: Pixels;
  /** What is seen where the product is not, with its shadow on it. */
  readonly wall: Pixels;
  /** How much of each pixel the product covers, 0 to 255, and how much of that takes its colour. */
  readonly product: Uint8Array;
  readonly coloured: Uint8Array;
  /** How much of each pixel the ink covers, 0 to 255. */
  readonly ink: Uint8Array;
  /** The product's colour, `#rrggbb`. */
  readonly garment: string;
}

/** Layers that give the picture again, from the lowest to the topmost. */
export interface SceneLayers {
  readonly wall: Pixels;
  /** The product flat in its colour. */
  readonly product: Pixels;
  /** The ink flat, as it would be printed on white. */
  readonly print: Pixels;
  /** To be multiplied: how much darker folds and shadows make what lies below. */
  readonly shade: Pixels;
  /** To be added: what shines on top. */
  readonly gloss: Pixels;
}

/**
 * Takes a picture apart into layers that any program puts together again by laying over, multiplying and adding in
 * sRGB. Shade and gloss are those of the bare product; the ink's colour is what gives the picture under them, and where
 * no colour can, the gloss is its own.
 */
export function layersOfScene({ full, bare, wall, product, coloured, ink, garment }: SceneParts): SceneLayers {
  const { width, height } = full;
  const layer = (): Pixels => ({ width, height, data: new Uint8ClampedArray(width * height * 4) });
  const out = { product: layer(), print: layer(), shade: layer(), gloss: layer() };
  const { r, g, b } = rgbOf(garment);
  const own = [r, g, b];
  for (let i = 0; i < product.length; i++) {
    const at = i * 4;
    const [cover, colour, inked] = [product[i] / 255, coloured[i] / 255, ink[i] / 255];
    let [shades, shines] = [false, false];
    for (let k = 0; k < 3; k++) {
      const [is, was] = [full.data[at + k], bare.data[at + k]];
      const flat = Math.round(own[k] * colour + was * (1 - colour));
      const below = Math.round(wall.data[at + k] * (1 - cover) + flat * cover);
      let shade = below > 0 ? Math.min(255, Math.round((was * 255) / below)) : 255;
      let gloss = Math.max(0, was - Math.round((below * shade) / 255));
      if (inked > 0) {
        const wanted = shade > 0 ? (Math.max(0, is - gloss) * 255) / shade : 255;
        const paint = Math.max(0, Math.min(255, Math.round((wanted - below * (1 - inked)) / inked)));
        const painted = Math.round(below * (1 - inked) + paint * inked);
        const lit = Math.round((painted * shade) / 255);
        gloss = Math.max(0, Math.min(255, is - lit));
        if (lit > is + 1 && painted > 0) shade = Math.round((is * 255) / painted);
        out.print.data[at + k] = paint;
      }
      out.product.data[at + k] = flat;
      out.shade.data[at + k] = shade;
      out.gloss.data[at + k] = gloss;
      if (shade < 255) shades = true;
      if (gloss > 0) shines = true;
    }
    out.product.data[at + 3] = product[i];
    out.print.data[at + 3] = ink[i];
    out.shade.data[at + 3] = shades ? 255 : 0;
    out.gloss.data[at + 3] = shines ? 255 : 0;
  }
  return { wall, ...out };
}
