import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { ServerResponse } from 'node:http';
import { join, posix } from 'node:path';
import express from 'express';
import staticFiles from 'express-static-gzip';
import helmet from 'helmet';
import { type FarmLink, farmRoutes } from './farm-link';

/** Says that this is Hazy Lens, to a second one that finds the port taken. */
export const MARK = 'x-hazy-lens';
/** Stands in the page where the nonce goes. */
const NONCE_PLACE = '%nonce%';
/** Names of this machine. Others are refused, so that no site can reach this server by pointing its own name here. */
const HOSTS = ['localhost', '127.0.0.1', '[::1]'];
/** What no page of Hazy Lens needs. */
const UNUSED = ['camera', 'microphone', 'geolocation', 'payment', 'usb', 'serial', 'hid', 'midi'];

type WithNonce = ServerResponse & { locals: { nonce: string } };

/** What pages and scripts may do; `scripts` says what scripts may besides coming from here. */
function securityHeaders(scripts: string[]) {
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

/** What a path leads to, once its codes and dots are resolved. @throws URIError where they cannot be. */
const resolved = (path: string): string => posix.normalize(decodeURIComponent(path));

const hostOf = (request: express.Request): string => (request.headers.host ?? '').replace(/:\d+$/, '');

/**
 * Serves the built application from `web` with the headers that shared memory and a closed page need. Each page has a
 * nonce of its own: styles come from here, or bear it.
 * Files that the build compressed are sent compressed. What is wished of a farm is passed on to `farm`, where there is one.
 * @throws where the application is not built.
 */
export function createApplication(web: string, farm: FarmLink | null = null): express.Express {
  const app = express();
  app.disable('x-powered-by');
  app.use((_request, response, next) => {
    response.setHeader(MARK, '1');
    response.setHeader('permissions-policy', UNUSED.map((one) => `${one}=()`).join(', '));
    response.locals['nonce'] = randomBytes(16).toString('base64');
    next();
  });
  // libvips needs 'unsafe-eval': it gets that in its own worker, which has no page.
  const [strict, library] = [securityHeaders([]), securityHeaders(["'unsafe-eval'"])];
  app.use((request, response, next) => {
    let path = '/';
    try {
      path = resolved(request.path);
    } catch {
      // What leads nowhere is answered as such below.
    }
    (path.startsWith('/codecs/') ? library : strict)(request, response, next);
  });
  app.use((request, response, next) => {
    if (!HOSTS.includes(hostOf(request)))
      return void response.status(421).type('text').send('Hazy Lens is served to this machine only.');
    next();
  });
  app.use('/farm', farmRoutes(farm));
  app.use((request, response, next) => {
    if (!['GET', 'HEAD'].includes(request.method)) {
      response.setHeader('allow', 'GET, HEAD');
      return void response.status(405).type('text').send('Only GET and HEAD are allowed.');
    }
    next();
  });
  const page = readFileSync(join(web, 'index.html'), 'utf8');
  app.get(['/', '/index.html'], (_request, response) => {
    response.setHeader('cache-control', 'no-cache');
    response.type('html').send(page.replaceAll(NONCE_PLACE, response.locals['nonce'] as string));
  });
  app.use(
    staticFiles(web, {
      index: false,
      enableBrotli: true,
      orderPreference: ['br', 'gz'],
      serveStatic: {
        setHeaders: (response, path) => {
          const isHashed =
            /-[A-Z0-9]{8}\.(js|css|woff2|wasm)(\.br|\.gz)?$|[\\/]codecs[\\/][A-Z0-9]{8}[\\/]/.test(path);
          response.setHeader('cache-control', isHashed ? 'public, max-age=31536000, immutable' : 'no-cache');
        },
      },
    }),
  );
  app.use((_request, response) => void response.status(404).type('text').send('There is nothing here.'));
  return app;
}
