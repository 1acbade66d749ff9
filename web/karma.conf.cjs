process.env.CHROME_BIN ??= ['/usr/bin/chromium', '/usr/bin/google-chrome'].find((path) =>
  require('node:fs').existsSync(path),
);

/** Prints failures in full and one closing line that bin/test can count. */
function Tally() {
  this.onSpecComplete = (_browser, result) => {
    if (!result.success && !result.skipped)
      console.log(`FAILED ${result.suite.join(' ')} ${result.description}\n${result.log.join('\n')}`);
  };
  this.onBrowserError = (_browser, error) => console.log('Browser error:', error);
  this.onBrowserLog = (_browser, log, type) => {
    if (type !== 'debug') console.log(`${type}: ${log}`);
  };
  this.onRunComplete = (browsers, results) => {
    // A browser that went away in the middle has told of fewer specs than there are: that is a failure too.
    let missing = 0;
    browsers.forEach(({ lastResult: { total, success, failed, skipped } }) => {
      missing += total - success - failed - skipped;
    });
    if (missing > 0) console.log(`FAILED ${missing} specs were never run: the browser went away.`);
    const cut = missing > 0 || (results.error && !results.failed) ? 1 : 0;
    console.log(`karma passed ${results.success}\nkarma failed ${results.failed + cut}`);
  };
}

module.exports = (config) =>
  config.set({
    frameworks: ['jasmine'],
    plugins: [require('karma-jasmine'), require('karma-chrome-launcher'), { 'reporter:tally': ['type', Tally] }],
    browsers: ['Headless'],
    customLaunchers: {
      Headless: {
        base: 'ChromeHeadless',
        flags: [
          '--no-sandbox',
          '--disable-gpu',
          '--no-first-run',
          '--disable-background-networking',
          '--disable-component-update',
          '--disable-sync',
          '--disable-quic',
        ],
      },
    },
    reporters: ['tally'],
    // A specification that is slow on a busy machine is no failure.
    client: { jasmine: { timeoutInterval: 240_000 } },
    restartOnFileChange: false,
  });
