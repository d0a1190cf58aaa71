// npm run browsers: a journey through the application in Firefox and in WebKit, both from Debian's packages.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, readdirSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer from 'puppeteer-core';
import { installPackages } from './debian.mjs';
import { buildServer, buildWeb, install, root } from './prepare.mjs';

const PORT = 4795;
const ADDRESS = `http://localhost:${PORT}/`;
const FIREFOX = '/usr/bin/firefox-esr';
/** What WebKit decodes and encodes clips with. */
const CLIP_PLUGINS = ['gstreamer1.0-libav', 'gstreamer1.0-plugins-good', 'gstreamer1.0-plugins-bad'];
const MINI_BROWSER = '/usr/lib/x86_64-linux-gnu/webkit2gtk-4.1/MiniBrowser';
const DRIVER_PORT = 4796;

const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** Asks again until there is an answer. @throws Error after a while. */
async function until(what, ask, seconds = 120) {
  for (const end = Date.now() + seconds * 1000; Date.now() < end; await pause(200)) {
    const answer = await ask();
    if (answer) return answer;
  }
  throw new Error(`${what}: nothing came in ${seconds} s`);
}

/** The file of an ending in a folder, once it is whole. */
const written = (folder, ending) =>
  until(`a file *${ending}`, () => {
    const names = readdirSync(folder);
    const name = names.find((one) => one.endsWith(ending));
    return name && !names.some((one) => one.endsWith('.part')) && statSync(join(folder, name)).size > 0
      ? join(folder, name)
      : null;
  });

/** In a page: the mean of the picture's red, green and blue. */
const MEAN = `
  const canvas = document.querySelector('canvas[role=img]');
  const small = new OffscreenCanvas(32, 32).getContext('2d');
  small.drawImage(canvas, 0, 0, 32, 32);
  const { data } = small.getImageData(0, 0, 32, 32);
  return [0, 1, 2].map((c) => data.filter((_, i) => i % 4 === c).reduce((sum, value) => sum + value, 0) / 1024);`;

/** Opens the demo, moves the band, exports a JPEG; opens a clip, and exports an MP4. */
async function inFirefox(folder) {
  const browser = await puppeteer.launch({
    browser: 'firefox',
    executablePath: FIREFOX,
    headless: true,
    extraPrefsFirefox: {
      'browser.download.folderList': 2,
      'browser.download.dir': folder,
      'browser.download.useDownloadDir': true,
    },
    env: { ...process.env, HOME: folder },
  });
  try {
    const page = await browser.newPage();
    await page.setViewport({ width: 1280, height: 800 });
    const complaints = [];
    page.on('pageerror', (error) => complaints.push(String(error)));
    page.on('console', (message) => message.type() === 'error' && complaints.push(message.text()));
    const press = async (role, name) => {
      const found = await page.waitForSelector(`::-p-aria([name="${name}"][role="${role}"])`, {
        timeout: 60_000,
      });
      await found.evaluate((element) => element.click());
    };
    const step = (name) =>
      page.$$eval(
        'hl-route button.mat-mdc-list-item',
        (buttons, wanted) => buttons.find((one) => one.textContent.trim().startsWith(wanted)).click(),
        name,
      );
    await page.goto(ADDRESS);
    const painted = () =>
      page.evaluate(
        () =>
          performance.getEntriesByName('hazy-lens-frame').length > 0 &&
          document.querySelector('hl-status-line')?.ariaBusy === 'false',
      );
    await until('the demo', painted);
    const colours = await page.evaluate(`(() => {${MEAN}})()`);
    const grip = await page.waitForSelector('[data-grip="near-outer"]');
    const value = () => grip.evaluate((element) => element.getAttribute('aria-valuenow'));
    const before = await value();
    const { x, y, width, height } = await grip.boundingBox();
    await page.mouse.move(x + width / 2, y + height / 2);
    await page.mouse.down();
    await page.mouse.move(x + width / 2, y - 50, { steps: 6 });
    await page.mouse.up();
    await until('the band', async () => (await value()) !== before);
    // No bar along the foot of the panel.
    const isWide = await page.$eval(
      'aside',
      (panel) => globalThis.getComputedStyle(panel).overflowX !== 'hidden',
    );
    if (isWide) throw new Error('The panel scrolls sideways.');
    await step('Output');
    await press('button', 'Export JPEG');
    const jpeg = await written(folder, '.jpg');
    if (readFileSync(jpeg).readUInt16BE(0) !== 0xffd8) throw new Error('The JPEG is none.');
    console.log(`Firefox: JPEG of ${statSync(jpeg).size} bytes`);

    await page.$eval('header button', (button) => button.click());
    await press('button', 'Start with Kite meadow');
    await page.waitForSelector('hl-reel', { timeout: 60_000 });
    await until('the clip', painted);
    await step('Output');
    // The first kind of clip that this browser can write.
    const kind = await until('a kind of clip', () =>
      page.$$eval('aside button', (buttons) => {
        const button = buttons.find(
          (one) => /^Export (MP4|WebM)/.test(one.textContent.trim()) && !one.disabled,
        );
        button?.click();
        return button?.textContent.trim() ?? null;
      }),
    );
    const clip = await written(folder, kind.includes('MP4') ? '.mp4' : '.webm');
    const mark = readFileSync(clip).toString('latin1', 0, 8);
    const isClip = mark.slice(4, 8) === 'ftyp' || mark.startsWith('\u001aE');
    if (!isClip) throw new Error(`${kind}: the file is none.`);
    console.log(`Firefox: ${kind}, ${statSync(clip).size} bytes`);
    if (complaints.length > 0) throw new Error(`Firefox complains: ${complaints.join('\n')}`);
    return colours;
  } finally {
    await browser.close();
  }
}

