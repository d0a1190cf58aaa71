import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import compression from 'compression';
import express from 'express';
import helmet from 'helmet';

/** Serves the built application from `web` with the headers that shared memory and a closed page need. */
export function application(web: string): express.Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
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
    }),
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

function main(): void {
  const web = fileURLToPath(new URL('../../web/dist/browser', import.meta.url));
  const wanted = Number(process.env['PORT'] ?? 4780);
  const server = createServer(application(web));
  server.once('error', (error: NodeJS.ErrnoException) => {
    if (error.code !== 'EADDRINUSE' || process.env['PORT']) {
      process.stderr.write(
        `Port ${wanted} cannot be used (${error.code}). Choose another: PORT=8080 npm start\n`,
      );
      process.exit(1);
    }
    server.listen(0, '127.0.0.1');
  });
  server.on('listening', () => {
    const address = server.address();
    const port = typeof address === 'object' && address ? address.port : wanted;
    console.log(`Hazy Lens is ready: http://localhost:${port}/`);
  });
  server.listen(wanted, '127.0.0.1');
}

main();
