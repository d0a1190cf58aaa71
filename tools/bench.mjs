// npm run bench [-- still drag memory]: measures, and prints one JSON line per case.
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import sharp from 'sharp';
import { CHROMIUM_ARGS, chromiumPath } from './chromium.mjs';
import { bin, buildServer, buildWeb, install, root, run } from './prepare.mjs';

const RUNS = 5;
const median = (values) => [...values].sort((a, b) => a - b)[values.length >> 1];
const quantile = (values, q) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * q))];
const tenth = (value) => Number(value.toFixed(1));

function still() {
  run(bin('esbuild'), [
    'bench-still=server/bench/still.ts',
    '--bundle',
    '--platform=node',
    '--format=esm',
    '--target=node20',
    '--packages=external',
    '--alias:@hazy-lens/core=./core/src/index.ts',
    '--outdir=server/dist',
    '--out-extension:.js=.mjs',
    '--log-level=warning',
  ]);
  spawnSync(process.execPath, [join(root, 'server/dist/bench-still.mjs')], { stdio: 'inherit' });
}

async function drag() {
  buildWeb();
  const port = 4792;
  const server = spawn(process.execPath, [join(root, 'server/dist/serve.mjs')], {
    env: { ...process.env, PORT: port },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise((resolve) => server.stdout.once('data', resolve));
  const browser = await chromium.launch({ executablePath: chromiumPath(), args: CHROMIUM_ARGS });
  const runs = [];
  try {
    for (let i = 0; i < RUNS; i++) {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      await page.goto(`http://localhost:${port}/`);
      await page.locator('[data-grip="near-clear"]').waitFor();
      await page.waitForTimeout(2500);
      runs.push(await oneDrag(page));
      await page.close();
    }
  } finally {
    await browser.close();
    server.kill();
  }
  const line = { case: 'drag', moves: 120 };
  for (const key of ['p50', 'p95', 'blockedMs']) line[key] = tenth(median(runs.map((one) => one[key])));
  console.log(JSON.stringify(line));
}

/** 120 pointer moves on the near contour, 60 a second: from each event to the painted picture that holds it. */
async function oneDrag(page) {
  await page.evaluate(() => {
    const seen = (window.seen = { moves: [], frames: [], blocked: 0 });
    addEventListener('pointermove', (event) => seen.moves.push(event.timeStamp), true);
    new PerformanceObserver((list) => {
      for (const mark of list.getEntriesByName('hazy-lens-frame')) {
        // The picture is on the screen when the frame after the next callback is done.
        requestAnimationFrame(() => {
          const channel = new MessageChannel();
          channel.port1.onmessage = () =>
            seen.frames.push({ since: mark.detail, painted: performance.now() });
          channel.port2.postMessage(null);
        });
      }
    }).observe({ type: 'mark' });
    let last = performance.now();
    setInterval(() => {
      const now = performance.now();
      seen.blocked = Math.max(seen.blocked, now - last - 4);
      last = now;
    }, 4);
  });
  const box = await page.locator('[data-grip="near-clear"]').boundingBox();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  const start = performance.now();
  for (let i = 1; i <= 120; i++) {
    const wait = start + (i * 1000) / 60 - performance.now();
    if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait));
    await page.mouse.move(x, y + 30 * Math.sin(i / 14));
  }
  await page.mouse.up();
  await page.waitForTimeout(600);
  const { moves, frames, blocked } = await page.evaluate(() => window.seen);
  const latencies = moves.slice(1).flatMap((at) => {
    const frame = frames.find((one) => one.since >= at);
    return frame ? [frame.painted - at] : [];
  });
  return { p50: quantile(latencies, 0.5), p95: quantile(latencies, 0.95), blockedMs: blocked };
}

/** Peak memory of the command line on large pictures. */
async function memory() {
  const folder = mkdtempSync(join(tmpdir(), 'hazy-lens-bench-'));
  try {
    const recipe = join(folder, 'recipe.json');
    writeFileSync(
      recipe,
      JSON.stringify({
        format: 'hazy-lens-recipe',
        version: 1,
        focus: { bands: [{ id: 'a', kind: 'planar' }] },
        blur: { radius: 0.01 },
        colour: { saturation: 0.3 },
      }),
    );
    const line = { case: 'memory' };
    for (const [name, width, height] of [
      ['mib24', 6000, 4000],
      ['mib96', 12000, 8000],
    ]) {
      const input = join(folder, `${name}.jpg`);
      await sharp(join(root, 'demo/pictures/tram-loop.jpg')).resize(width, height).jpeg().toFile(input);
      const args = ['--recipe', recipe, '--in', input, '--out', join(folder, 'out.jpg'), '--workers', '2'];
      const { stdout } = spawnSync(process.execPath, [join(root, 'server/dist/render.mjs'), ...args], {
        encoding: 'utf8',
      });
      const { ms, peakMiB } = JSON.parse(stdout);
      line[name] = peakMiB;
      line[`${name}Ms`] = ms;
    }
    console.log(JSON.stringify(line));
  } finally {
    rmSync(folder, { recursive: true });
  }
}

const cases = { still, drag, memory };
const wanted = process.argv.slice(2);
const unknown = wanted.filter((name) => !(name in cases));
if (unknown.length > 0) {
  console.error(`There is no case "${unknown[0]}"; there are ${Object.keys(cases).join(', ')}.`);
  process.exit(2);
}
install();
buildServer();
for (const [name, measure] of Object.entries(cases))
  if (wanted.length === 0 || wanted.includes(name)) await measure();
