import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type Request, type Response, type Router, Router as createRouter } from 'express';

/** The farm that this server passes its application's wishes on to. */
export interface FarmLink {
  /** Where it is served. */
  url: URL;
  /** Its secret, which no page hears; null where it has none. */
  key: string | null;
}

/** @returns the farm that the environment names; null for none. @throws Error for an address that is none. */
export function farmLinkFrom(env: Readonly<Record<string, string | undefined>>): FarmLink | null {
  const text = env['HAZY_LENS_FARM'];
  if (!text) return null;
  if (!/^https?:\/\//.test(text) || !URL.canParse(text))
    throw new Error(`HAZY_LENS_FARM must be like http://127.0.0.1:4790, not "${text.slice(0, 80)}".`);
  return { url: new URL(text), key: env['HAZY_LENS_FARM_KEY'] || null };
}

/** What the application may ask of a farm: paths of ours, and what they are there. */
const ASKED = [
  ['post', '/store', () => '/store'],
  ['post', '/jobs', () => '/api/jobs'],
  ['get', '/jobs/:id', (id: string) => `/api/jobs/${id}`],
  ['delete', '/jobs/:id', (id: string) => `/api/jobs/${id}`],
  ['get', '/jobs/:id/result', (id: string) => `/api/jobs/${id}/result`],
] as const;
const PASSED_ON = ['content-type', 'content-length', 'content-disposition'];

/** Passes wishes of this application's pages on to a farm. */
export function farmRoutes(link: FarmLink | null): Router {
  const router = createRouter();
  router.use((request, response, next) => {
    response.setHeader('cache-control', 'no-store');
    const site = request.headers['sec-fetch-site'];
    if (!['GET', 'HEAD'].includes(request.method) && site !== 'same-origin')
      return void response.status(403).type('text').send('Only Hazy Lens itself may send to the farm.');
    next();
  });
  router.get('/', (_request, response) => void response.json({ farm: link && { host: link.url.host } }));
  if (!link) return router;
  for (const [method, path, there] of ASKED)
    router[method](path, (request, response) => {
      const { id = '' } = request.params as { id?: string };
      if (!/^[a-z0-9]*$/.test(id))
        return void response.status(404).type('text').send('There is nothing here.');
      return passOn(link, there(id), request, response);
    });
  return router;
}

async function passOn(
  { url, key }: FarmLink,
  path: string,
  request: Request,
  response: Response,
): Promise<void> {
  const abort = new AbortController();
  response.on('close', () => abort.abort());
  const headers: Record<string, string> = key ? { authorization: `Bearer ${key}` } : {};
  const type = request.headers['content-type'];
  if (type) headers['content-type'] = type;
  const hasBody = request.method === 'POST';
  let answer: globalThis.Response;
  try {
    answer = await fetch(new URL(path, url), {
      method: request.method,
      headers,
      signal: abort.signal,
      ...(hasBody && { body: Readable.toWeb(request) as ReadableStream, duplex: 'half' }),
    } as RequestInit);
  } catch {
    if (!response.headersSent)
      response.status(502).type('text').send('The farm doesn’t answer. Check that it is served.');
    return;
  }
  // A key that the farm does not take is this server’s matter: a person is not asked for it.
  response.status(answer.status === 401 ? 502 : answer.status);
  if (answer.status === 401)
    return void response.type('text').send('The farm doesn’t take this server’s key.');
  for (const name of PASSED_ON) {
    const value = answer.headers.get(name);
    if (value !== null) response.setHeader(name, value);
  }
  if (!answer.body) return void response.end();
  await pipeline(Readable.fromWeb(answer.body as Parameters<typeof Readable.fromWeb>[0]), response).catch(
    () => undefined,
  );
}
