import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { ServerResponse } from 'node:http';
import { join } from 'node:path';
import compression from 'compression';
import express from 'express';
import helmet from 'helmet';

/** Says that this is Hazy Lens, to a second one that finds the port taken. */
export const MARK = 'x-hazy-lens';
/** Stands in the page where the nonce goes. */
const NONCE_PLACE = '%nonce%';

type WithNonce = ServerResponse & { locals: { nonce: string } };

/** What pages and scripts may do; `scripts` says what scripts may besides coming from here. */
function closed(scripts: string[]) {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'", "'wasm-unsafe-eval'", ...scripts],
        styleSrc: ["'self'", (_request, response) => `'nonce-${(response as WithNonce).locals.nonce}'`],
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

/**
 * Serves the built application from `web` with the headers that shared memory and a closed page need. Each page has a
 * nonce of its own: styles come from here, or bear it.
 * @throws where the application is not built.
 */
export function application(web: string): express.Express {
  const app = express();
  app.disable('x-powered-by');
  app.use((_request, response, next) => {
    response.setHeader(MARK, '1');
    response.locals['nonce'] = randomBytes(16).toString('base64');
    next();
  });
  // The picture library makes functions from text. It runs in a worker that has no page, and only there it may.
  const [strict, library] = [closed([]), closed(["'unsafe-eval'"])];
  app.use((request, response, next) =>
    (request.path.startsWith('/codecs/') ? library : strict)(request, response, next),
  );
  app.use(compression());
  const page = readFileSync(join(web, 'index.html'), 'utf8');
  app.get(['/', '/index.html'], (_request, response) => {
    response.setHeader('cache-control', 'no-cache');
    response.type('html').send(page.replaceAll(NONCE_PLACE, response.locals['nonce'] as string));
  });
  app.use(
    express.static(web, {
      index: false,
      setHeaders: (response, path) => {
        const hashed = /-[A-Z0-9]{8}\.(js|css|woff2|wasm)$|[\\/]codecs[\\/][A-Z0-9]{8}[\\/]/.test(path);
        response.setHeader('cache-control', hashed ? 'public, max-age=31536000, immutable' : 'no-cache');
      },
    }),
  );
  app.use((_request, response) => void response.status(404).type('text').send('There is nothing here.'));
  return app;
}
