import { record, resume, startHistory, undo } from './history.js';

describe('a kept history', () => {
  it('goes on where it was left, or puts what came in between on top', () => {
    const kept = record(record(startHistory(['a']), ['a', 'b']), ['a', 'b', 'c']);
    const same = (a: string[], b: string[]) => a.join() === b.join();
    expect(undo(resume(kept, ['a', 'b', 'c'], same)).present).toEqual(['a', 'b']);
    const later = resume(kept, ['z'], same);
    expect(later.present).toEqual(['z']);
    expect(undo(later).present).toEqual(['a', 'b', 'c']);
  });
});
