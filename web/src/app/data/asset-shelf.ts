import { Injectable, computed, inject, signal } from '@angular/core';
import type { Asset } from '@kettle/contract';
import type { Treatment } from '@kettle/core/model';
import { pictureKey, treatmentName } from '@kettle/core/treatments';
import type { ShownPicture } from '@kettle/core/layers';
import { finalize } from 'rxjs';
import { Api } from './api';
import { waitBefore } from './again';
import { Missing } from './missing';
import { sentenceOf } from './problems';
import { untilHeard } from './waits';

const RENDITIONS = [256, 512, 1024, 2048];

/** Facts and renditions of artwork files, fetched once. */
@Injectable({ providedIn: 'root' })
export class AssetShelf {
  private readonly api = inject(Api);
  private readonly missing = inject(Missing);
  private readonly known = signal<Readonly<Record<string, Asset>>>({});
  private readonly asked = new Set<string>();
  private readonly images = new Map<string, HTMLImageElement>();
  private readonly last = new Map<string, HTMLImageElement>();
  /** How often each picture could not be had since it was last there. */
  private readonly failures = new Map<string, number>();
  private readonly drawn = signal(0);
  private readonly under = signal(0);

  /** Facts by asset id, of all files met so far. */
  readonly facts = this.known.asReadonly();
  /** True while pictures are on their way that were never asked for before. */
  readonly coming = computed(() => this.under() > 0);
  /** Grows whenever another rendition is ready to be drawn. */
  readonly imagesReady = this.drawn.asReadonly();

  put(asset: Asset): void {
    this.asked.add(asset.id);
    this.known.update((all) => ({ ...all, [asset.id]: asset }));
  }

  /** Asks for the facts of pictures as layers show them: of files, and of files with what is done to them. */
  want(pictures: readonly ShownPicture[]): void {
    for (const { key, assetId, treatments } of pictures) {
      if (this.asked.has(key)) continue;
      this.asked.add(key);
      const found =
        key === assetId
          ? this.api.ask('get /api/assets/{id}', { id: assetId })
          : this.api.ask('post /api/assets/{id}/treated', { id: assetId, body: { treatments: treatments ?? [] } });
      this.under.update((n) => n + 1);
      found
        .pipe(
          untilHeard(),
          finalize(() => this.under.update((n) => n - 1)),
        )
        .subscribe({
          next: (asset) => this.learn(key, asset),
          error: (error: unknown) => {
            this.asked.delete(key);
            const again = (): void => {
              this.missing.found(asker);
              this.want([{ key, assetId, treatments }]);
            };
            const asker = { again };
            this.missing.miss(asker, 'A picture of this design', sentenceOf(error));
          },
        });
    }
  }

  private learn(key: string, asset: Asset): void {
    this.known.update((all) => ({ ...all, [key]: asset }));
    this.drawn.update((n) => n + 1);
  }

  /**
   * The rendition of a file when it is loaded, otherwise null; {@link imagesReady} tells when to ask again.
   * @param treatments what is done to the picture; until its facts are known its rendition cannot be asked for
   * @param pixels longer side it is drawn at: the next larger rendition is used, so that the browser has little to
   * reduce
   * @param light one that was reduced in linear light, for pictures of products
   */
  image(
    id: string,
    treatments: readonly Treatment[] | undefined,
    pixels: number,
    light = false,
  ): HTMLImageElement | null {
    const size = RENDITIONS.find((one) => one >= pixels) ?? 2048;
    const shown = pictureKey(id, treatments);
    if (shown !== id && !this.known()[shown]) return this.latest(id, size);
    const key = `${shown} ${size}${light ? ' light' : ''}`;
    let image = this.images.get(key);
    if (!image) {
      image = new Image();
      image.decoding = 'async';
      image.onload = () => {
        this.failures.delete(key);
        this.drawn.update((n) => n + 1);
      };
      // One that cannot be had is said to be missing, and asked for again by itself.
      image.onerror = () => {
        const times = this.failures.get(key) ?? 0;
        this.failures.set(key, times + 1);
        this.drawn.update((n) => n + 1);
        setTimeout(() => {
          this.images.delete(key);
          this.drawn.update((n) => n + 1);
        }, waitBefore(times));
      };
      const name = treatmentName(treatments);
      image.src = `/api/assets/${id}/rendition?size=${size}${name && `&treated=${name}`}${light ? '&light' : ''}`;
      this.images.set(key, image);
    }
    if (!image.complete || image.naturalWidth === 0) return this.latest(id, size);
    this.last.set(`${id} ${size}`, image);
    return image;
  }

  /** True while nothing at all can be shown of a picture that {@link image} was asked for, because it is on its way. */
  isComing(id: string, pixels: number): boolean {
    const size = RENDITIONS.find((one) => one >= pixels) ?? 2048;
    if (this.latest(id, size)) return false;
    return [...this.images].some(([key, image]) => key.startsWith(id) && key.includes(` ${size}`) && !image.complete);
  }

  /** True when nothing can be shown of a picture because it could not be had. {@link imagesReady} tells when to ask again. */
  isMissing(id: string): boolean {
    this.drawn();
    return (
      [...this.failures.keys()].some((key) => key.startsWith(id)) &&
      ![...this.last.keys()].some((key) => key.startsWith(`${id} `))
    );
  }

  /** What the picture looked like last, while what it looks like now is on its way. */
  private latest(id: string, size: number): HTMLImageElement | null {
    return this.last.get(`${id} ${size}`) ?? null;
  }
}
