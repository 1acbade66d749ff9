/* global jasmine */
import fc from 'fast-check';
import { relative } from 'node:path';

/**
 * What every specification in Node.js runs under. A specification that is slow on a busy machine is no failure
 * (speed is judged by the bench), so each has ten minutes: what never comes still ends. Whoever started the process is told
 * what passed, what failed, and how long each file took.
 */
jasmine.DEFAULT_TIMEOUT_INTERVAL = 600_000;
// The same made-up values each time: what fails is to fail for whoever changed something. Others: KETTLE_SEED=7 bin/test core.
fc.configureGlobal({ seed: Number(process.env.KETTLE_SEED ?? 2026) });

const told = { passed: 0, failures: [], times: {} };
const note = (result) => {
  for (const { message } of result.failedExpectations ?? [])
    told.failures.push(`${result.fullName ?? 'outside of all specifications'}: ${message.slice(0, 300)}`);
};
let begun = 0;
jasmine.getEnv().addReporter({
  suiteStarted(suite) {
    if (!suite.parentSuiteId) begun = performance.now();
  },
  specDone(result) {
    if (result.status === 'passed') told.passed++;
    else note({ ...result, failedExpectations: result.failedExpectations.slice(0, 1) });
    if (result.duration > Number(process.env.KETTLE_SLOW_MS ?? 5_000))
      console.log(`slow: ${(result.duration / 1000).toFixed(1)} s ${result.fullName}`);
  },
  suiteDone(suite) {
    note(suite);
    if (suite.parentSuiteId || !suite.filename) return;
    const file = relative('.', suite.filename.replace('file://', ''));
    told.times[file] = Math.round((told.times[file] ?? 0) + performance.now() - begun);
  },
  async jasmineDone(result) {
    note(result);
    if (process.send) await new Promise((sent) => process.send(told, sent));
  },
});
