import { Injectable, OnDestroy } from '@angular/core';
import type { AreaMaps, Blank, SceneLook, TextureGrid } from '@kettle/core';
import { Observable, fromEvent, map } from 'rxjs';
import { askWorker, nextRequest } from '../data/worker-call';
import type { SceneReply, SceneRequest } from './scene-messages';

type Drawn = Extract<SceneReply, { kind: 'drawn' }>;

/** A blank that is ready to be printed on. */
export interface ReadyBlank {
  readonly blank: Blank;
  readonly areaId: string;
  readonly width: number;
  readonly height: number;
  readonly maps: AreaMaps;
}

/** Width of the live preview, px. */
export const PREVIEW_SIZE = 1000;
/** Width of a small scene, px: twice what it is shown at. */
export const SMALL_SIZE = 200;

/** Draws scenes in a worker, so that the page never waits. Provided by the mockups station. */
@Injectable()
export class ScenePainter implements OnDestroy {
  private readonly worker = new Worker(new URL('./scene.worker', import.meta.url), { type: 'module' });
  private readonly replies = fromEvent<MessageEvent<SceneReply>>(this.worker, 'message').pipe(
    map((event) => event.data),
  );

  ngOnDestroy(): void {
    this.worker.terminate();
  }

  load(blank: Blank, areaId: string): Observable<ReadyBlank> {
    // Loading again is cheap when the worker still has it, and needed when it has dropped it.
    return this.ask<Extract<SceneReply, { kind: 'loaded' }>>((id) => ({
      kind: 'load',
      id,
      blank,
      areaId,
      size: PREVIEW_SIZE,
    })).pipe(map(({ width, height, maps }) => ({ blank, areaId, width, height, maps })));
  }

  /** Makes blanks ready that may be looked at next, while the seller looks at this one. */
  prepare(blanks: readonly Blank[]): void {
    this.worker.postMessage({
      kind: 'prepare',
      id: nextRequest(),
      blanks: blanks.map((blank) => ({ blank, areaId: blank.areas[0].id })),
      size: PREVIEW_SIZE,
    } satisfies SceneRequest);
  }

  draw(blank: ReadyBlank, look: SceneLook, grid: TextureGrid, texture: ImageData): Observable<Drawn> {
    const pixels = texture.data.buffer as ArrayBuffer;
    return this.ask<Drawn>(
      (id) => ({ kind: 'draw', id, blankId: blank.blank.id, areaId: blank.areaId, look, grid, texture: pixels }),
      [pixels],
    );
  }

  /** Makes a small blank ready. @returns the density its print area is seen at, picture pixels per mm */
  loadSmall(blank: Blank, areaId: string): Observable<number> {
    return this.ask<Extract<SceneReply, { kind: 'loaded-small' }>>((id) => ({
      kind: 'load-small',
      id,
      blank,
      areaId,
      size: SMALL_SIZE,
    })).pipe(map(({ pixelsPerMm }) => pixelsPerMm));
  }

  /** A small scene as a picture file. */
  drawSmall(blank: Blank, areaId: string, look: SceneLook, grid: TextureGrid, texture: ImageData): Observable<Blob> {
    const pixels = texture.data.buffer as ArrayBuffer;
    return this.ask<Extract<SceneReply, { kind: 'drawn-small' }>>(
      (id) => ({ kind: 'draw-small', id, blankId: blank.id, areaId, look, grid, texture: pixels }),
      [pixels],
    ).pipe(map(({ picture }) => picture));
  }

  private ask<T extends SceneReply>(
    request: (id: number) => SceneRequest,
    transfer: Transferable[] = [],
  ): Observable<T> {
    return askWorker<SceneRequest, T>(this.worker, this.replies, request, transfer);
  }
}
