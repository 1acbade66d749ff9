import { Observable, filter, first } from 'rxjs';

/** What every answer of a worker has: the number of what was asked, and a sentence when it failed. */
export interface WorkerReply {
  readonly kind: string;
  readonly id: number;
}
interface FailedReply extends WorkerReply {
  readonly kind: 'failed';
  readonly message: string;
}

let number = 0;

/** A number that no other request has. */
export const nextRequest = (): number => ++number;

/**
 * Asks a worker and hears its one answer; a failure is an Error with its sentence.
 * @param replies everything the worker says
 */
export const askWorker = <Request, Reply extends WorkerReply>(
  worker: Worker,
  replies: Observable<WorkerReply>,
  request: (id: number) => Request,
  transfer: Transferable[] = [],
): Observable<Reply> =>
  new Observable<Reply>((observer) => {
    const id = nextRequest();
    const answer = replies
      .pipe(
        filter((reply) => reply.id === id),
        first(),
      )
      .subscribe((reply) => {
        if (reply.kind === 'failed') observer.error(new Error((reply as FailedReply).message));
        else {
          observer.next(reply as Reply);
          observer.complete();
        }
      });
    worker.postMessage(request(id), transfer);
    return () => answer.unsubscribe();
  });
