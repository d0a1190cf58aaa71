// npm run unit -- [files or -t "name"]: unit tests, on kernels and a command line that are as the sources say.
import { spawnSync } from 'node:child_process';
import { bin, buildServer, install, root } from './prepare.mjs';

install();
buildServer();
const { status } = spawnSync(bin('vitest'), ['run', ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
});
process.exit(status ?? 1);
