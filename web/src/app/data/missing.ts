import { Injectable, signal } from '@angular/core';

/** Something that could not be loaded. */
export interface MissingThing {
  readonly asker: { again(): void };
  readonly sentence: string;
}

/** What parts of the page could not be loaded: said in the head until it is there. */
@Injectable({ providedIn: 'root' })
export class Missing {
  private readonly things = signal<readonly MissingThing[]>([]);
  readonly all = this.things.asReadonly();

  miss(asker: MissingThing['asker'], what: string, why: string): void {
    const sentence = `${what} could not be loaded: ${why}`;
    this.things.update((all) => [...all.filter((one) => one.asker !== asker), { asker, sentence }]);
  }

  found(asker: MissingThing['asker']): void {
    if (this.things().some((one) => one.asker === asker))
      this.things.update((all) => all.filter((one) => one.asker !== asker));
  }
}
