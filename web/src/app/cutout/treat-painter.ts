import { Injectable, OnDestroy } from '@angular/core';
import type { Treatment } from '@kettle/core/model';
import type { SeenThrough } from '@kettle/core/treatments';
import { Observable, Subject, fromEvent, map } from 'rxjs';
import { askWorker } from '../data/worker-call';
import type { ReadyPicture, TreatReply, TreatRequest } from './treat-messages';

/** A treated copy, and how long the worker took for it. */
export interface TreatedPicture {
  readonly width: number;
  readonly height: number;
  readonly pixels: Uint8ClampedArray<ArrayBuffer>;
  /** True for a first answer, which a finer one follows when nothing is changed meanwhile. */
  readonly quick: boolean;
  readonly through: SeenThrough | null;
  readonly milliseconds: number;
}

interface Wish {
  readonly assetId: string;
  readonly treatments: readonly Treatment[];
  readonly quick: boolean;
}

/** Treats pictures in a worker, so that the page never waits. Provided by the place where backgrounds are taken out. */
@Injectable()
export class TreatPainter implements OnDestroy {
  private readonly worker = new Worker(new URL('./treat.worker', import.meta.url), { type: 'module' });
  private readonly replies = fromEvent<MessageEvent<TreatReply>>(this.worker, 'message').pipe(map(({ data }) => data));
  private readonly done = new Subject<TreatedPicture | Error>();
  /** Treated pictures in the order they were asked for; of what was overtaken only the last one comes. */
  readonly treated = this.done.asObservable();
  private busy = false;
  private next: Wish | null = null;

  ngOnDestroy(): void {
    this.worker.terminate();
  }

  load(assetId: string): Observable<ReadyPicture> {
    return this.ask<Extract<TreatReply, { kind: 'loaded' }>>((id) => ({ kind: 'load', id, assetId }));
  }

  /**
   * Asks for a treated picture: a quick answer first, then a fine one. While one is worked on, only the newest wish is
   * kept.
   */
  treat(assetId: string, treatments: readonly Treatment[]): void {
    this.next = { assetId, treatments, quick: true };
    if (!this.busy) this.begin();
  }

  private begin(): void {
    const { next } = this;
    if (!next) return;
    this.next = null;
    this.busy = true;
    const end = (result: TreatedPicture | Error): void => {
      this.busy = false;
      if (next.quick && !this.next) this.next = { ...next, quick: false };
      this.done.next(result);
      this.begin();
    };
    this.ask<Extract<TreatReply, { kind: 'treated' }>>((id) => ({ kind: 'treat', id, ...next })).subscribe({
      next: ({ width, height, pixels, through, milliseconds }) =>
        end({ width, height, pixels: new Uint8ClampedArray(pixels), quick: next.quick, through, milliseconds }),
      error: (error: Error) => end(error),
    });
  }

  private ask<T extends TreatReply>(request: (id: number) => TreatRequest): Observable<T> {
    return askWorker<TreatRequest, T>(this.worker, this.replies, request);
  }
}
