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

export function chromiumPath() {
  return ['/usr/bin/chromium', '/usr/bin/chromium-browser'].find((path) => existsSync(path));
}
