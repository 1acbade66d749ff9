import { Injectable, inject, signal } from '@angular/core';
import type { Asset } from '@kettle/contract';
import { Api } from './api';

const RENDITIONS = [256, 512, 1024, 2048];

/** Facts and renditions of artwork files, fetched once. */
@Injectable({ providedIn: 'root' })
export class AssetShelf {
  private readonly api = inject(Api);
  private readonly known = signal<Readonly<Record<string, Asset>>>({});
  private readonly asked = new Set<string>();
  private readonly images = new Map<string, HTMLImageElement>();
  private readonly drawn = signal(0);

  /** Facts by asset id, of all files met so far. */
  readonly facts = this.known.asReadonly();
  /** Grows whenever another rendition is ready to be drawn. */
  readonly imagesReady = this.drawn.asReadonly();

  put(asset: Asset): void {
    this.asked.add(asset.id);
    this.known.update((all) => ({ ...all, [asset.id]: asset }));
  }

  want(ids: readonly string[]): void {
    for (const id of new Set(ids)) {
      if (this.asked.has(id)) continue;
      this.asked.add(id);
      this.api.asset(id).subscribe({ next: (asset) => this.put(asset), error: () => this.asked.delete(id) });
    }
  }

  /**
   * The rendition of a file when it is loaded, otherwise null; {@link imagesReady} tells when to ask again.
   * @param pixels longer side it is drawn at: the next larger rendition is used, so that the browser has little to
   * reduce
   */
  image(id: string, pixels: number): HTMLImageElement | null {
    const size = RENDITIONS.find((one) => one >= pixels) ?? 2048;
    const key = `${id} ${size}`;
    let image = this.images.get(key);
    if (!image) {
      image = new Image();
      image.decoding = 'async';
      image.onload = () => this.drawn.update((n) => n + 1);
      image.src = `/api/assets/${id}/rendition?size=${size}`;
      this.images.set(key, image);
    }
    return image.complete && image.naturalWidth > 0 ? image : null;
  }
}
