import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import { MARK, createApplication } from './application';
import { type FarmLink, farmLinkFrom } from './farm-link';

/** True where Hazy Lens answers on a port of this machine. */
async function runsOn(port: number): Promise<boolean> {
  const answer = await fetch(`http://localhost:${port}/`, {
    method: 'HEAD',
    signal: AbortSignal.timeout(2000),
  }).catch(() => null);
  return answer?.headers.has(MARK) ?? false;
}

/** Projects lie in the browser under this address: another port would open an empty shelf, so none is taken instead. */
function main(): void {
  const web = fileURLToPath(new URL('../../web/dist/browser', import.meta.url));
  const port = Number(process.env['PORT'] ?? 4780);
  const address = `http://localhost:${port}/`;
  let farm: FarmLink | null = null;
  try {
    farm = farmLinkFrom(process.env);
  } catch (error) {
    process.stderr.write(`${(error as Error).message}\n`);
    process.exit(1);
  }
  const server = createServer(createApplication(web, farm));
  server.once('error', async (error: NodeJS.ErrnoException) => {
    if (error.code === 'EADDRINUSE' && (await runsOn(port))) {
      console.log(`Hazy Lens is running already: ${address}`);
      process.exit(0);
    }
    process.stderr.write(
      `Port ${port} is unavailable (${error.code}). Close the program using it, or run PORT=8080 npm start. Each port has its own shelf.\n`,
    );
    process.exit(1);
  });
  server.listen(port, '127.0.0.1', () => console.log(`Hazy Lens is ready: ${address}`));
}

main();
