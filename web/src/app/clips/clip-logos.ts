import { Injectable } from '@angular/core';
import type { ClipLogo, ClipShape } from '@kettle/core/model';
import { logoBox } from '@kettle/core/clip';
import type { ReadyWords } from './bitmaps';

/** Size at which a logo is fetched, px. */
const FETCHED = 1024;

/** Sellers' logos, as a clip shows them. */
@Injectable()
export class ClipLogos {
  private readonly fetched = new Map<string, Promise<ImageBitmap | null>>();

  /** A logo at its place in a clip of a size; null without one, or when its file is gone. */
  async draw(
    logo: ClipLogo | undefined,
    shape: ClipShape,
    size: { readonly width: number; readonly height: number },
  ): Promise<ReadyWords | null> {
    const picture = logo && (await this.fetch(logo.assetId));
    if (!logo || !picture) return null;
    const box = logoBox(logo, shape, picture.width / picture.height, size);
    const [width, height] = [Math.max(1, Math.round(box.width)), Math.max(1, Math.round(box.height))];
    return {
      picture: await createImageBitmap(picture, { resizeWidth: width, resizeHeight: height, resizeQuality: 'high' }),
      x: Math.round(box.x),
      y: Math.round(box.y),
    };
  }

  private fetch(assetId: string): Promise<ImageBitmap | null> {
    let picture = this.fetched.get(assetId);
    if (!picture) {
      picture = fetch(`/api/assets/${encodeURIComponent(assetId)}/rendition?size=${FETCHED}`)
        .then(async (response) => (response.ok ? createImageBitmap(await response.blob()) : null))
        .catch(() => null);
      void picture.then((found) => {
        if (!found) this.fetched.delete(assetId);
      });
      this.fetched.set(assetId, picture);
    }
    return picture;
  }
}
