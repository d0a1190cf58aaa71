// npm run bench [-- still costs blurs colour fill mends suit looks truth layers field footage farm follow play drag dragLens brush aperture memory many]: measures, and prints one JSON line per case.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { withApplication } from './application.mjs';
import { costs } from './bench-costs.mjs';
import { buildServer, buildWeb, bundleForNode, install, root } from './prepare.mjs';

const RUNS = 5;
const PORT = 4792;
const median = (values) => [...values].sort((a, b) => a - b)[values.length >> 1];
const quantile = (values, q) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * q))];
const tenth = (value) => Number(value.toFixed(1));

/** A measurement in a process of its own, from `server/bench`. */
function inNode(name) {
  bundleForNode(`bench-${name}=server/bench/${name}.ts`);
  spawnSync(process.execPath, [join(root, `server/dist/bench-${name}.mjs`)], { stdio: 'inherit' });
}

const still = () => inNode('still');
const field = () => inNode('field');
const blurs = () => inNode('blurs');
const colour = () => inNode('colour');
const fill = () => inNode('fill');
const suit = () => inNode('suit');
const mends = () => inNode('mends');
const truth = () => inNode('truth');
const layers = () => inNode('layers');
const footage = () => inNode('footage');
const farm = () => inNode('farm');
const follow = () => inNode('follow');

/**
 * The application in headless Chromium, `RUNS` times from the start, and in turns with it a bare page that only fills a
 * canvas of the stage's size at each move. `measure` gives what is told, as medians.
 */
async function inBrowser(name, measure) {
  buildWeb();
  const runs = { ours: [], bare: [] };
  await withApplication(PORT, async (browser, address) => {
    for (let i = 0; i < RUNS; i++) {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      await page.goto(address);
      await page.locator('[data-grip="near-clear"]').waitFor();
      // A first visit also brings in what the application needs without a network.
      await page.waitForTimeout(6000);
      runs.ours.push(await measure(page));
      const canvas = await page.locator('canvas[role=img]').boundingBox();
      await page.close();
      runs.bare.push(await bareDrag(browser, canvas));
    }
  });
  const line = { case: name, moves: 120 };
  const medianOf = (list, key) => median(list.map((one) => one[key]));
  for (const key of ['p50', 'p95', 'blockedMs', 'painted']) line[key] = tenth(medianOf(runs.ours, key));
  line.bare = Object.fromEntries(['p50', 'p95'].map((key) => [key, tenth(medianOf(runs.bare, key))]));
  line.ratio = tenth(line.p95 / line.bare.p95);
  console.log(JSON.stringify(line));
}

/** The same hand over a page with nothing but a canvas. */
async function bareDrag(browser, { width, height }) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.setContent(`<canvas width="${Math.round(width)}" height="${Math.round(height)}"></canvas>`);
  await page.evaluate(() => {
    const context = document.querySelector('canvas').getContext('2d', { alpha: false });
    addEventListener('pointermove', (event) => {
      context.fillStyle = `rgb(${event.clientX & 255} ${event.clientY & 255} 90)`;
      context.fillRect(0, 0, context.canvas.width, context.canvas.height);
      performance.mark('hazy-lens-frame', { detail: event.timeStamp });
    });
  });
  await page.waitForTimeout(500);
  const run = await oneDrag(page, [300, 300], (i) => [300, 300 + 30 * Math.sin(i / 14)]);
  await page.close();
  return run;
}

/** The near contour moves up and down, under a kind of blur. */
function dragUnder(name, kind) {
  return inBrowser(name, async (page) => {
    const step = (label) =>
      page.getByRole('navigation', { name: 'Route' }).getByRole('button', { name: label }).click();
    await step(/^Blur/);
    await page.getByRole('radio', { name: kind }).click();
    await step(/^Focus/);
    await page.waitForTimeout(1500);
    const box = await page.locator('[data-grip="near-clear"]').boundingBox();
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    return oneDrag(page, [x, y], (i) => [x, y + 30 * Math.sin(i / 14)]);
  });
}

