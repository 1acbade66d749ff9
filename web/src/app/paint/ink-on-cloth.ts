import { DestroyRef, effect, inject, signal, type Signal } from '@angular/core';
import type { Affine } from '@kettle/core/geometry';
import type { DesignDocument } from '@kettle/core/model';
import { SEEN_PX, seenInk, type SeenInk } from '@kettle/core/press';
import { AssetShelf } from '../data/asset-shelf';
import { drawLayers } from './paint-layers';

/** A design on a canvas, mm. */
export interface OnCanvas {
  readonly design: DesignDocument;
  readonly toCanvas: Affine;
  readonly canvas: { readonly widthMm: number; readonly heightMm: number };
}

/** Longest side of the pictures that are drawn for it, px. */
const PICTURE_PX = 512;

/**
 * The ink of some designs as it is judged on cloth, measured with the next picture of the screen. One whose pictures
 * have not come is missing: what is not seen is not judged. To be called where there is an injector.
 */
export function inkOf(wanted: () => readonly OnCanvas[]): Signal<ReadonlyMap<DesignDocument, SeenInk>> {
  const assets = inject(AssetShelf);
  const found = signal<ReadonlyMap<DesignDocument, SeenInk>>(new Map());
  const isHere = ({ layers }: DesignDocument): boolean =>
    layers.every(
      (layer) =>
        layer.hidden || layer.kind !== 'picture' || assets.image(layer.assetId, layer.treatments, PICTURE_PX) !== null,
    );
  const measured = ({ design, toCanvas, canvas }: OnCanvas): SeenInk => {
    const scale = SEEN_PX / Math.max(canvas.widthMm, canvas.heightMm);
    const width = Math.max(1, Math.round(canvas.widthMm * scale));
    const height = Math.max(1, Math.round(canvas.heightMm * scale));
    const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
    drawLayers(context, design, toCanvas, scale, (layer) => assets.image(layer.assetId, layer.treatments, PICTURE_PX));
    return seenInk({ width, height, data: context.getImageData(0, 0, width, height).data });
  };
  let frame = 0;
  inject(DestroyRef).onDestroy(() => cancelAnimationFrame(frame));
  effect(() => {
    assets.imagesReady();
    const all = wanted();
    cancelAnimationFrame(frame);
    frame = requestAnimationFrame(() => {
      const each = new Map<DesignDocument, SeenInk>();
      for (const one of all) if (!each.has(one.design) && isHere(one.design)) each.set(one.design, measured(one));
      found.set(each);
    });
  });
  return found;
}
