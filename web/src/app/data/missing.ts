import { Injectable, computed, signal } from '@angular/core';
import { Subject, defer, finalize, merge, retry, take, tap, timer, type MonoTypeOperatorFunction } from 'rxjs';
import { waitBefore } from './again';
import { sentenceOf } from './problems';

interface Asker {
  again(): void;
}

/** Something that could not be loaded, and who asks for it. */
interface MissingThing {
  readonly asker: Asker;
  readonly sentence: string;
}

/** What parts of the page could not be loaded: said in the head until it is there. */
@Injectable({ providedIn: 'root' })
export class Missing {
  private readonly things = signal<readonly MissingThing[]>([]);
  /** What is said of them, each once. */
  readonly sentences = computed(() => [...new Set(this.things().map(({ sentence }) => sentence))]);

  miss(asker: Asker, what: string, why: string): void {
    const sentence = `${what} could not be loaded: ${why}`;
    this.things.update((all) => [...all.filter((one) => one.asker !== asker), { asker, sentence }]);
  }

  found(asker: Asker): void {
    if (this.things().some((one) => one.asker === asker))
      this.things.update((all) => all.filter((one) => one.asker !== asker));
  }

  /** Asks now for everything of which this is said. */
  again(sentence: string): void {
    for (const one of this.things()) if (one.sentence === sentence) one.asker.again();
  }

  /** Asks until it is there, with growing waits and at once on a press; until then it is missing. */
  until<T>(what: string): MonoTypeOperatorFunction<T> {
    return (source) =>
      defer(() => {
        const pressed = new Subject<void>();
        const asker = { again: () => pressed.next() };
        return source.pipe(
          retry({
            delay: (error, times) => {
              this.miss(asker, what, sentenceOf(error));
              return merge(timer(waitBefore(times - 1)), pressed).pipe(take(1));
            },
          }),
          tap(() => this.found(asker)),
          finalize(() => this.found(asker)),
        );
      });
  }
}