const drag = () => dragUnder('drag', 'Gaussian');
const dragLens = () => dragUnder('dragLens', 'Lens');

/** A brush stroke over a field of six bands. */
function brush() {
  return inBrowser('brush', async (page) => {
    const add = page.getByRole('group', { name: 'Add focus' });
    for (const kind of ['Planar', 'Linear', 'Elliptical', 'Iris', 'Elliptical']) {
      await add.getByRole('button', { name: kind, exact: true }).focus();
      await page.keyboard.press('Enter');
    }
    await add.getByRole('button', { name: 'Brush', exact: true }).click();
    await page.waitForTimeout(1500);
    const box = await page.getByRole('img', { name: /^Picture/ }).boundingBox();
    const [x, y] = [box.x + box.width * 0.2, box.y + box.height * 0.25];
    return oneDrag(page, [x, y], (i) => [x + 3.4 * i, y + 60 * Math.sin(i / 9)]);
  });
}

/**
 * 120 pointer moves, 60 a second: from each event to the end of the frame that holds the first picture with it. Frames
 * are watched by a callback in each; a mark that the page leaves with a picture says of when its newest change is.
 */
async function oneDrag(page, handAt, pathAt) {
  await page.evaluate(() => {
    const seen = (window.seen = { moves: [], marks: [], frames: [], blocked: 0 });
    addEventListener('pointermove', (event) => seen.moves.push(event.timeStamp), true);
    new PerformanceObserver((list) => {
      for (const mark of list.getEntriesByName('hazy-lens-frame'))
        seen.marks.push({ since: mark.detail, at: mark.startTime });
    }).observe({ type: 'mark' });
    const channel = new MessageChannel();
    channel.port1.onmessage = () => seen.frames.push(performance.now());
    const eachFrame = () => {
      channel.port2.postMessage(null);
      requestAnimationFrame(eachFrame);
    };
    eachFrame();
    let last = performance.now();
    setInterval(() => {
      const now = performance.now();
      seen.blocked = Math.max(seen.blocked, now - last - 10);
      last = now;
    }, 10);
  });
  await page.mouse.move(...handAt);
  await page.mouse.down();
  const start = performance.now();
  const sent = [];
  for (let i = 1; i <= 120; i++) {
    const wait = start + (i * 1000) / 60 - performance.now();
    if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait));
    sent.push(page.mouse.move(...pathAt(i)));
  }
  await Promise.all(sent);
  await page.mouse.up();
  await page.waitForTimeout(600);
  const { moves, marks, frames, blocked } = await page.evaluate(() => window.seen);
  const latencies = moves.slice(1).flatMap((at) => {
    const mark = marks.find((one) => one.since >= at);
    const painted = mark && frames.find((end) => end > mark.at);
    return painted ? [painted - at] : [];
  });
  return {
    p50: quantile(latencies, 0.5),
    p95: quantile(latencies, 0.95),
    blockedMs: blocked,
    painted: marks.length,
  };
}

/** From a key that turns the aperture to the first picture with it, and to the fine one that follows. */
async function aperture() {
  const SAID = 20;
  buildWeb();
  await withApplication(PORT, async (browser, address) => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(address);
    await page.locator('[data-grip="near-clear"]').waitFor();
    await page.getByRole('navigation', { name: 'Route' }).getByRole('button', { name: /^Blur/ }).click();
    await page.getByRole('radio', { name: 'Lens' }).click();
    await page.getByRole('combobox', { name: 'Blades' }).click();
    await page.getByRole('option', { name: '6', exact: true }).click();
    const turn = page.locator('hl-aperture-bench').getByRole('slider', { name: 'Aperture rotation' });
    await turn.focus();
    await page.waitForTimeout(2500);
    await page.evaluate(() => {
      window.pressed = [];
      addEventListener('keydown', (event) => window.pressed.push(event.timeStamp), true);
    });
    for (let i = 0; i < SAID; i++) {
      await page.keyboard.press('Shift+ArrowUp');
      await page.waitForTimeout(1600);
    }
    const taken = await page.evaluate(() => {
      const marks = performance.getEntriesByName('hazy-lens-frame').map(({ startTime }) => startTime);
      return window.pressed
        .map((at) => marks.filter((mark) => mark > at && mark < at + 1500).map((mark) => mark - at))
        .filter((own) => own.length > 0)
        .map((own) => ({ first: own[0], last: own.at(-1) }));
    });
    const of = (key) => tenth(median(taken.map((one) => one[key])));
    console.log(
      JSON.stringify({ case: 'aperture', changes: taken.length, firstMs: of('first'), fineMs: of('last') }),
    );
  });
}

