/* global jasmine */
/**
 * What every specification in Node.js runs under. A specification that is slow on a busy machine is no failure
 * (speed is judged by the bench), so each has a minute unless it asks for more; what failed is said once more at the
 * end, in a line each, where a long log is looked at first.
 */
jasmine.DEFAULT_TIMEOUT_INTERVAL = 60_000;

const failed = [];
const slow = [];
jasmine.getEnv().addReporter({
  specDone(result) {
    for (const f of result.failedExpectations) failed.push(`${result.fullName}: ${f.message.slice(0, 300)}`);
    if (result.duration > 5_000) slow.push(`${(result.duration / 1000).toFixed(1)} s ${result.fullName}`);
  },
  suiteDone(result) {
    for (const f of result.failedExpectations) failed.push(`${result.fullName}: ${f.message.slice(0, 300)}`);
  },
  jasmineDone(result) {
    for (const f of result.failedExpectations) failed.push(f.message.slice(0, 300));
    for (const line of slow) console.log(`slow: ${line}`);
    for (const line of failed) console.log(`FAILED: ${line}`);
  },
});