/** The same in WebKit, where threads share no memory. @param colours of the demo elsewhere. */
async function inWebKit(colours) {
  const driver = spawn('xvfb-run', ['-a', 'WebKitWebDriver', `--port=${DRIVER_PORT}`], {
    stdio: 'ignore',
    detached: true,
  });
  const ask = async (method, path, body) => {
    const answer = await globalThis.fetch(`http://127.0.0.1:${DRIVER_PORT}${path}`, {
      method,
      ...(body && { body: JSON.stringify(body) }),
    });
    const { value } = await answer.json();
    if (value?.error) throw new Error(value.message);
    return value;
  };
  try {
    await until('WebKit’s driver', () => ask('GET', '/status').catch(() => null), 30);
    const options = { binary: MINI_BROWSER, args: ['--automation'] };
    const { sessionId } = await ask('POST', '/session', {
      capabilities: { alwaysMatch: { 'webkitgtk:browserOptions': options } },
    });
    const session = `/session/${sessionId}`;
    const run = (script, ...args) => ask('POST', `${session}/execute/sync`, { script, args });
    await ask('POST', `${session}/window/rect`, { width: 1280, height: 800 });
    await ask('POST', `${session}/url`, { url: ADDRESS });
    const settled = () =>
      until('WebKit’s picture', () =>
        run(
          `return document.querySelector('hl-status-line')?.ariaBusy === 'false' &&
            performance.getEntriesByName('hazy-lens-frame').length > 0`,
        ),
      );
    await settled();
    const found = await run(MEAN);
    if (found.some((mean, c) => Math.abs(mean - colours[c]) > 3))
      throw new Error(`WebKit’s picture has other colours: ${found}, not ${colours}.`);
    const grip = `document.querySelector('[data-grip="near-outer"]')`;
    const before = await run(`return ${grip}.getAttribute('aria-valuenow')`);
    await run(
      `${grip}.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', shiftKey: true, bubbles: true }))`,
    );
    await until(
      'the band',
      async () => (await run(`return ${grip}.getAttribute('aria-valuenow')`)) !== before,
    );
    await settled();
    // What is saved as a file is looked at in the page: this browser has no folder for it that a driver can name.
    await run(
      `const make = URL.createObjectURL;
      URL.createObjectURL = (blob) => {
        blob.slice(0, 12).arrayBuffer().then((head) => {
          (window.written ??= {})[blob.type] = { size: blob.size, head: [...new Uint8Array(head)] };
        });
        return make.call(URL, blob);
      };
      window.press = (list, name) =>
        [...document.querySelectorAll(list)]
          .find((one) => (one.ariaLabel ?? one.textContent.trim()).startsWith(name))
          ?.click() ?? null;`,
    );
    const press = (list, name) => run(`window.press('${list}', '${name}')`);
    const written = (type, seconds) =>
      until(`${type} by WebKit`, () => run(`return window.written?.['${type}'] ?? null`), seconds);
    const ROUTE = 'hl-route button.mat-mdc-list-item';
    await press(ROUTE, 'Output');
    await pause(500);
    await press('aside button', 'Export JPEG');
    const jpeg = await written('image/jpeg');
    if (jpeg.head.slice(0, 3).join() !== '255,216,255') throw new Error('The JPEG is none.');
    console.log(`WebKit: JPEG of ${jpeg.size} bytes`);

    await run('document.querySelector("header button").click()');
    await pause(1500);
    await press('button', 'Start with Tram loop, time-lapse');
    // A driven browser keeps nothing: the still is not saved.
    await pause(3000);
    await press('button', 'Discard and open');
    await until('the clip', () => run(`return document.querySelector('hl-reel') !== null`));
    await settled();
    await press(ROUTE, 'Output');
    await pause(2000);
    await press('aside button', 'Export MP4');
    const clip = await written('video/mp4', 300);
    if (String.fromCharCode(...clip.head.slice(4, 8)) !== 'ftyp') throw new Error('The MP4 is none.');
    console.log(`WebKit: MP4 of ${clip.size} bytes`);
    await ask('DELETE', session);
  } finally {
    // The driver, its screen and what it started.
    process.kill(-driver.pid);
  }
}

install();
const missing = [
  ...(existsSync(FIREFOX) ? [] : ['firefox-esr']),
  ...(spawnSync('WebKitWebDriver', ['--version']).error || !existsSync(MINI_BROWSER)
    ? ['webkit2gtk-driver']
    : []),
  ...(existsSync('/usr/share/doc/gstreamer1.0-libav') ? [] : CLIP_PLUGINS),
  ...(spawnSync('xvfb-run', ['--help']).error ? ['xvfb', 'xauth'] : []),
];
installPackages(missing, 'npm run browsers');
buildServer();
buildWeb();
const server = spawn(process.execPath, [join(root, 'server/dist/serve.mjs')], {
  env: { ...process.env, PORT },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((resolve) => server.stdout.once('data', resolve));
const folder = mkdtempSync(join(tmpdir(), 'hazy-lens-browsers-'));
try {
  await inWebKit(await inFirefox(folder));
} finally {
  server.kill();
  rmSync(folder, { recursive: true, force: true, maxRetries: 5, retryDelay: 500 });
}
