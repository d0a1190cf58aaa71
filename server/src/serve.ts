import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import compression from 'compression';
import express from 'express';
import helmet from 'helmet';

/** Says that this is Hazy Lens, to a second one that finds the port taken. */
const MARK = 'x-hazy-lens';

/** What pages and scripts may do; `scripts` says what scripts may besides coming from here. */
function closed(scripts: string[]) {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'", "'wasm-unsafe-eval'", ...scripts],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'blob:', 'data:'],
        fontSrc: ["'self'"],
        connectSrc: ["'self'"],
        workerSrc: ["'self'"],
        manifestSrc: ["'self'"],
        baseUri: ["'self'"],
        formAction: ["'none'"],
        frameAncestors: ["'none'"],
      },
    },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    crossOriginResourcePolicy: { policy: 'same-origin' },
    strictTransportSecurity: false,
  });
}

/** Serves the built application from `web` with the headers that shared memory and a closed page need. */
export function application(web: string): express.Express {
  const app = express();
  app.disable('x-powered-by');
  app.use((_request, response, next) => {
    response.setHeader(MARK, '1');
    next();
  });
  // The picture library makes functions from text. It runs in a worker that has no page, and only there it may.
  const [strict, library] = [closed([]), closed(["'unsafe-eval'"])];
  app.use((request, response, next) =>
    (request.path.startsWith('/codecs/') ? library : strict)(request, response, next),
  );
  app.use(compression());
  app.use(
    express.static(web, {
      setHeaders: (response, path) => {
        const hashed = /-[A-Z0-9]{8}\.(js|css|woff2|wasm)$/.test(path);
        response.setHeader('cache-control', hashed ? 'public, max-age=31536000, immutable' : 'no-cache');
      },
    }),
  );
  app.use((_request, response) => void response.status(404).type('text').send('There is nothing here.'));
  return app;
}

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
  const server = createServer(application(web));
  server.once('error', async (error: NodeJS.ErrnoException) => {
    if (error.code === 'EADDRINUSE' && (await runsOn(port))) {
      console.log(`Hazy Lens is running already: ${address}`);
      process.exit(0);
    }
    process.stderr.write(
      `Port ${port} cannot be used (${error.code}): another program may have it. End that program, or choose another ` +
        `port with PORT=8080 npm start. Projects belong to the address they were made at: with another port the shelf starts empty.\n`,
    );
    process.exit(1);
  });
  server.listen(port, '127.0.0.1', () => console.log(`Hazy Lens is ready: ${address}`));
}

main();