/** Pictures shown a second while the demo clip plays with its look on: in the first round, and from what was kept of it. */
async function play() {
  buildWeb();
  await withApplication(PORT, async (browser, address) => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(address);
    await page.locator('[data-grip="near-clear"]').waitFor();
    await page.getByRole('banner').getByRole('button').first().click();
    await page.getByRole('button', { name: 'Start with Tram loop, time-lapse' }).click();
    await page.getByText('frame 1 of 240').waitFor();
    await page.waitForTimeout(2500);
    const seconds = 240 / 30;
    await page.evaluate(() => (window.began = performance.now()));
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    await page.waitForTimeout(2000 * seconds);
    const rounds = await page.evaluate((seconds) => {
      const marks = performance.getEntriesByName('hazy-lens-frame').map(({ startTime }) => startTime);
      const within = (from, to) =>
        marks.filter((at) => at >= window.began + from * 1000 && at < window.began + to * 1000).length /
        (to - from);
      return [within(0, seconds), within(seconds, 2 * seconds)];
    }, seconds);
    console.log(
      JSON.stringify({ case: 'play', firstRound: tenth(rounds[0]), secondRound: tenth(rounds[1]) }),
    );
  });
}

/** From a change of the colours to the last of the looks' small pictures. */
async function looks() {
  buildWeb();
  await withApplication(PORT, async (browser, address) => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(address);
    await page.locator('[data-grip="near-clear"]').waitFor();
    await page
      .getByRole('navigation', { name: 'Route' })
      .getByRole('button', { name: /^Colour/ })
      .click();
    const contrast = page.getByRole('spinbutton', { name: 'Contrast', exact: true });
    await contrast.focus();
    await page.waitForTimeout(2500);
    await page.evaluate(() => {
      window.taken = [];
      let pressed = 0;
      addEventListener('keydown', (event) => (pressed = event.timeStamp), true);
      const strip = document.querySelector('hl-look-strip');
      const watch = { subtree: true, attributes: true, attributeFilter: ['style'] };
      // All of them are put in place together.
      new MutationObserver(() => {
        if (pressed > 0) window.taken.push(performance.now() - pressed);
        pressed = 0;
      }).observe(strip, watch);
    });
    for (let i = 0; i < 12; i++) {
      await contrast.press('ArrowUp');
      await page.waitForTimeout(1500);
    }
    const taken = await page.evaluate(() => window.taken);
    console.log(JSON.stringify({ case: 'looks', changes: taken.length, ms: tenth(median(taken)) }));
  });
}

