// npm run screenshots: one picture of each main view, from the demo data, into docs/screenshots; docs/night-fair.jpg; and
// demo/pictures/balloons.jpg.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import sharp from 'sharp';
import { CHROMIUM_ARGS, chromiumPath } from './chromium.mjs';
import { buildServer, buildWeb, install, root, run } from './prepare.mjs';

install();
buildServer();
buildWeb();
const port = 4793;
const server = spawn(process.execPath, [join(root, 'server/dist/serve.mjs')], {
  env: { ...process.env, PORT: port },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((resolve) => server.stdout.once('data', resolve));
const browser = await chromium.launch({ executablePath: chromiumPath(), args: CHROMIUM_ARGS });
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'dark' });
  const rest = () => page.waitForTimeout(1800);
  const shoot = async (name) => {
    await rest();
    await page.screenshot({ path: join(root, `docs/screenshots/${name}.png`) });
  };
  /** What is under way has time to begin, and to end. */
  const gone = async (text) => {
    await page.waitForTimeout(500);
    await page.getByText(text).waitFor({ state: 'hidden', timeout: 120_000 });
  };
  const startDemo = async (name) => {
    await page.getByRole('banner').getByRole('button').first().click();
    await page.getByRole('button', { name: `Start with ${name}` }).click();
    await rest();
    await rest();
  };
  const step = (name) =>
    page
      .getByRole('navigation', { name: 'Route' })
      .getByRole('button', { name: new RegExp(`^${name}`) })
      .click();
  const add = (way) =>
    page.getByRole('group', { name: 'Add focus' }).getByRole('button', { name: way, exact: true }).click();
  const at = async ([x, y]) => {
    const box = await page.getByRole('img', { name: /^Picture/ }).boundingBox();
    return [box.x + box.width * x, box.y + box.height * y];
  };
  const draw = async (...places) => {
    await page.mouse.move(...(await at(places[0])));
    await page.mouse.down();
    for (const place of places.slice(1)) await page.mouse.move(...(await at(place)), { steps: 12 });
    await page.mouse.up();
  };
  const fill = async (name, value) => {
    const box = page.getByRole('spinbutton', { name, exact: true });
    await box.fill(String(value));
    await box.press('Enter');
  };
  const remove = async (name) => {
    await page.getByRole('button', { name: `More for ${name}` }).click();
    await page.getByRole('menuitem', { name: 'Delete' }).click();
  };
  // A headless browser has no picker that could be used.
  await page.addInitScript(() => {
    Reflect.deleteProperty(window, 'showSaveFilePicker');
    Reflect.deleteProperty(window, 'showOpenFilePicker');
    globalThis.localStorage.setItem('hazy-lens-hints', 'lines profile looking');
  });
  await page.goto(`http://localhost:${port}/`);
  await page.getByRole('img', { name: /^Picture/ }).waitFor();
  await rest();
  await page.mouse.move(560, 240);
  await shoot('workspace');
  await page.keyboard.press('m');
  await shoot('haze-map');
  await page.keyboard.press('m');
  await step('Tidy');
  await page.getByRole('radio', { name: 'Fill' }).click();
  await draw([0.389, 0.785], [0.419, 0.768]);
  await page.getByRole('switch', { name: 'Fill 1 on' }).waitFor();
  await rest();
  await rest();
  await page.getByRole('radio', { name: 'Crop', exact: true }).click();
  await page.getByRole('radio', { name: '5:4' }).click();
  await fill('Rotation of the crop', 4);
  await page.locator('[data-pull="turn"]').focus();
  await shoot('tidy');
  await fill('Rotation of the crop', 0);
  const variant = async (item) => {
    await page.locator('hl-variants-menu button').click();
    await page.getByRole('menuitem', { name: item }).click();
  };
  await step('Colour');
  await variant('New variant');
  await page.getByRole('radio', { name: 'plum dusk' }).click();
  await variant('New variant');
  await page.getByRole('radio', { name: 'tin toy' }).click();
  await variant('New variant');
  await page.getByRole('radio', { name: 'None', exact: true }).click();
  await page.getByRole('button', { name: 'Black and white' }).click();
  await page.getByRole('switch', { name: 'Black and white' }).click();
  await fill('Red luminance', 60);
  await variant('Show four');
  await page.getByRole('heading', { name: 'Colour' }).scrollIntoViewIfNeeded();
  await page.mouse.move(640, 20);
  await rest();
  await shoot('variants');

  await startDemo('Night fair');
  await step('Blur');
  await page.getByRole('radio', { name: 'Lens' }).click();
  await page.getByRole('combobox', { name: 'Blades' }).click();
  await page.getByRole('option', { name: '6', exact: true }).click();
  await fill('Aperture rotation', 12);
  await fill('Highlight boost', 3.5);
  await fill('Highlight tint', 80);
  await fill('Cat’s eyes towards the corners', 50);
  await fill('Blur radius', 52);
  await page.getByRole('heading', { name: 'Blur' }).scrollIntoViewIfNeeded();
  await page.mouse.move(...(await at([0.5, 0.1])));
  await rest();
  await shoot('lens');
  await page.getByRole('button', { name: 'Compare blurs' }).click();
  await page.mouse.move(...(await at([0.5, 0.5])));
  await shoot('compare-blurs');
  await page.getByRole('button', { name: 'Keep upper half' }).click();
  await step('Colour');
  await fill('Contrast', 15);
  await page.getByRole('radio', { name: 'lamp oil' }).click();
  await fill('Amount of the look', 70);
  await page.getByRole('heading', { name: 'Colour' }).scrollIntoViewIfNeeded();
  await page.mouse.move(...(await at([0.5, 0.1])));
  await rest();
  await shoot('colour');
  await step('Finish');
  await fill('Amount of the vignette', -45);
  await fill('Grain matched to the source', 100);
  await fill('Extra grain', 15);
  await page.mouse.move(...(await at([0.5, 0.1])));
  await shoot('finish');
  await step('Focus');
  await remove('Planar 1');
  await add('Linear');
  await draw([0.5, 0.62], [0.55, 0.2]);
  await add('Elliptical');
  await draw([0.25, 0.6], [0.37, 0.74]);
  await add('Iris');
  await draw([0.77, 0.5], [0.87, 0.5]);
  await page.mouse.move(...(await at([0.5, 0.1])));
  await shoot('bands');

  await startDemo('Glasshouses');
  await add('Subject');
  await draw([0.665, 0.32], [0.72, 0.32], [0.7, 0.37], [0.66, 0.38]);
  await page.getByRole('radio', { name: 'Outside', exact: true }).click();
  await draw([0.63, 0.29], [0.635, 0.44], [0.7, 0.44], [0.77, 0.43]);
  await draw([0.65, 0.26], [0.75, 0.28], [0.755, 0.35]);
  await gone('cutting out…');
  await page.getByRole('radio', { name: 'Standing', exact: true }).click();
  await page.getByRole('switch', { name: 'Lifted' }).click();
  await gone('filling in the background…');
  await page.mouse.move(...(await at([0.4, 0.2])));
  await shoot('subject');
  await remove('Subject 1');
  await remove('Planar 1');
  await add('Sounding');
  for (const [place, haze] of [
    [[0.46, 0.62], 0],
    [[0.2, 0.3], 90],
    [[0.8, 0.28], 70],
    [[0.9, 0.85], 45],
    [[0.1, 0.82], 60],
    [[0.55, 0.12], 100],
  ]) {
    await page.mouse.click(...(await at(place)));
    const amount = page.getByRole('spinbutton', { name: 'Haze of the sounding', exact: true });
    await amount.fill(String(haze));
    await amount.press('Enter');
  }
  await shoot('soundings');
  await page.getByRole('button', { name: 'More for Soundings' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await add('Depth map');
  await page.getByRole('spinbutton', { name: 'Focus depth' }).waitFor();
  await rest();
  await page.mouse.click(...(await at([0.5, 0.6])));
  await rest();
  await shoot('depth-map');

  await page.getByRole('banner').getByRole('button').first().click();
  await shoot('shelf');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  const keep = async (name) => {
    await page.getByRole('textbox', { name: 'Name of a new preset' }).fill(name);
    await page.getByRole('button', { name: 'Save preset' }).click();
    await page.getByRole('button', { name: `Use ${name}` }).waitFor();
  };
  await page.getByRole('radio', { name: 'TIFF' }).click();
  await keep('Print');
  await page.getByRole('radio', { name: 'JPEG' }).click();
  await page.getByRole('combobox', { name: 'Size' }).click();
  await page.getByRole('option', { name: 'Long edge' }).click();
  await keep('Web');
  for (const name of ['Print', 'Web'])
    await page.getByRole('checkbox', { name: `Export with ${name}` }).click();
  await shoot('output');
  await page.getByRole('button', { name: 'Batch' }).click();
  const pictures = ['glasshouses', 'night-fair', 'tram-loop'].map((name) =>
    join(root, `demo/pictures/${name}.jpg`),
  );
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Add pictures' }).click(),
  ]);
  await chooser.setFiles(pictures);
  await page.getByRole('button', { name: 'Open tram-loop.jpg' }).locator('img').waitFor();
  await page.getByRole('button', { name: 'Render all' }).click();
  await page.getByText('3 pictures, 1 rendered').waitFor();
  await page.screenshot({ path: join(root, 'docs/screenshots/batch.png') });
  await page.getByRole('button', { name: 'Remove all' }).click();
  await page.getByRole('button', { name: 'Close' }).click();

  await startDemo('Tram loop, time-lapse');
  await page.getByRole('slider', { name: 'Playhead' }).waitFor();
  await rest();
  await rest();
  await step('Focus');
  await page.getByRole('button', { name: 'Forward', exact: true }).click();
  await page.getByRole('group', { name: 'Planar 1 keys' }).waitFor({ timeout: 120_000 });
  const playhead = page.getByRole('slider', { name: 'Playhead' });
  await playhead.focus();
  for (let i = 0; i < 9; i++) await page.keyboard.press('Shift+ArrowRight');
  await page.mouse.move(560, 240);
  await rest();
  await shoot('following');
  await step('Pace');
  await page.getByRole('radio', { name: 'Curve', exact: true }).click();
  await page.getByRole('slider', { name: 'Speed at 4.00 s' }).focus();
  for (let i = 0; i < 2; i++) await page.keyboard.press('Shift+ArrowUp');
  const hold = page.getByRole('spinbutton', { name: 'Hold, in frames' });
  await hold.fill('3');
  await hold.press('Enter');
  await shoot('pace');
  await step('Output');
  await page.getByText(/to make$/).waitFor();
  await page.getByRole('button', { name: 'Export MP4, H.264' }).click();
  await page.getByRole('progressbar', { name: /^Frame \d\d/ }).waitFor();
  await page.screenshot({ path: join(root, 'docs/screenshots/queue.png') });
  await page.getByRole('button', { name: 'Cancel' }).click();
  await startDemo('Balloons');
  await page.emulateMedia({ colorScheme: 'light' });
  await step('Focus');
  await page.getByRole('button', { name: /^Near balloon; / }).click();
  await page.mouse.move(...(await at([0.1, 0.1])));
  await shoot('elements');
  // What the shelf shows of it.
  await step('Output');
  await page.getByRole('radio', { name: 'JPEG' }).click();
  await page.getByRole('combobox', { name: 'Size' }).click();
  await page.getByRole('option', { name: 'Long edge' }).click();
  await fill('Long edge', 720);
  const [poster] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export JPEG' }).click(),
  ]);
  await poster.saveAs(join(root, 'demo/pictures/balloons.jpg'));
} finally {
  await browser.close();
  server.kill();
}
const folder = mkdtempSync(join(tmpdir(), 'hazy-lens-'));
const large = join(folder, 'night-fair.png');
const files = ['--recipe', 'docs/night-fair.json', '--in', 'demo/pictures/night-fair.jpg', '--out', large];
run(process.execPath, ['server/dist/render.mjs', ...files]);
await sharp(large).resize(1600).jpeg({ quality: 86 }).toFile(join(root, 'docs/night-fair.jpg'));
rmSync(folder, { recursive: true });
