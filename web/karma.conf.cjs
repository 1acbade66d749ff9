process.env.CHROME_BIN ??= ['/usr/bin/chromium', '/usr/bin/google-chrome'].find((path) => require('node:fs').existsSync(path));

module.exports = (config) => config.set({
  frameworks: ['jasmine'],
  plugins: [require('karma-jasmine'), require('karma-chrome-launcher')],
  browsers: ['Headless'],
  customLaunchers: {
    Headless: { base: 'ChromeHeadless', flags: ['--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--disable-quic'] },
  },
  reporters: ['progress'],
  restartOnFileChange: false,
});