/** Peak memory of the command line on large pictures. */
async function memory() {
  const folder = mkdtempSync(join(tmpdir(), 'hazy-lens-bench-'));
  try {
    const recipes = { gaussian: { radius: 0.01 }, lens: { kind: 'lens', radius: 0.01, lens: { blades: 6 } } };
    const line = { case: 'memory' };
    for (const [name, width, height] of [
      ['mib24', 6000, 4000],
      ['mib96', 12000, 8000],
    ]) {
      const input = join(folder, `${name}.jpg`);
      await sharp(join(root, 'demo/pictures/tram-loop.jpg')).resize(width, height).jpeg().toFile(input);
      for (const [kind, blur] of Object.entries(recipes)) {
        const recipe = join(folder, 'recipe.json');
        const focus = { bands: [{ id: 'a', kind: 'planar' }] };
        const colour = { saturation: 0.3 };
        writeFileSync(
          recipe,
          JSON.stringify({ format: 'hazy-lens-recipe', version: 1, focus, blur, colour }),
        );
        const args = ['--recipe', recipe, '--in', input, '--out', join(folder, 'out.jpg'), '--workers', '2'];
        const { stdout } = spawnSync(process.execPath, [join(root, 'server/dist/render.mjs'), ...args], {
          encoding: 'utf8',
        });
        const { ms, peakMiB } = JSON.parse(stdout);
        line[kind] = { ...line[kind], [name]: peakMiB, [`${name}Ms`]: ms };
      }
    }
    console.log(JSON.stringify(line));
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** What the browser's processes hold, in MiB, while one recipe goes over many pictures: at a tenth of them, and at the end. */
async function many() {
  const [count, tenthOf] = [500, 50];
  buildWeb();
  const folder = mkdtempSync(join(tmpdir(), 'hazy-lens-bench-'));
  try {
    const demo = sharp(join(root, 'demo/pictures/tram-loop.jpg')).raw();
    const { data, info: raw } = await demo.toBuffer({ resolveWithObject: true });
    const files = [];
    for (let i = 0; i < count; i++) {
      files.push(join(folder, `view ${i + 1}.jpg`));
      const part = { left: (i * 37) % 1800, top: (i * 53) % 1200, width: 1800, height: 1200 };
      await sharp(data, { raw }).extract(part).jpeg().toFile(files.at(-1));
    }
    await withApplication(PORT, async (browser, address) => {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      await page.addInitScript(() => Reflect.deleteProperty(window, 'showOpenFilePicker'));
      await page.goto(address);
      await page.locator('[data-grip="near-clear"]').waitFor();
      const session = await browser.newBrowserCDPSession();
      const heldMiB = async () => {
        const { processInfo } = await session.send('SystemInfo.getProcessInfo');
        const held = processInfo.map(({ id }) => readFileSync(`/proc/${id}/smaps_rollup`, 'utf8'));
        return Math.round(held.reduce((sum, text) => sum + Number(/^Pss:\s+(\d+)/m.exec(text)[1]), 0) / 1024);
      };
      const line = { case: 'many', pictures: count, before: await heldMiB() };
      const route = page.getByRole('navigation', { name: 'Route' });
      await route.getByRole('button', { name: /^Source/ }).click();
      await page.getByRole('button', { name: 'Batch' }).click();
      const dialog = page.getByRole('dialog', { name: 'Batch' });
      const [chooser] = await Promise.all([
        page.waitForEvent('filechooser'),
        dialog.getByRole('button', { name: /^(Add|Choose) pictures/ }).click(),
      ]);
      await chooser.setFiles(files);
      const started = performance.now();
      await dialog.getByRole('button', { name: 'Render all' }).click();
      const after = (picture) =>
        page.waitForFunction(
          (n) => Number(/Picture (\d+) of/.exec(document.body.innerText)?.[1]) >= n,
          picture,
          { timeout: 3_600_000, polling: 500 },
        );
      let most = 0;
      for (let picture = tenthOf; picture < count; picture += tenthOf) {
        await after(picture);
        most = Math.max(most, await heldMiB());
        if (picture === tenthOf) line.atATenth = most;
      }
      await dialog.getByRole('button', { name: 'Render all' }).waitFor({ timeout: 3_600_000 });
      line.atTheEnd = await heldMiB();
      line.most = Math.max(most, line.atTheEnd);
      line.seconds = Math.round((performance.now() - started) / 1000);
      console.log(JSON.stringify(line));
    });
  } finally {
    rmSync(folder, { recursive: true });
  }
}

const cases = {
  still,
  costs,
  blurs,
  colour,
  fill,
  mends,
  suit,
  looks,
  truth,
  layers,
  field,
  footage,
  farm,
  follow,
  play,
  drag,
  dragLens,
  brush,
  aperture,
  memory,
  many,
};
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
