// Programs from Debian's packages.
import { run } from './prepare.mjs';

const mayInstall = () => process.getuid?.() === 0;

/** Installs packages that one can do without; says whether they are there now. */
export function tryPackages(packages) {
  if (!mayInstall()) return false;
  try {
    installPackages(packages, 'this');
    return true;
  } catch {
    return false;
  }
}

/** Installs packages, or says how where that is not allowed. @param what the command that needs them. */
export function installPackages(packages, what) {
  if (packages.length === 0) return;
  if (!mayInstall()) {
    console.error(
      `${what} needs ${packages.join(' and ')}: install with "sudo apt-get install ${packages.join(' ')}" and run it again.`,
    );
    process.exit(1);
  }
  // Without a network it is over soon.
  const patience = ['-o', 'Acquire::http::Timeout=20', '-o', 'Acquire::Retries=1'];
  run('apt-get', [...patience, 'update', '-q']);
  run('apt-get', [...patience, 'install', '-y', '-q', '--no-install-recommends', ...packages], {
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  });
}
