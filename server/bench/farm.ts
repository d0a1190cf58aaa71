/**
 * A farm on this machine: what a part costs beside its frames, frames a second of 1, 2 and 4 workers, and how much room and
 * time a long queue takes.
 */
import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildId } from '../src/farm/build-id';
import { Farm, connect } from '../src/farm/farm';
import { startRedis } from '../src/farm/redis-server';
import { OpenFootage } from '../src/footage/job';
import { AS_SOURCE } from '../src/render/picture';
import { loadRecipe } from '../src/render/load-recipe';
import { startThreads } from '../src/render/threads';
import { thousandth } from './timing';

const PORT = 4803;
const PART = 24;
const LONG = 10_000;
const built = new URL('./', import.meta.url);
const program = fileURLToPath(new URL('farm.mjs', built));
const clip = fileURLToPath(new URL('../../demo/footage/kite-meadow.mp4', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'hazy-lens-farm-'));
const recipePath = join(folder, 'r.json');
writeFileSync(
  recipePath,
  JSON.stringify({
    format: 'hazy-lens-recipe',
    version: 1,
    focus: { bands: [{ id: 'a', kind: 'planar', near: { falloff: 0.2 }, far: { falloff: 0.2 } }] },
    blur: { radius: 0.011 },
    colour: { saturation: 0.3 },
  }),
);

const redis = await startRedis(join(folder, 'redis'), PORT, '127.0.0.1', null);
const farm = new Farm(await connect(redis.url, null));
const build = await buildId(built);
await farm.found(build);
const common = ['--redis', redis.url, '--store', join(folder, 'store')];

/** The frames by themselves: the same parts, one after the other, in one process. */
async function alone(): Promise<{ frames: number; ms: number }> {
  const threads = await startThreads(2, built);
  const { recipe } = await loadRecipe(recipePath);
  const job = {
    recipe,
    recipePath,
    input: clip,
    fps: null,
    output: { clip: 'out.mp4' },
    metadata: 'none',
    encoding: AS_SOURCE,
  } as const;
  const open = await OpenFootage.open(job, threads);
  const started = performance.now();
  for (let from = 0; from < open.frames; from += PART)
    await open.renderPart(folder, from, Math.min(open.frames, from + PART) - 1);
  const ms = performance.now() - started;
  const { frames } = open;
  await open.close();
  await threads.close();
  return { frames, ms };
}

/** Milliseconds from the sending to the whole result, and those that machines say their parts took. */
async function onFarm(workers: number): Promise<{ ms: number; partMs: number }> {
  const children: ChildProcess[] = [];
  for (let i = 0; i < workers; i++) {
    // One worker has both cores, several share them.
    const child = spawn(process.execPath, [program, 'work', ...common, '--jobs', '1'], { stdio: 'pipe' });
    await once(child.stdout, 'data');
    children.push(child);
  }
  const started = performance.now();
  const out = join(folder, `out-${workers}.mp4`);
  const args = ['send', '--recipe', recipePath, '--in', clip, '--out', out, '--part', `${PART}`, ...common];
  const sender = spawn(process.execPath, [program, ...args], { stdio: ['ignore', 'pipe', 'inherit'] });
  await once(sender, 'close');
  const ms = performance.now() - started;
  for (const child of children) {
    child.kill('SIGTERM');
    await once(child, 'close');
  }
  const [job] = await farm.jobs();
  return { ms, partMs: job!.ms };
}

async function longQueue(): Promise<object> {
  const memory = async (): Promise<number> =>
    Number(/used_memory:(\d+)/.exec(await farm.redis.info('memory'))![1]) / 1e6;
  const before = await memory();
  const started = performance.now();
  const job = { title: 'night', manifest: '0'.repeat(64), build, fps: 30, part: PART, by: 'bench' };
  const id = await farm.send({ ...job, frames: LONG * PART });
  const sendMs = performance.now() - started;
  const after = await memory();
  const asked: number[] = [];
  for (let i = 0; i < 200; i++) {
    const from = performance.now();
    await farm.state(id);
    asked.push(performance.now() - from);
  }
  asked.sort((a, b) => a - b);
  const cancelling = performance.now();
  await farm.cancel(id);
  return {
    parts: LONG,
    sendMs: Math.round(sendMs),
    redisMB: thousandth(after - before),
    stateMs: { p50: thousandth(asked[100]!), p95: thousandth(asked[190]!) },
    cancelMs: Math.round(performance.now() - cancelling),
  };
}

try {
  const runs = [await alone()];
  const fps: Record<string, number> = {};
  const partMs: Record<string, number> = {};
  const [base] = runs as [{ frames: number; ms: number }];
  for (const workers of [1, 2, 4]) {
    const { ms, partMs: spent } = await onFarm(workers);
    // The machine is not as quick at all times.
    if (workers === 1) runs.push(await alone());
    fps[workers] = thousandth((1000 * base.frames) / ms);
    partMs[workers] = Math.round(spent / Math.ceil(base.frames / PART));
  }
  const aloneMs = runs.reduce((sum, { ms }) => sum + ms, 0) / runs.length;
  console.log(
    JSON.stringify({
      case: 'farm',
      frames: base.frames,
      part: PART,
      aloneFps: thousandth((1000 * base.frames) / aloneMs),
      fps,
      partMs,
      partOverhead: thousandth(partMs[1]! / ((aloneMs / base.frames) * PART) - 1),
    }),
  );
  console.log(JSON.stringify({ case: 'farm, a long queue', ...(await longQueue()) }));
} finally {
  await farm.close();
  await redis.stop();
  rmSync(folder, { recursive: true });
}
