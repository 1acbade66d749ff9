/** Undo and redo over immutable documents. `past` and `future` are nearest last. */
export interface History<T> {
  readonly past: readonly T[];
  readonly present: T;
  readonly future: readonly T[];
  /** Changes with the same key that follow each other are one step (a drag, a held arrow key). */
  readonly mergeKey: string | null;
}

/** Steps back that are kept; the oldest is forgotten when there are more. */
export const MOST_STEPS = 500;

export const startHistory = <T>(present: T): History<T> => ({ past: [], present, future: [], mergeKey: null });

/** A new present. Nothing is recorded when it is the same object. */
export function record<T>(history: History<T>, present: T, mergeKey: string | null = null): History<T> {
  if (present === history.present) return history;
  const merges = mergeKey !== null && mergeKey === history.mergeKey && history.past.length > 0;
  return {
    past: merges ? history.past : [...history.past, history.present].slice(-MOST_STEPS),
    present,
    future: [],
    mergeKey,
  };
}

/** Ends a run of merged changes, so that the next one is a step of its own. */
export const settle = <T>(history: History<T>): History<T> =>
  history.mergeKey === null ? history : { ...history, mergeKey: null };

export function undo<T>(history: History<T>): History<T> {
  const present = history.past.at(-1);
  return present === undefined
    ? history
    : { past: history.past.slice(0, -1), present, future: [...history.future, history.present], mergeKey: null };
}

export function redo<T>(history: History<T>): History<T> {
  const present = history.future.at(-1);
  return present === undefined
    ? history
    : { past: [...history.past, history.present], present, future: history.future.slice(0, -1), mergeKey: null };
}

/**
 * A kept history taken up again with what is there now. When that is something else than was left, it becomes a step
 * of its own.
 */
export function resume<T>(kept: History<T>, present: T, same: (a: T, b: T) => boolean): History<T> {
  return same(kept.present, present)
    ? { ...kept, present, mergeKey: null }
    : { past: [...kept.past, kept.present], present, future: [], mergeKey: null };
}
