import { createReadStream } from 'node:fs';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createBullBoard } from '@bull-board/api';
import { BullMQAdapter } from '@bull-board/api/bullMQAdapter';
import { ExpressAdapter } from '@bull-board/express';
import express, { type NextFunction, type Request, type Response } from 'express';
import { Zip, ZipPassThrough } from 'fflate';
import { z } from 'zod';
import { messageLine, safeName } from '@hazy-lens/core';
import { InputError } from '../render/picture';
import { collectClip, resultOf } from './collect';
import { FARM_PAGE, FARM_SCRIPT, FARM_STYLE } from './farm-page';
import type { Farm } from './farm';
import { jobFrom, readManifest, surveyJob } from './manifest';
import { HASH, checked } from './messages';
import { type FolderStore, isSameSecret } from './store';

const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];
/** What is sent to a farm, but for its files. */
const ORDER = z.object({
  title: z.string().max(200),
  manifest: HASH,
  part: z.number().int().min(1).max(100_000),
});

export interface FarmServerOptions {
  farm: Farm;
  store: FolderStore;
  build: string;
  /** What all that ask must know; null where only this machine can ask. */
  key: string | null;
}

/** The secret that a request brings: as a token, or as a browser asks a person for it. */
function secretOf(header: string | undefined): string | null {
  const [, kind, value] = /^(Bearer|Basic) (.+)$/.exec(header ?? '') ?? [];
  if (kind !== 'Basic') return value ?? null;
  return Buffer.from(value!, 'base64')
    .toString('utf8')
    .replace(/^[^:]*:/, '');
}

/** Serves a farm's pages, its jobs and its store. */
export function createFarmServer({ farm, store, build, key }: FarmServerOptions): express.Express {
  const app = express();
  app.disable('x-powered-by');
  app.use((request, response, next) => {
    response.setHeader('x-content-type-options', 'nosniff');
    response.setHeader('cache-control', 'no-store');
    response.setHeader('referrer-policy', 'no-referrer');
    const host = (request.headers.host ?? '').replace(/:\d+$/, '');
    // Without a key nothing but this machine may ask, and no site through a name of its own.
    if (key === null && !LOOPBACK.includes(host))
      return void response.status(421).type('text').send('This farm is served to this machine only.');
    const site = request.headers['sec-fetch-site'];
    if (!['GET', 'HEAD'].includes(request.method) && site !== undefined && site !== 'same-origin')
      return void response.status(403).type('text').send('Another site can’t change this farm.');
    const secret = secretOf(request.headers.authorization);
    if (key !== null && (secret === null || !isSameSecret(secret, key))) {
      response.setHeader('www-authenticate', 'Basic realm="Hazy Lens farm", charset="UTF-8"');
      return void response.status(401).type('text').send('The farm asks for its key.');
    }
    next();
  });

  const board = new ExpressAdapter();
  board.setBasePath('/board');
  createBullBoard({ queues: [new BullMQAdapter(farm.queue)], serverAdapter: board });
  // Its styles are its own; what it would fetch from elsewhere is left out.
  app.use('/board', (_request, response, next) => {
    const policy = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:";
    response.setHeader('content-security-policy', `${policy}; frame-ancestors 'none'`);
    next();
  });
  app.use('/board', board.getRouter() as express.Router);

  app.use((_request, response, next) => {
    const policy =
      "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; connect-src 'self'";
    response.setHeader('content-security-policy', `${policy}; frame-ancestors 'none'; base-uri 'none'`);
    next();
  });
  app.get('/', (_request, response) => void response.type('html').send(FARM_PAGE));
  app.get('/farm.css', (_request, response) => void response.type('css').send(FARM_STYLE));
  app.get('/farm.js', (_request, response) => void response.type('js').send(FARM_SCRIPT));

  app.get('/api/state', async (_request, response) => {
    const [jobs, machines] = await Promise.all([farm.jobs(), farm.machines()]);
    response.json({ build, jobs, machines });
  });
  app.post('/api/jobs', express.json({ limit: 10_000 }), async (request, response) => {
    const order = checked(ORDER, request.body, 'The job');
    const id = await sendStored(farm, store, build, order, `${request.ip ?? ''}`);
    response.status(201).json({ id });
  });
  app.get(
    '/api/jobs/:id',
    async (request, response) => void response.json(await farm.state(request.params.id)),
  );
  app.delete('/api/jobs/:id', async (request, response) => {
    await farm.cancel(request.params.id);
    response.status(204).end();
  });
  app.get('/api/jobs/:id/result', (request, response) =>
    sendResult(farm, store, request.params.id, response),
  );

  app.get('/store/:hash', async (request, response) => {
    const path = await store.path(request.params.hash);
    await new Promise<void>((done) => {
      const isSmall = request.query['as'] === 'jpeg';
      response.type(isSmall ? 'jpeg' : 'application/octet-stream');
      createReadStream(path)
        .on('error', () => response.destroy())
        .pipe(response)
        .on('close', done);
    });
  });
  app.put('/store/:hash', async (request, response) => {
    const hash = checked(HASH, request.params.hash, 'The file');
    await store.take(request, hash);
    response.status(201).json({ hash });
  });
  app.post('/store', async (request, response) => {
    response.status(201).json({ hash: await store.take(request) });
  });

  app.use((_request, response) => void response.status(404).type('text').send('There is nothing here.'));
  // Express tells handlers of errors by their four parameters.
  app.use((error: Error, _request: Request, response: Response, _next: NextFunction) => {
    if (response.headersSent) return void response.destroy();
    const known = error instanceof InputError;
    const status = /disk is full/.test(error.message) ? 507 : known ? 400 : 500;
    if (!known) process.stderr.write(`${error.stack}\n`);
    response.status(status).type('text');
    response.send(known ? messageLine(error.message) : 'The farm made a mistake; its log says which.');
  });
  return app;
}

