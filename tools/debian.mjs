// Programs from Debian's packages.
import { run } from './prepare.mjs';

/** Installs packages, or says how where that is not allowed. @param what the command that needs them. */
export function installPackages(packages, what) {
  if (packages.length === 0) return;
  if (process.getuid?.() !== 0) {
    console.error(
      `${what} needs ${packages.join(' and ')}: install with "sudo apt-get install ${packages.join(' ')}" and run it again.`,
    );
    process.exit(1);
  }
  run('apt-get', ['update', '-q']);
  run('apt-get', ['install', '-y', '-q', '--no-install-recommends', ...packages], {
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  });
}
