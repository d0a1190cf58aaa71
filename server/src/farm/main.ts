import { createServer } from 'node:http';
import { availableParallelism, hostname } from 'node:os';
import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import { foreignText, messageLine } from '@hazy-lens/core';
import { isClipName } from '../footage/clip-probe';
import { type FootageJob, outputOf, partsOf } from '../footage/job';
import { picturesIn } from '../render/inputs';
import { loadRecipe } from '../render/load-recipe';
import { readFps, readMetadataChoice } from '../render/options';
import { keepInputs } from '../render/outputs';
import { AS_SOURCE, InputError } from '../render/picture';
import { tellProgress } from '../render/report';
import { buildId } from './build-id';
import { collectClip, collectPictures, resultOf } from './collect';
import { Farm, type JobState, connect } from './farm';
import { createFarmServer, sweep } from './farm-server';
import { storeJob, surveyJob } from './manifest';
import { startRedis } from './redis-server';
import { FolderStore, openStore } from './store';
import { FarmWorker, machineName } from './worker';

const USAGE = `usage: farm serve --store DIR [--redis URL] [--port 4790] [--host 127.0.0.1]
       farm work --redis URL --store DIR|URL [--jobs 1] [--lost-after 30] [--still-after 300]
       farm send --recipe R.json --in FOLDER|CLIP|ZIP --out DIR|CLIP --redis URL --store DIR|URL [--part 24] [--fps F] [--metadata all|without-place|none]
       farm list --redis URL
       farm cancel ID --redis URL
Machines that listen beyond their own need HAZY_LENS_FARM_KEY, the same everywhere.`;

const DEFAULT_PART = 24;
/** Redis of a farm that starts its own listens at the port behind the farm's. */
const DEFAULT_PORT = 4790;
const MIN_KEY = 12;
const HOUR_MS = 3600 * 1000;
const SOME_FAILED = 3;
const built = new URL('./', import.meta.url);
const key = process.env['HAZY_LENS_FARM_KEY'] || null;

const TEXT = { type: 'string' } as const;
const OPTIONS = {
  store: TEXT,
  redis: TEXT,
  port: TEXT,
  host: TEXT,
  jobs: TEXT,
  recipe: TEXT,
  in: TEXT,
  out: TEXT,
  part: TEXT,
  fps: TEXT,
  metadata: TEXT,
  'lost-after': TEXT,
  'still-after': TEXT,
} as const;
type Values = Partial<Record<keyof typeof OPTIONS, string>>;

function whole(values: Values, name: keyof Values, least: number, most: number, otherwise: number): number {
  const text = values[name];
  const value = text === undefined ? otherwise : Number(text);
  if (!Number.isInteger(value) || value < least || value > most)
    throw new InputError(`--${name}: must be a whole number from ${least} to ${most}, not "${text}".`);
  return value;
}

function needed(values: Values, ...names: (keyof Values)[]): string[] {
  const missing = names.find((name) => !values[name]);
  if (missing) throw new InputError(`--${missing} is missing. ${USAGE}`);
  return names.map((name) => values[name]!);
}

/** Ends when the process is asked to. */
const asked = (): Promise<void> =>
  new Promise((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => resolve());
  });

async function farmAt(url: string): Promise<Farm> {
  if (!URL.canParse(url)) throw new InputError(`--redis: must be like redis://127.0.0.1:4791, not "${url}".`);
  return new Farm(await connect(url, key));
}

async function serve(values: Values): Promise<number> {
  const [folder] = needed(values, 'store') as [string];
  const port = whole(values, 'port', 1, 65_534, DEFAULT_PORT);
  const host = values.host ?? '127.0.0.1';
  const isOpen = !['127.0.0.1', 'localhost', '::1'].includes(host);
  if (isOpen && (key?.length ?? 0) < MIN_KEY)
    throw new InputError(
      `--host ${host}: others can reach this farm. Set HAZY_LENS_FARM_KEY to a secret of ${MIN_KEY} characters or more.`,
    );
  const own = values.redis === undefined ? await startRedis(`${folder}/redis`, port + 1, host, key) : null;
  try {
    await serveAt(values.redis ?? own!.url, folder, host, port);
    return 0;
  } finally {
    await own?.stop();
  }
}

/** Serves the farm of a Redis until it is asked to stop. */
async function serveAt(url: string, folder: string, host: string, port: number): Promise<void> {
  const farm = await farmAt(url);
  try {
    const store = new FolderStore(folder);
    const build = await buildId(built);
    await farm.found(build);
    const server = createServer(createFarmServer({ farm, store, build, key }));
    await new Promise<void>((resolve, reject) => {
      server.once('error', (error: NodeJS.ErrnoException) =>
        reject(new InputError(`Port ${port} is unavailable (${error.code}). Choose another with --port.`)),
      );
      server.listen(port, host, resolve);
    });
    console.log(`The farm is ready: http://${host}:${port}/ (Redis: ${new URL(url).host})`);
    const sweeps = setInterval(() => void sweep(farm, store).catch(() => undefined), HOUR_MS);
    await sweep(farm, store).catch(() => undefined);
    await asked();
    clearInterval(sweeps);
    server.close();
    server.closeAllConnections();
  } finally {
    await farm.close();
  }
}

