// Where Debian puts Chromium, and how it is started here.
import { existsSync } from 'node:fs';

export const CHROMIUM_ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

const BROWSERS = ['/usr/bin/chromium', '/usr/bin/chromium-browser'];
/** The same engine without the frame of a window, which costs a fifth of the time of all tests. */
const SHELL = '/usr/bin/chromium-headless-shell';

export const hasShell = () => existsSync(SHELL);

export function chromiumPath() {
  return [...BROWSERS, SHELL].find((path) => existsSync(path));
}

/** Where the tests find it. */
export function testChromiumPath() {
  return [SHELL, ...BROWSERS].find((path) => existsSync(path));
}
