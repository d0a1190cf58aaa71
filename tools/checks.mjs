// Everything that can be told of the code without running it: types, lint, format.
import { spawn } from 'node:child_process';
import { bin, root } from './prepare.mjs';

/** Starts a check, which runs beside whatever comes next; what it says is told when it ends. */
function check(name, program, args) {
  return new Promise((resolve) => {
    const child = spawn(bin(program), args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (said += text));
    child.on('close', (status) => {
      console.log(`${said}${name}: ${status === 0 ? 'clean' : 'failed'}`);
      resolve({ passed: 0, failed: status === 0 ? 0 : 1 });
    });
  });
}

/** Starts all of them. @returns a promise for each: 0 or 1 failed. */
export const startChecks = () => [
  check('lint', 'eslint', ['.', '--max-warnings', '0']),
  check('format', 'prettier', ['--check', '--log-level', 'warn', '.']),
  check('types of the workers', 'tsc', ['-p', 'web/tsconfig.worker.json']),
  check('types of core and server', 'tsc', ['-p', 'server']),
  check('types of the application’s tests', 'tsc', ['-p', 'web/tsconfig.test.json']),
];
