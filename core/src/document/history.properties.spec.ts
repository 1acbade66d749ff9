import fc from 'fast-check';
import { MOST_STEPS, record, redo, resume, settle, startHistory, undo, type History } from './history.js';

/** A document is a number here; what a hand does is one of these. */
type Deed = { readonly kind: 'change'; readonly key: string | null } | { readonly kind: 'undo' | 'redo' | 'settle' };
const deed: fc.Arbitrary<Deed> = fc.oneof(
  { weight: 4, arbitrary: fc.constantFrom(null, 'drag', 'nudge').map((key): Deed => ({ kind: 'change', key })) },
  { weight: 3, arbitrary: fc.constantFrom<Deed>({ kind: 'undo' }, { kind: 'redo' }, { kind: 'settle' }) },
);
let next = 0;
const done = (history: History<number>, one: Deed): History<number> => {
  switch (one.kind) {
    case 'change':
      return record(history, ++next, one.key);
    case 'undo':
      return undo(history);
    case 'redo':
      return redo(history);
    case 'settle':
      return settle(history);
  }
};
const after = (deeds: readonly Deed[]): History<number> => deeds.reduce(done, startHistory(0));

describe('steps back and forward', () => {
  it('lead to the very first state and to the very last, whatever was done', () => {
    fc.assert(
      fc.property(fc.array(deed, { maxLength: 200 }), (deeds) => {
        const history = after(deeds);
        let back = history;
        while (back.past.length) back = undo(back);
        expect(back.present).withContext('all the way back').toBe(0);
        let forward = back;
        while (forward.future.length) forward = redo(forward);
        expect(forward.present)
          .withContext('all the way forward')
          .toBe(history.future[0] ?? history.present);
      }),
    );
  });

  it('are each other’s opposite', () => {
    fc.assert(
      fc.property(fc.array(deed, { maxLength: 100 }), (deeds) => {
        const history = after(deeds);
        if (history.past.length) expect(redo(undo(history)).present).toBe(history.present);
        if (history.future.length) expect(undo(redo(history)).present).toBe(history.present);
      }),
    );
  });

  it('hold no state twice, and never more than are kept', () => {
    fc.assert(
      fc.property(fc.array(deed, { minLength: 300, maxLength: 900 }), (deeds) => {
        const { past, present, future } = after(deeds);
        const all = [...past, present, ...future];
        expect(new Set(all).size).toBe(all.length);
        expect(past.length).toBeLessThanOrEqual(MOST_STEPS);
      }),
      { numRuns: 20 },
    );
  });

  it('begin a new way forward with each change', () => {
    fc.assert(
      fc.property(fc.array(deed, { maxLength: 60 }), (deeds) => record(after(deeds), ++next).future.length === 0),
    );
  });

  it('taken up again keep what somebody else did meanwhile as a step of its own', () => {
    fc.assert(
      fc.property(fc.array(deed, { maxLength: 60 }), fc.boolean(), (deeds, changed) => {
        const kept = after(deeds);
        const there = changed ? ++next : kept.present;
        const history = resume(kept, there, (a, b) => a === b);
        expect(history.present).toBe(there);
        expect(changed ? undo(history).present : history.past.length).toBe(changed ? kept.present : kept.past.length);
      }),
    );
  });
});
