/** Debian's Chromium, started so that it asks nobody outside for anything. */
export const launchOptions = {
  executablePath: '/usr/bin/chromium-headless-shell',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    // A page of a test lives for seconds: to make its scripts quick costs a quarter of all that it does, and is never earned.
    '--js-flags=--no-opt,--no-maglev',
  ],
}