/** Queues a job whose files are in the store. */
export async function sendStored(
  farm: Farm,
  store: FolderStore,
  build: string,
  { title, manifest, part }: z.infer<typeof ORDER>,
  by: string,
): Promise<string> {
  const folder = await mkdtemp(join(tmpdir(), 'hazy-lens-job-'));
  try {
    const job = await jobFrom(store, await readManifest(store, manifest), folder);
    const { timeline } = await surveyJob(job);
    const { frames, fps } = timeline;
    return await farm.send({ title, manifest, build, frames, fps, part, by });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Sends a finished job's clip, or its pictures as a zip. */
async function sendResult(farm: Farm, store: FolderStore, id: string, response: Response): Promise<void> {
  const job = await farm.job(id);
  const files = await resultOf(farm, job);
  const manifest = await readManifest(store, job.manifest);
  const stem = safeName(job.title.replace(/\.[^.]*$/, ''));
  if (!('clip' in manifest.output)) {
    response.attachment(`${stem}.zip`).type('zip');
    const zip = new Zip((error, chunk, isLast) => {
      if (error) return void response.destroy(error);
      response.write(chunk);
      if (isLast) response.end();
    });
    for (const { name, hash } of files) {
      const entry = new ZipPassThrough(name);
      zip.add(entry);
      entry.push(await readFile(await store.path(hash)), true);
      if (response.writableNeedDrain)
        await new Promise((resolve) => response.once('drain', resolve).once('close', resolve));
      if (response.destroyed) return;
    }
    return zip.end();
  }
  const folder = await mkdtemp(join(tmpdir(), 'hazy-lens-result-'));
  try {
    const { sound } = await surveyJob(await jobFrom(store, manifest, join(folder, 'job')));
    const out = join(folder, `${stem}${manifest.output.clip}`);
    await collectClip(store, files, out, sound);
    await new Promise<void>((done) => response.download(out, () => done()));
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Files that no job names go from the store once they are a day old, and jobs once they are two weeks old. */
export async function sweep(farm: Farm, store: FolderStore): Promise<number> {
  const DAY = 24 * 3600 * 1000;
  const named = await farm.keepOnly(14 * DAY);
  for (const job of await farm.jobs()) {
    const manifest = await readManifest(store, job.manifest).catch(() => null);
    if (!manifest) continue;
    for (const { hash } of manifest.companions) named.add(hash);
    if ('clip' in manifest.input) named.add(manifest.input.clip.hash);
    else if ('archive' in manifest.input) named.add(manifest.input.archive.hash);
    else for (const { hash } of manifest.input.pictures) named.add(hash);
  }
  return store.sweep(named, DAY);
}
