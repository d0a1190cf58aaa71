// npm test: installs what is missing, lints, builds, runs every test, and adds up.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { startChecks } from './checks.mjs';
import { chromiumPath, hasShell } from './chromium.mjs';
import { installPackages, tryPackages } from './debian.mjs';
import { bin, buildServer, buildWeb, install, root } from './prepare.mjs';

/** Chromium for the browser tests, ffmpeg for clips, and Redis for the farm. */
function ensurePrograms() {
  const missing = ['ffmpeg', 'redis-server'].filter((name) => spawnSync(name, ['--version']).error);
  if (!hasShell() && !tryPackages(['chromium-headless-shell']) && !chromiumPath()) missing.push('chromium');
  installPackages(missing, 'npm test');
}

/** Runs a test runner that leaves a JSON report; gives how many passed and failed. */
function suite(program, args, report, count) {
  const path = join(root, report);
  rmSync(path, { force: true });
  const { status } = spawnSync(bin(program), args, { cwd: root, stdio: 'inherit' });
  if (!existsSync(path)) return { passed: 0, failed: 1 };
  const result = count(JSON.parse(readFileSync(path, 'utf8')));
  // A runner that failed without a failed test still failed.
  return status !== 0 && result.failed === 0 ? { ...result, failed: 1 } : result;
}

/** A short round of an endurance run counts as one test; a starved machine gets time enough. */
function soak(name, rounds) {
  const script = join(root, 'tools/soak.mjs');
  const child = spawn(process.execPath, [script, name, String(rounds), '60000'], {
    cwd: root,
    stdio: 'inherit',
  });
  return new Promise((resolve) =>
    child.on('close', (status) =>
      resolve(status === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 }),
    ),
  );
}

mkdirSync(join(root, '.cache'), { recursive: true });
install();
ensurePrograms();
const checks = startChecks();
buildServer();
buildWeb();
const results = [
  ...(await Promise.all(checks)),
  suite(
    'vitest',
    ['run', '--reporter=default', '--reporter=json', '--outputFile.json=.cache/unit.json'],
    '.cache/unit.json',
    (report) => ({
      passed: report.numPassedTests,
      failed:
        report.numFailedTests +
        report.testResults.filter((file) => file.status === 'failed' && file.assertionResults.length === 0)
          .length,
    }),
  ),
  suite('playwright', ['test'], '.cache/e2e.json', ({ stats }) => ({
    passed: stats.expected,
    failed: stats.unexpected + stats.flaky,
  })),
  ...(await Promise.all([soak('files', 200), soak('kills', 6)])),
];
const total = (key) => results.reduce((sum, result) => sum + result[key], 0);
console.log(`\n${total('passed')} passed, ${total('failed')} failed`);
process.exit(total('failed') === 0 ? 0 : 1);