async function work(values: Values): Promise<number> {
  const [url, where] = needed(values, 'redis', 'store') as [string, string];
  const jobs = whole(values, 'jobs', 1, 64, 1);
  const farm = await farmAt(url);
  const store = openStore(where, key);
  const build = await buildId(built);
  try {
    await farm.checkBuild(build);
    const lockMs = 1000 * whole(values, 'lost-after', 1, 3600, 30);
    const stillMs = 1000 * whole(values, 'still-after', 1, 86_400, 300);
    const threads = Math.max(1, Math.floor(availableParallelism() / jobs));
    const workers = Array.from(
      { length: jobs },
      (_, i) =>
        new FarmWorker(farm, store, { name: machineName(i + 1), threads, build, built, lockMs, stillMs }),
    );
    console.log(`${hostname()} takes parts, ${jobs} at a time.`);
    await asked();
    await Promise.all(workers.map((worker) => worker.close()));
  } finally {
    await store.close();
    await farm.close();
  }
  return 0;
}

async function send(values: Values): Promise<number> {
  const [recipePath, input, out, url, where] = needed(values, 'recipe', 'in', 'out', 'redis', 'store') as [
    string,
    string,
    string,
    string,
    string,
  ];
  const part = whole(values, 'part', 1, 100_000, DEFAULT_PART);
  await keepInputs({ '--in': input, '--recipe': recipePath }, { '--out': out });
  const { recipe } = await loadRecipe(recipePath);
  const pictures = isClipName(input) ? null : await picturesIn(input);
  if (!pictures && !isClipName(input))
    throw new InputError(`${input}: a farm renders clips, and folders or zips of numbered pictures.`);
  for (const name of pictures?.leftOut ?? [])
    process.stderr.write(`${foreignText(name)}: left out, it is no picture.\n`);
  const job: FootageJob = {
    recipe: partsOf(recipe, null),
    recipePath,
    input: pictures ?? input,
    fps: readFps(values.fps),
    output: outputOf(out),
    metadata: readMetadataChoice(values.metadata),
    encoding: AS_SOURCE,
  };
  const farm = await farmAt(url);
  const store = openStore(where, key);
  try {
    const build = await buildId(built);
    await farm.checkBuild(build);
    const { timeline, sound } = await surveyJob(job);
    const manifest = await storeJob(store, job, (done, of) => tellProgress(done, of));
    const { frames, fps } = timeline;
    const title = basename(out);
    const id = await farm.send({ title, manifest, build, frames, fps, part, by: hostname() });
    console.log(JSON.stringify({ job: id, frames, parts: Math.ceil(frames / part) }));
    const state = await finished(farm, id);
    if (state.cancelled) throw new InputError(`Job ${id} was cancelled.`);
    for (const { from, why } of state.failed)
      process.stderr.write(
        `Frames ${from + 1} to ${Math.min(frames, from + part)} failed: ${messageLine(why)}\n`,
      );
    if (state.failed.length > 0) return SOME_FAILED;
    const files = await resultOf(farm, state);
    if ('clip' in job.output) await collectClip(store, files, out, sound);
    else await collectPictures(store, files, out);
    console.log(JSON.stringify({ job: id, frames, fps, out, machineMs: Math.round(state.ms) }));
    return 0;
  } finally {
    await store.close();
    await farm.close();
  }
}

const LOOK_MS = 500;

/** Waits until each part of a job is done or has failed for good. */
async function finished(farm: Farm, id: string): Promise<JobState> {
  for (;;) {
    const state = await farm.state(id);
    tellProgress(Math.min(state.frames, state.done * state.part), state.frames);
    if (state.cancelled || state.done + state.failed.length >= state.parts) return state;
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
  }
}

async function list(values: Values): Promise<number> {
  const [url] = needed(values, 'redis') as [string];
  const farm = await farmAt(url);
  for (const { id, title, frames, part, done, parts, failed, cancelled, sent, by } of await farm.jobs())
    console.log(
      JSON.stringify({
        job: id,
        title: foreignText(title),
        frames,
        done: Math.min(frames, done * part),
        state: cancelled
          ? 'cancelled'
          : done === parts
            ? 'finished'
            : done + failed.length === parts
              ? 'failed'
              : 'under way',
        failed: failed.map(({ from, why }) => ({ frame: from, why })),
        sent: new Date(sent).toISOString(),
        by,
      }),
    );
  await farm.close();
  return 0;
}

async function cancel(values: Values, ids: readonly string[]): Promise<number> {
  const [url] = needed(values, 'redis') as [string];
  if (ids.length !== 1) throw new InputError(`cancel: needs the ID of one job. ${USAGE}`);
  const farm = await farmAt(url);
  try {
    await farm.cancel(ids[0]!);
  } finally {
    await farm.close();
  }
  return 0;
}

async function main(): Promise<number> {
  let read;
  try {
    read = parseArgs({ options: OPTIONS, allowPositionals: true });
  } catch (error) {
    throw new InputError(`${(error as Error).message} ${USAGE}`);
  }
  const { values, positionals } = read;
  const [what, ...rest] = positionals;
  if (what === 'serve') return serve(values);
  if (what === 'work') return work(values);
  if (what === 'send') return send(values);
  if (what === 'list') return list(values);
  if (what === 'cancel') return cancel(values, rest);
  throw new InputError(USAGE);
}

main().then(
  (code) => process.exit(code),
  (error: Error) => {
    const known = error instanceof InputError || error instanceof RangeError;
    process.stderr.write(`${known ? error.message : `Unexpected: ${error.stack}`}\n`);
    process.exit(known ? 2 : 1);
  },
);
