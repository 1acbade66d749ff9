import { Injectable, OnDestroy } from '@angular/core';
import type { Blank } from '@kettle/core/model';
import type { AreaMaps } from '@kettle/core/mockup';
import { Observable, fromEvent, map } from 'rxjs';
import { askWorker, nextRequest } from '../data/worker-call';
import type { DrawnPrint, SceneReply, SceneRequest, SeenBlank, ShownLook } from './scene-messages';

type Drawn = Extract<SceneReply, { kind: 'drawn' }>;

/** A blank that is ready to be printed on. */
export interface ReadyBlank {
  readonly seen: SeenBlank;
  readonly width: number;
  readonly height: number;
  /** Of each print area, in the order of `seen`. */
  readonly maps: readonly AreaMaps[];
}

/** Longest side of the live preview, px. */
export const PREVIEW_SIZE = 1000;
/** Longest side of a small scene, px: twice what it is shown at. */
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

  load(seen: SeenBlank): Observable<ReadyBlank> {
    // Loading again is cheap when the worker still has it, and needed when it has dropped it.
    return this.ask<Extract<SceneReply, { kind: 'loaded' }>>((id) => ({ kind: 'load', id, seen })).pipe(
      map(({ width, height, maps }) => ({ seen, width, height, maps })),
    );
  }

  /** Makes blanks ready that may be looked at next, while the seller looks at this one. */
  prepare(blanks: readonly Blank[]): void {
    this.worker.postMessage({
      kind: 'prepare',
      id: nextRequest(),
      blanks: blanks.map((blank) => ({ blank, areaIds: [blank.areas[0].id], crop: null, size: PREVIEW_SIZE })),
    } satisfies SceneRequest);
  }

  draw({ seen }: ReadyBlank, look: ShownLook, prints: readonly DrawnPrint[]): Observable<Drawn> {
    return this.ask<Drawn>(
      (id) => ({ kind: 'draw', id, seen, look, prints }),
      prints.map((print) => print.texture),
    );
  }

  /** Makes a small blank ready. @returns how each of its print areas is seen */
  loadSmall(seen: SeenBlank): Observable<readonly Pick<AreaMaps, 'pixelsPerMm' | 'part'>[]> {
    return this.ask<Extract<SceneReply, { kind: 'loaded-small' }>>((id) => ({ kind: 'load-small', id, seen })).pipe(
      map(({ areas }) => areas),
    );
  }

  /** A small scene as a picture file. */
  drawSmall(seen: SeenBlank, look: ShownLook, prints: readonly DrawnPrint[]): Observable<Blob> {
    return this.ask<Extract<SceneReply, { kind: 'drawn-small' }>>(
      (id) => ({ kind: 'draw-small', id, seen, look, prints }),
      prints.map((print) => print.texture),
    ).pipe(map(({ picture }) => picture));
  }

  /** A scene at the size it was loaded at, whole. Close it when it is not needed any more. */
  picture(seen: SeenBlank, look: ShownLook, prints: readonly DrawnPrint[]): Observable<ImageBitmap> {
    return this.ask<Extract<SceneReply, { kind: 'picture' }>>(
      (id) => ({ kind: 'picture', id, seen, look, prints }),
      prints.map((print) => print.texture),
    ).pipe(map(({ picture }) => picture));
  }

  private ask<T extends SceneReply>(
    request: (id: number) => SceneRequest,
    transfer: Transferable[] = [],
  ): Observable<T> {
    return askWorker<SceneRequest, T>(this.worker, this.replies, request, transfer);
  }
}
