// npm run -s render -- …: renders a picture through a recipe without a browser.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { buildServer, install, root } from './prepare.mjs';

install();
buildServer();
// npm runs scripts in the workspace's root; paths are meant from where the person stands.
const cwd = process.env.INIT_CWD ?? process.cwd();
const result = spawnSync(process.execPath, [join(root, 'server/dist/render.mjs'), ...process.argv.slice(2)], {
  stdio: 'inherit',
  cwd,
});
process.exit(result.status ?? 1);
