/** Median of a list. */
export const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

/** Times two ways of doing the same in turns, so that a busy machine slows both alike. Milliseconds, medians. */
export async function inTurns(rounds: number, ours: (round: number) => Promise<unknown> | unknown, baseline: (round: number) => Promise<unknown> | unknown): Promise<{ ours: number; baseline: number }> {
  const times: { ours: number[]; baseline: number[] } = { ours: [], baseline: [] };
  for (let round = 0; round < rounds; round++) {
    for (const [name, work] of [['baseline', baseline], ['ours', ours]] as const) {
      const start = performance.now();
      await work(round);
      times[name].push(performance.now() - start);
    }
  }
  return { ours: median(times.ours), baseline: median(times.baseline) };
}

/** A line of the table: what was measured, against what, and what is allowed. */
export interface Row { readonly what: string; readonly measured: string; readonly against: string; readonly ratio: string; readonly budget: string; readonly kept: boolean }
