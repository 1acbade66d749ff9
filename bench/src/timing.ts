/** Median of a list. */
export const median = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

/** What repeated measures of one thing came to. */
export interface Measure {
  readonly median: number;
  readonly least: number;
  readonly most: number;
  readonly count: number;
}

export const measureOf = (values: readonly number[]): Measure => ({
  median: median(values),
  least: Math.min(...values),
  most: Math.max(...values),
  count: values.length,
});

/** Times two ways of doing the same in turns, so that a busy machine slows both alike. Milliseconds. */
export async function inTurns(
  rounds: number,
  ours: (round: number) => Promise<unknown> | unknown,
  baseline: (round: number) => Promise<unknown> | unknown,
): Promise<{ ours: Measure; baseline: Measure; ratio: Measure }> {
  const times: { ours: number[]; baseline: number[] } = { ours: [], baseline: [] };
  for (let round = 0; round < rounds; round++) {
    for (const [name, work] of [
      ['baseline', baseline],
      ['ours', ours],
    ] as const) {
      const start = performance.now();
      await work(round);
      times[name].push(performance.now() - start);
    }
  }
  return {
    ours: measureOf(times.ours),
    baseline: measureOf(times.baseline),
    ratio: measureOf(times.ours.map((time, i) => time / times.baseline[i])),
  };
}

/** Does some work again and again, two at a time. Milliseconds for all of it. */
export async function twoAtATime(count: number, work: (i: number) => Promise<void>): Promise<number> {
  const start = performance.now();
  let next = 0;
  await Promise.all(
    [0, 1].map(async () => {
      while (next < count) await work(next++);
    }),
  );
  return performance.now() - start;
}

/** A line of the table: what was measured, against what, and what is allowed. */
export interface Row {
  readonly what: string;
  readonly measured: string;
  readonly spread: string;
  readonly against: string;
  readonly ratio: string;
  readonly budget: string;
  readonly kept: boolean;
}

/** How a measure is written: its unit after the number, as many decimals as mean something. */
const written = (value: number, unit: string): string =>
  `${Math.abs(value) < 10 ? value.toFixed(1) : Math.round(value)} ${unit}`;

/** A line for something with a ceiling of its own. */
export function against(what: string, measure: Measure, most: number, unit = 'ms'): Row {
  return {
    what,
    measured: written(measure.median, unit),
    spread: spreadOf(measure, unit),
    against: written(most, unit),
    ratio: (measure.median / most).toFixed(2),
    budget: `≤ ${written(most, unit)}`,
    kept: measure.median <= most,
  };
}

/** A line for something beside its baseline from the same run. */
export function beside(
  what: string,
  { ours, baseline, ratio }: { ours: Measure; baseline: Measure; ratio: Measure },
  named: string,
  most: number,
): Row {
  return {
    what,
    measured: written(ours.median, 'ms'),
    spread: spreadOf(ours, 'ms'),
    against: `${named}: ${written(baseline.median, 'ms')}`,
    ratio: `${ratio.median.toFixed(2)} (${ratio.least.toFixed(2)} to ${ratio.most.toFixed(2)})`,
    budget: `≤ ${most.toFixed(2)}`,
    kept: ratio.median <= most,
  };
}

export const spreadOf = ({ least, most, count }: Measure, unit: string): string =>
  count > 1 ? `${written(least, unit)} to ${written(most, unit)} of ${count}` : 'once';
