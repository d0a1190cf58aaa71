// npm start: installs what is missing, builds what is stale, serves the application.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { buildServer, buildWeb, install, root } from './prepare.mjs';

install();
buildServer();
buildWeb();
const server = spawn(process.execPath, [join(root, 'server/dist/serve.mjs')], { stdio: 'inherit' });
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
