// npm run -s farm -- …: renders footage on many machines.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { buildServer, install, root } from './prepare.mjs';

install();
buildServer();
// npm runs scripts in the workspace's root; paths are meant from where the person stands.
const cwd = process.env.INIT_CWD ?? process.cwd();
const farm = spawn(process.execPath, [join(root, 'server/dist/farm.mjs'), ...process.argv.slice(2)], {
  stdio: 'inherit',
  cwd,
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => farm.kill(signal));
farm.on('exit', (code) => process.exit(code ?? 1));
