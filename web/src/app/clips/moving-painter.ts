import { Injectable, OnDestroy } from '@angular/core';
import type { AreaMaps } from '@kettle/core/mockup';
import type { NeededPicture } from '@kettle/core/clip';
import { Observable, filter, fromEvent, map, share } from 'rxjs';
import { askWorker, nextRequest } from '../data/worker-call';
import type { MovingReply, MovingRequest, PressedGuise, SeenMoving } from './moving-messages';

/** One picture of a moving blank, printed. */
export interface PressedPicture {
  readonly needed: NeededPicture;
  readonly picture: ImageBitmap;
}

/** Prints moving blanks in a worker, which begins when the first is asked for. Provided by the clips station. */
@Injectable()
export class MovingPainter implements OnDestroy {
  private started: {
    readonly worker: Worker;
    readonly frames: Worker;
    readonly replies: Observable<MovingReply>;
  } | null = null;

  ngOnDestroy(): void {
    this.started?.worker.terminate();
    this.started?.frames.terminate();
  }

  private start() {
    if (!this.started) {
      const worker = new Worker(new URL('./moving.worker', import.meta.url), { type: 'module' });
      const replies = fromEvent<MessageEvent<MovingReply>>(worker, 'message').pipe(
        map(({ data }) => data),
        share(),
      );
      const { frames, port } = frameReader();
      worker.postMessage({ kind: 'frames', port } satisfies MovingRequest, [port]);
      this.started = { worker, frames, replies };
    }
    return this.started;
  }

  /** Makes a blank ready. @returns how each of its print areas is seen */
  load(seen: SeenMoving): Observable<readonly Pick<AreaMaps, 'pixelsPerMm' | 'part'>[]> {
    const { worker, replies } = this.start();
    return askWorker<MovingRequest, Extract<MovingReply, { kind: 'loaded' }>>(worker, replies, (id) => ({
      kind: 'load',
      id,
      seen,
    })).pipe(map(({ areas }) => areas));
  }

  /** The pictures that are needed, one after the other; who stops listening stops the printing. Close them when they are done with. */
  draw(
    seen: SeenMoving,
    guises: readonly PressedGuise[],
    needed: readonly NeededPicture[],
  ): Observable<PressedPicture> {
    const { worker, replies } = this.start();
    return new Observable((observer) => {
      const id = nextRequest();
      const answers = replies.pipe(filter((reply) => reply.id === id)).subscribe((reply) => {
        if (reply.kind === 'drawn') observer.next(reply);
        else if (reply.kind === 'failed') observer.error(new Error(reply.message));
        else observer.complete();
      });
      worker.postMessage({ kind: 'draw', id, seen, guises, needed } satisfies MovingRequest, texturesOf(guises));
      return () => {
        answers.unsubscribe();
        worker.postMessage({ kind: 'stop', id } satisfies MovingRequest);
      };
    });
  }
}

/** Textures of guises, each once: those that print the same share them. */
export const texturesOf = (guises: readonly PressedGuise[]): ArrayBuffer[] => [
  ...new Set(guises.flatMap(({ prints }) => prints.map(({ texture }) => texture))),
];

/** A worker that reads frames, and the port for who asks it. */
export function frameReader(): { readonly frames: Worker; readonly port: MessagePort } {
  const frames = new Worker(new URL('./frame.worker', import.meta.url), { type: 'module' });
  const { port1, port2 } = new MessageChannel();
  frames.postMessage(port1, [port1]);
  return { frames, port: port2 };
}
