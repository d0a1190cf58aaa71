import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { mkdtemp, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { type App, axeViolations, expect, openClip, test } from './fixtures';

const footage = fileURLToPath(new URL('../demo/footage/', import.meta.url));
/** The demo clip, and what most of the tests have in its place. */
const [LARGE, SMALL] = [1280, 640];

function run(program: string, args: string[]): Buffer {
  const { stdout, stderr, status } = spawnSync(program, ['-v', 'error', ...args], { maxBuffer: 2 ** 30 });
  if (status !== 0) throw new Error(`${program}: ${String(stderr)}`);
  return stdout;
}

/** What ffprobe says of the pictures of a clip. */
function facts(path: string): Record<string, string> {
  const entries =
    'stream=codec_name,profile,pix_fmt,width,height,nb_read_frames,r_frame_rate,duration,color_space,color_range';
  const text = run('ffprobe', ['-count_frames', '-show_entries', entries, '-of', 'default=nw=1', path]);
  return Object.fromEntries(
    text
      .toString()
      .trim()
      .split('\n')
      .map((line) => line.split('=') as [string, string]),
  );
}

/** The luma of some frames of a clip of the demo's shape, in order. */
function frames(path: string, which: number[], width: number): Buffer[] {
  const bytes = (width * width * 9) / 16;
  const wanted = which.map((n) => `eq(n\\,${n})`).join('+');
  const raw = run('ffmpeg', [
    ...['-i', path, '-vf', `select=${wanted}`, '-fps_mode', 'passthrough'],
    ...['-f', 'rawvideo', '-pix_fmt', 'gray', '-'],
  ]);
  expect(raw.length).toBe(which.length * bytes);
  return which.map((_, i) => raw.subarray(i * bytes, (i + 1) * bytes));
}

/** How much detail there is in rows of a frame: the mean step from a pixel to the next. */
function detail(luma: Buffer, from: number, to: number): number {
  let sum = 0;
  for (let y = from; y < to; y++)
    for (let x = 1; x < LARGE; x++) sum += Math.abs(luma[y * LARGE + x]! - luma[y * LARGE + x - 1]!);
  return sum / ((to - from) * (LARGE - 1));
}

/** How far two frames are apart, on the mean of their bytes from..to. */
function difference(a: Buffer, b: Buffer, from = 0, to = a.length): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += Math.abs(a[i]! - b[i]!);
  return sum / (to - from);
}

async function openFile(app: App, path: string | string[]): Promise<void> {
  await app.step('Source');
  const chooser = app.page.waitForEvent('filechooser');
  await app.page.getByRole('button', { name: 'Open file' }).click();
  await (await chooser).setFiles(path);
  if (typeof path === 'string') return;
  const question = app.page.getByRole('dialog', { name: `Open ${path.length} pictures as` });
  await question.getByRole('radio', { name: /^One clip/ }).click();
  await question.getByRole('button', { name: 'Open' }).click();
}

test.describe('the demo clip at its own size', () => {
  // What is made of it is compared with it.
  test.use({ smallDemo: false });

  test('a clip’s band follows its subject, it goes twice as fast, and becomes an MP4 that holds what was seen', async ({
    app,
    folder,
  }) => {
    const { page } = app;
    await openClip(app);
    await page.getByRole('button', { name: 'Forward' }).click();
    const lane = page.getByRole('group', { name: 'Planar 1 keys' });
    await expect(lane.getByRole('button').first()).toBeVisible({ timeout: 120_000 });
    expect(await lane.getByRole('button').count()).toBeLessThan(120);

    // The band goes with the square: at the end of the clip it is elsewhere, and a change there is a key.
    const across = app.number('Centre, across in pixels');
    const first = Number(await across.inputValue());
    await page.getByRole('slider', { name: 'Playhead' }).press('End');
    await expect(page.getByText('frame 240 of 240')).toBeVisible();
    await expect.poll(async () => Math.abs(Number(await across.inputValue()) - first)).toBeGreaterThan(60);

    await app.step('Pace');
    await app.number('Speed').fill('2');
    await app.number('Speed').press('Enter');
    await expect(page.getByText('4.00 s, 120 frames at 30 fps')).toBeVisible();

    await app.step('Output');
    // A trial of a few pictures says how long it takes.
    await expect(page.getByText(/^About \d+\.\d MB, \d+ (s|min) to make$/)).toBeVisible();
    const path = join(folder, 'loop.mp4');
    const download = page.waitForEvent('download', { timeout: 170_000 });
    await page.getByRole('button', { name: 'Export MP4, H.264' }).click();
    await (await download).saveAs(path);
    await expect(page.getByText('mp4”: 1280 × 720 px')).toBeVisible();

    expect(facts(path)).toEqual({
      codec_name: 'h264',
      profile: 'High',
      pix_fmt: 'yuv420p',
      width: '1280',
      height: '720',
      color_range: 'tv',
      color_space: 'bt709',
      r_frame_rate: '30/1',
      duration: '4.000000',
      nb_read_frames: '120',
    });
    const made = frames(path, [0, 60, 119], LARGE);
    const source = frames(join(footage, 'tram-loop.mp4'), [0, 120, 238], LARGE);
    for (const i of [0, 1, 2]) {
      // Sharp where the band is, hazy far from it, in every frame.
      expect(detail(made[i]!, 320, 350) / detail(source[i]!, 320, 350)).toBeGreaterThan(0.7);
      expect(detail(made[i]!, 690, 720) / detail(source[i]!, 690, 720)).toBeLessThan(0.45);
    }
    // The first and the last picture are the frames they ought to be.
    const square = [320 * LARGE, 350 * LARGE] as const;
    expect(difference(made[0]!, source[0]!, ...square)).toBeLessThan(9);
    expect(difference(made[2]!, source[2]!, ...square)).toBeLessThan(9);
    expect(difference(made[2]!, source[1]!, ...square)).toBeGreaterThan(20);
  });

  test('a clip that a window left unfinished goes on from its last whole part, or is saved as far as it is', async ({
    app,
    folder,
  }) => {
    const { page } = app;
    page.on('dialog', (dialog) => void dialog.accept());
    await openClip(app);
    // Parts are four seconds long: two of them.
    await app.step('Pace');
    await app.number('Frame rate').fill('15');
    await app.number('Frame rate').press('Enter');
    await app.step('Output');
    await page.getByRole('button', { name: 'Export MP4, H.264' }).click();
    const job = page.getByRole('group', { name: 'Export of Tram loop, time-lapse.mp4' });
    await expect(job).toContainText(/Frame (6[1-9]|[7-9]\d|1\d\d) of 120/, { timeout: 170_000 });
    await job.getByRole('button', { name: 'Pause' }).click();
    const partsKept = (): Promise<number> =>
      page.evaluate(
        () =>
          new Promise((resolve) => {
            indexedDB.open('hazy-lens').onsuccess = ({ target }) => {
              const database = (target as IDBOpenDBRequest).result;
              const count = database.transaction('filmParts').objectStore('filmParts').count();
              count.onsuccess = () => (database.close(), resolve(count.result));
            };
          }),
      );
    await expect.poll(partsKept).toBe(1);
    await page.reload();
    await expect(app.picture).toBeVisible();
    const left = page.getByRole('group', { name: 'Unfinished export: Tram loop, time-lapse.mp4' });
    await expect(left).toContainText('60 of 120 frames rendered');

    // What is there is a film of its own; the whole one is made from there on, whatever is open.
    const half = await app.downloadBy(left.getByRole('button', { name: 'Save partial clip' }), folder);
    expect(facts(half)).toMatchObject({ nb_read_frames: '60', duration: '4.000000', r_frame_rate: '15/1' });
    const path = join(folder, 'whole.mp4');
    const download = page.waitForEvent('download', { timeout: 170_000 });
    await left.getByRole('button', { name: 'Resume' }).click();
    await expect(job).toContainText(/Frame (6[1-9]|[7-9]\d|1\d\d) of 120/);
    await (await download).saveAs(path);
    expect(facts(path)).toMatchObject({ nb_read_frames: '120', duration: '8.000000', color_range: 'tv' });
    const [first, earlier, before, after] = frames(path, [0, 58, 59, 60], LARGE) as [
      Buffer,
      Buffer,
      Buffer,
      Buffer,
    ];
    expect(first.equals(frames(half, [0], LARGE)[0]!)).toBe(true);
    expect(before.equals(frames(half, [59], LARGE)[0]!)).toBe(true);
    // Where the parts meet it goes on as it does elsewhere.
    const source = frames(join(footage, 'tram-loop.mp4'), [116, 118, 120], LARGE);
    const share = (a: Buffer, b: Buffer, i: number): number =>
      difference(a, b) / difference(source[i]!, source[i + 1]!);
    expect(share(before, after, 1) / share(earlier, before, 0)).toBeLessThan(1.25);
    await expect(left).toHaveCount(0);
    await expect(job).toHaveCount(0);
    expect(await partsKept()).toBe(0);
  });
});

test('a subject and strokes that were drawn on one frame go with the view, and are drawn on at another', async ({
  app,
}) => {
  const { page } = app;
  await openClip(app);
  // The house in front stands in the haze; cut out it is clear, and what lies beside it is not.
  const [house, beside] = [[0.22, 0.8], [0.12, 0.85]] as const; // prettier-ignore
  await expect.poll(() => app.hazeAt(...house)).toBeGreaterThan(20);
  await app.add('Subject');
  await app.draw([0.18, 0.6], [0.245, 0.55], [0.3, 0.62], [0.25, 0.71], [0.22, 0.785], [0.195, 0.69]);
  await page.getByRole('radio', { name: 'Outside' }).click();
  await app.draw(
    [0.13, 0.54],
    [0.22, 0.45],
    [0.32, 0.55],
    [0.36, 0.66],
    [0.3, 0.83],
    [0.18, 0.81],
    [0.14, 0.69],
  );
  await expect(page.getByText('cutting out')).toHaveCount(0);
  await expect.poll(() => app.hazeAt(0.22, 0.77)).toBe(0);
  await expect.poll(() => app.hazeAt(...beside)).toBeGreaterThan(20);
  await page.getByRole('button', { name: 'Forward' }).click();
  await expect(page.getByRole('group', { name: 'Subject 1 keys' }).getByRole('button').first()).toBeVisible({
    timeout: 120_000,
  });

  // A stroke on the lawn, followed too.
  await app.add('Brush');
  await app.draw([0.45, 0.92], [0.55, 0.92]);
  await expect.poll(() => app.hazeAt(0.5, 0.92)).toBe(0);
  await page.getByRole('button', { name: 'Forward' }).click();
  await expect(page.getByRole('group', { name: 'brush keys' }).getByRole('button').first()).toBeVisible({
    timeout: 120_000,
  });

  // At the end of the clip the view has gone to the right: both are farther left and lower.
  await page.getByRole('slider', { name: 'Playhead' }).press('End');
  await expect(page.getByText('frame 240 of 240')).toBeVisible();
  await app.settled();
  await expect.poll(() => app.hazeAt(0.05, 0.8)).toBe(0);
  await expect.poll(() => app.hazeAt(0.22, 0.85)).toBeGreaterThan(20);
  await expect.poll(() => app.hazeAt(0.55, 0.92)).toBeGreaterThan(20);

  // What is painted here is here, and on the first frame where this place is there.
  await app.draw([0.5, 0.8], [0.6, 0.8]);
  await expect.poll(() => app.hazeAt(0.55, 0.8)).toBe(0);
  await page.getByRole('slider', { name: 'Playhead' }).press('Home');
  await app.settled();
  await expect.poll(() => app.hazeAt(0.22, 0.77)).toBe(0);
  await expect.poll(() => app.hazeAt(0.5, 0.92)).toBe(0);
  await expect.poll(() => app.hazeAt(0.55, 0.8)).toBeGreaterThan(0);
});

test('what is mended away on one frame stays away on all, where it follows the view', async ({ app }) => {
  const { page } = app;
  await openClip(app);
  // A blue car stands before the house; at the end of the clip the view has moved on.
  const isBlue = async (x: number, y: number): Promise<boolean> => {
    const [red, , blue] = (await app.colourAt(x, y)) as [number, number, number];
    return blue > red + 30;
  };
  const end = page.getByRole('slider', { name: 'Playhead' });
  expect(await isBlue(0.425, 0.81)).toBe(true);
  await end.press('End');
  await expect.poll(() => isBlue(0.235, 0.94)).toBe(true);
  await end.press('Home');
  await app.step('Tidy');
  await page.getByRole('radio', { name: 'Fill' }).click();
  await page.getByRole('spinbutton', { name: 'Touch-up radius' }).fill('18');
  await page.keyboard.press('Enter');
  await app.draw([0.405, 0.835], [0.425, 0.81], [0.445, 0.8]);
  await expect.poll(() => isBlue(0.425, 0.81)).toBe(false);
  await page.getByRole('button', { name: 'Forward' }).click();
  await expect(page.getByRole('group', { name: 'Fill 1 keys' }).getByRole('button').first()).toBeVisible({
    timeout: 120_000,
  });
  await end.press('End');
  await expect(page.getByText('frame 240 of 240')).toBeVisible();
  await expect.poll(() => isBlue(0.235, 0.94)).toBe(false);
  // Switched off, it is there again.
  await page.getByRole('switch', { name: 'Fill 1 on' }).click();
  await expect.poll(() => isBlue(0.235, 0.94)).toBe(true);
});

test('numbers have keys, a change between them sets one, and all of it is steps back', async ({ app }) => {
  const { page } = app;
  await openClip(app);
  await app.step('Blur');
  await page.getByRole('button', { name: 'Blur radius key' }).click();
  const lane = page.getByRole('group', { name: 'blur radius keys' });
  await expect(lane.getByRole('button')).toHaveCount(1);
  const playhead = page.getByRole('slider', { name: 'Playhead' });
  await playhead.press('Shift+ArrowRight');
  await expect(page.getByText('frame 11 of 240')).toBeVisible();
  await app.settled();
  const radius = app.number('Blur radius');
  await radius.fill('20');
  await radius.press('Enter');
  await expect(lane.getByRole('button')).toHaveCount(2);
  await playhead.press('Home');
  await expect(radius).toHaveValue('7.7');
  for (let i = 0; i < 5; i++) await playhead.press('ArrowRight');
  await expect.poll(async () => Number(await radius.inputValue())).toBeGreaterThan(7.8);
  await expect.poll(async () => Number(await radius.inputValue())).toBeLessThan(20);

  // A key goes along its lane by arrow keys, and away by Delete.
  const second = lane.getByRole('button').nth(1);
  await second.press('ArrowRight');
  await expect(page.getByRole('button', { name: 'blur radius key at 0:00.37' })).toBeVisible();
  await page.getByRole('button', { name: 'blur radius key at 0:00.37' }).press('Delete');
  await expect(lane.getByRole('button')).toHaveCount(1);
  await page.keyboard.press('Control+z');
  await expect(lane.getByRole('button')).toHaveCount(2);

  // Tab comes to one key of a lane; the page keys go from key to key.
  await lane.getByRole('button').first().focus();
  await page.keyboard.press('PageDown');
  await expect(lane.getByRole('button').nth(1)).toBeFocused();
  await expect(lane.getByRole('button').nth(1)).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByText('frame 12 of 240')).toBeVisible();
  expect(await lane.locator('[tabindex="0"]').count()).toBe(1);
  await page.keyboard.press('PageUp');
  await expect(lane.getByRole('button').first()).toBeFocused();
  await expect(page.getByText('frame 1 of 240')).toBeVisible();

  // A hand takes a key along its lane, as far as it goes, as one step back.
  const stop = lane.getByRole('button').nth(1);
  const { x, y } = (await stop.boundingBox())!;
  await page.mouse.move(x + 3, y + 7);
  await page.mouse.down();
  await page.mouse.move(x + 200, y + 7, { steps: 8 });
  await page.mouse.move(x + 403, y + 7, { steps: 8 });
  await page.mouse.up();
  await expect.poll(async () => Math.abs((await stop.boundingBox())!.x - x - 400)).toBeLessThan(5);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => Math.abs((await stop.boundingBox())!.x - x)).toBeLessThan(2);

  // Opened tall, the lane shows the number as a curve whose keys go up and down as well.
  const opener = page.getByRole('button', { name: 'Curve of blur radius' });
  await opener.click();
  await expect(opener).toHaveAttribute('aria-expanded', 'true');
  const knots = page.getByRole('slider', { name: /^blur radius at/ });
  await expect(knots).toHaveCount(2);
  await expect(knots.nth(1)).toHaveAttribute('aria-valuetext', '20.0 px');
  await knots.nth(1).press('Shift+ArrowUp');
  await expect(knots.nth(1)).not.toHaveAttribute('aria-valuetext', '20.0 px');
  await page.keyboard.press('Control+z');
  await expect(knots.nth(1)).toHaveAttribute('aria-valuetext', '20.0 px');
  const knot = (await knots.nth(1).boundingBox())!;
  await page.mouse.move(knot.x + 5, knot.y + 5);
  await page.mouse.down();
  await page.mouse.move(knot.x + 6, knot.y + 25, { steps: 6 });
  await page.mouse.up();
  await expect.poll(async () => Number(await radius.inputValue())).toBeLessThan(18);
  await expect(page.getByRole('button', { name: 'blur radius key at 0:00.37' })).toBeVisible();
  expect(await axeViolations(page)).toEqual([]);
  await page.keyboard.press('Control+z');
  await expect(radius).toHaveValue('20.0');
  await page.mouse.dblclick(knot.x + 300, knot.y + 40);
  await expect(knots).toHaveCount(3);
  await expect(knots.nth(2)).toHaveAttribute('aria-valuetext', '20.0 px');
  await knots.nth(2).press('Delete');
  await expect(knots).toHaveCount(2);
  await opener.click();
  await expect(knots).toHaveCount(0);

  // In and out are pushed by keys too, and are kept with the rest over a reload.
  await page.getByRole('slider', { name: 'Out point' }).press('Shift+ArrowLeft');
  await expect(page.getByText('230 frames')).toBeVisible();
  await app.saved();
  await page.reload();
  await app.settled();
  await expect(page.getByText('230 frames')).toBeVisible();
  await expect(page.getByRole('group', { name: 'blur radius keys' }).getByRole('button')).toHaveCount(2);
});

test('the reel runs at its pace with the look on, and stops on a frame', async ({ app }) => {
  const { page } = app;
  await openClip(app);
  const frame = page.getByText(/frame \d+ of 240/);
  await page.keyboard.press('r');
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await expect
    .poll(async () => Number((await frame.textContent())!.match(/frame (\d+)/)![1]))
    .toBeGreaterThan(20);
  await page.keyboard.press('r');
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();
  const stood = await frame.textContent();
  await app.settled();
  expect(await frame.textContent()).toBe(stood);
  for (const step of ['Focus', 'Pace', 'Output']) {
    await app.step(step);
    expect(await axeViolations(page), step).toEqual([]);
  }
});

test('numbered pictures are footage: gaps are told, and they become numbered pictures again', async ({
  app,
  folder,
}) => {
  const { page } = app;
  const names: string[] = [];
  for (const n of [1, 2, 3, 5, 9, 10]) {
    const name = join(folder, `walk ${n}.png`);
    const colour = { r: 20 * n, g: 90, b: 120 };
    await writeFile(
      name,
      await sharp({ create: { width: 320, height: 180, channels: 3, background: colour } })
        .png()
        .toBuffer(),
    );
    names.push(name);
  }
  await openFile(app, names);
  await expect(page.getByText('frame 1 of 6')).toBeVisible();
  await expect(page.getByText('Missing frames: 4, 6–8.')).toBeVisible();
  // Five a second instead of thirty: what is in view stays in view, and a step back is one.
  await page.getByRole('slider', { name: 'Playhead' }).press('End');
  await expect(page.getByText('frame 6 of 6')).toBeVisible();
  await app.number('Frame rate').fill('5');
  await app.number('Frame rate').press('Enter');
  await expect(page.getByText('1.20 s, 6 frames, 5 fps')).toBeVisible();
  await expect(page.getByText('frame 6 of 6')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('0.20 s, 6 frames, 30 fps')).toBeVisible();
  await page.keyboard.press('Control+y');
  await expect(page.getByText('1.20 s, 6 frames, 5 fps')).toBeVisible();
  await app.step('Pace');
  await page.getByRole('radio', { name: 'Reverse' }).click();
  await app.step('Output');
  await page.getByRole('combobox', { name: 'Clip format' }).click();
  await page.getByRole('option', { name: 'Animated WebP' }).click();
  const moving = await app.downloadBy(page.getByRole('button', { name: 'Export Animated WebP' }), folder);
  const { pages, delay } = await sharp(moving, { animated: true }).metadata();
  expect({ pages, delay }).toEqual({ pages: 6, delay: [200, 200, 200, 200, 200, 200] });
  await page.getByRole('combobox', { name: 'Clip format' }).click();
  await page.getByRole('option', { name: 'JPEG frames' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export JPEG frames' }).click();
  const path = join(folder, 'walk.zip');
  await (await download).saveAs(path);
  const files = unzipSync(readFileSync(path));
  expect(Object.keys(files)).toEqual([1, 2, 3, 4, 5, 6].map((n) => `walk edit-000${n}.jpg`));
  const red = async (name: string): Promise<number> => (await sharp(files[name]!).raw().toBuffer())[0]!;
  // Reversed: the last comes first.
  expect(Math.abs((await red('walk edit-0001.jpg')) - 200)).toBeLessThan(30);
  expect(Math.abs((await red('walk edit-0006.jpg')) - 20)).toBeLessThan(30);
});

test('sound goes along where nothing is faster, and is left out where something is', async ({
  app,
  folder,
}) => {
  const { page } = app;
  // What is made of it has its name, and must not take its place.
  const path = join(await mkdtemp(join(folder, 'in-')), 'bell.mp4');
  run('ffmpeg', [
    ...['-i', join(footage, 'tram-loop.mp4'), '-f', 'lavfi', '-i', 'sine=frequency=660', '-t', '1'],
    ...['-map', '0:v', '-map', '1:a', '-c:v', 'copy', '-c:a', 'aac', path],
  ]);
  await openFile(app, path);
  await expect(app.project).toContainText('bell');
  await expect(page.getByText('AAC')).toBeVisible();
  await app.step('Output');
  const made = async (): Promise<Record<string, string>> => {
    const out = await app.downloadBy(page.getByRole('button', { name: 'Export MP4, H.264' }), folder);
    const text = run('ffprobe', [
      '-show_entries',
      'stream=codec_name,codec_type,duration',
      '-of',
      'csv=p=0',
      out,
    ]);
    return Object.fromEntries(text.toString().trim().split('\n').map((line) => [line.split(',')[1], line])); // prettier-ignore
  };
  const withSound = await made();
  expect(withSound['audio']).toMatch(/^aac,audio,/);
  expect(Number(withSound['audio']!.split(',')[2])).toBeCloseTo(Number(withSound['video']!.split(',')[2]), 0);
  // A WebM holds no AAC: the same sound is there as Opus.
  await page.getByRole('combobox', { name: 'Clip format' }).click();
  await page.getByRole('option', { name: 'WebM, VP9', exact: true }).click();
  const webm = await app.downloadBy(page.getByRole('button', { name: 'Export WebM, VP9' }), folder);
  const soundOf = (file: string): Float32Array => {
    const bytes = run('ffmpeg', ['-i', file, '-map', '0:a', '-f', 'f32le', '-ac', '1', '-ar', '48000', '-']);
    return new Float32Array(bytes.buffer, bytes.byteOffset, bytes.length >> 2);
  };
  const risesOf = (part: Float32Array): number =>
    part.filter((value, i) => i > 0 && part[i - 1]! < 0 && value >= 0).length;
  const samples = soundOf(webm);
  expect(samples.length / 48_000).toBeCloseTo(1, 1);
  // A tone of 660 Hz goes through zero upwards 660 times a second.
  const half = samples.subarray(samples.length >> 2, (samples.length >> 2) + 24_000);
  expect(Math.abs(risesOf(half) - 330)).toBeLessThan(4);
  await page.getByRole('combobox', { name: 'Clip format' }).click();
  await page.getByRole('option', { name: 'MP4, H.264' }).click();
  await app.step('Pace');
  await app.number('Speed').fill('2');
  await app.number('Speed').press('Enter');
  await app.step('Output');
  await expect(page.getByText('Audio is included only')).toBeVisible();
  expect(Object.keys(await made())).toEqual(['video']);
  // Stretched it goes along at twice the speed, and is as high as before.
  await app.step('Pace');
  await page.getByRole('checkbox', { name: 'Stretch audio' }).check();
  await app.step('Output');
  await expect(page.getByText('Audio is stretched to 2×')).toBeVisible();
  const fast = await app.downloadBy(page.getByRole('button', { name: 'Export MP4, H.264' }), folder);
  const stretched = soundOf(fast);
  expect(stretched.length / 48_000).toBeCloseTo(0.5, 1);
  expect(Math.abs(risesOf(stretched.subarray(4800, 19_200)) - 198)).toBeLessThan(4);
});

test('the sound is heard while a clip plays, in step with what is shown', async ({ app, folder }) => {
  const { page } = app;
  const path = join(folder, 'flash.mp4');
  // From the second second on it is white, and a tone is heard.
  run('ffmpeg', [
    ...['-f', 'lavfi', '-i', 'color=gray:size=320x180:rate=30:duration=2'],
    ...['-f', 'lavfi', '-i', 'sine=frequency=880:duration=2:sample_rate=48000'],
    ...['-vf', "drawbox=color=white:t=fill:enable='gte(n,30)'", '-af', "volume=enable='lt(t,1)':volume=0"],
    ...['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac', path],
  ]);
  // When the tone is heard and from when the white is shown, in seconds of the page's clock.
  await page.evaluate(() => {
    const found = { tones: [] as number[], whites: [] as number[], loudness: () => NaN };
    Object.assign(window, { found });
    const { start } = AudioBufferSourceNode.prototype;
    let wasQuiet = true;
    AudioBufferSourceNode.prototype.start = function (when = 0, offset = 0, length?: number) {
      const context = this.context as AudioContext;
      const samples = this.buffer!.getChannelData(0);
      const first = samples.findIndex((value) => Math.abs(value) > 0.02);
      const clock = performance.now() / 1000 - context.currentTime + context.outputLatency;
      if (wasQuiet && first >= 0) found.tones.push(clock + when - offset + first / this.buffer!.sampleRate);
      wasQuiet = first < 0;
      start.call(this, when, offset, length);
    };
    const { createGain } = AudioContext.prototype;
    AudioContext.prototype.createGain = function () {
      const node = createGain.call(this);
      found.loudness = () => node.gain.value;
      return node;
    };
    let last = 0;
    const look = (): void => {
      const reading = document.querySelector('hl-reel .reading')?.textContent ?? '';
      const frame = Number(/frame (\d+)/.exec(reading)?.[1]);
      if (frame > 30 && last <= 30) found.whites.push(performance.now() / 1000);
      last = frame;
      requestAnimationFrame(look);
    };
    look();
  });
  const found = () =>
    page.evaluate(() => {
      const { found } = window as unknown as {
        found: { tones: number[]; whites: number[]; loudness: () => number };
      };
      return { ...found, loudness: found.loudness() };
    });
  await openFile(app, path);
  await expect(page.getByText('frame 1 of 60')).toBeVisible();
  const mute = page.getByRole('button', { name: 'Mute' });
  const volume = page.getByRole('slider', { name: 'Volume' });
  await app.settled();
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect.poll(async () => (await found()).whites.length).toBeGreaterThan(3);
  await expect.poll(async () => (await found()).loudness).toBe(1);
  await volume.focus();
  await volume.press('Home');
  await expect(volume).toHaveValue('0');
  for (let i = 0; i < 10; i++) await volume.press('ArrowRight');
  await expect(volume).toHaveValue('0.5');
  await expect.poll(async () => (await found()).loudness).toBeCloseTo(0.25);
  await mute.click();
  await expect.poll(async () => (await found()).loudness).toBe(0);
  await expect(mute).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('k');
  const { tones, whites } = await found();
  expect(tones.length).toBeGreaterThan(2);
  const apart = tones.slice(0, -1).map((tone) => {
    const [nearest] = whites.map((white) => white - tone).sort((a, b) => Math.abs(a) - Math.abs(b));
    return nearest!;
  });
  // A slow machine shows a picture late; it never shows it early, and the tone never waits. Where it is starved, what the
  // context says of its time is late by some hundredths of a second: then the tone seems to be.
  const middle = apart.toSorted((a, b) => a - b)[apart.length >> 1]!;
  expect(middle).toBeGreaterThan(-0.05);
  expect(Math.min(...apart)).toBeGreaterThan(-0.1);
  expect(Math.min(...apart)).toBeLessThan(0.07);
  await app.step('Pace');
  await app.number('Speed').fill('2');
  await app.number('Speed').press('Enter');
  await expect(volume).toBeDisabled();
  const before = (await found()).tones.length;
  await page.getByRole('button', { name: 'Play' }).click();
  await expect.poll(async () => (await found()).whites.length).toBeGreaterThan(whites.length + 1);
  expect((await found()).tones.length).toBe(before);
});

test('clips that cannot be used are refused by name; what is damaged inside is held and told', async ({
  app,
  folder,
}) => {
  const { page } = app;
  const clip = readFileSync(join(footage, 'tram-loop.mp4'));
  const open = async (name: string, bytes: Buffer): Promise<void> => {
    const path = join(folder, name);
    await writeFile(path, bytes);
    await openFile(app, path);
  };
  await open('head.mp4', clip.subarray(0, 900));
  await expect(app.notice.filter({ hasText: '“head.mp4”' })).toBeVisible();
  run('ffmpeg', ['-f', 'lavfi', '-i', 'sine=duration=1', '-c:a', 'libopus', join(folder, 'sound.webm')]);
  await open('sound.webm', readFileSync(join(folder, 'sound.webm')));
  await expect(
    app.notice.filter({ hasText: '“sound.webm” has no pictures in it, only sound.' }),
  ).toBeVisible();
  run('ffmpeg', [
    '-i',
    join(footage, 'tram-loop.mp4'),
    '-t',
    '0.3',
    '-c:v',
    'mpeg4',
    join(folder, 'old.mp4'),
  ]);
  await open('old.mp4', readFileSync(join(folder, 'old.mp4')));
  await expect(app.notice.filter({ hasText: '“old.mp4” is in' })).toBeVisible();
  await expect(app.project).toContainText('Tram loop');

  // The end of the file is gone: what is there plays, the rest holds the last frame that is whole.
  await open('cut.mp4', clip.subarray(0, Math.floor(clip.length / 2)));
  await expect(page.getByText('frame 1 of 240')).toBeVisible();
  const missing = /cut short: frames (\d+) to 240 are missing/;
  const said = page.getByRole('status').filter({ hasText: missing });
  const from = Number(missing.exec((await said.textContent())!)![1]);
  expect(from).toBeGreaterThan(60);
  await said.getByRole('button').click();
  await expect(page.getByRole('img', { name: `Frames ${from} to 240 are missing` })).toBeVisible();
  await page.getByRole('slider', { name: 'Playhead' }).press('End');
  await expect(page.getByText('The previous frame is shown instead.')).toBeVisible();
  // An export of it stops there, unless the last frame is to be repeated.
  const end = { format: 'hazy-lens-recipe', version: 1, pace: { trim: [(from - 3) / 30, 8] } };
  await app.useRecipe('end.json', JSON.stringify(end));
  await expect(page.getByRole('button', { name: 'Undo: recipe “end.json”' })).toBeEnabled();
  await app.step('Output');
  await page.getByRole('button', { name: 'Export MP4, H.264' }).click();
  await expect(
    app.notice.filter({ hasText: `Frame ${from} of “cut.mp4” can’t be read: trim` }),
  ).toBeVisible();
  // Without its index there is nothing; a text is none, whatever it is called.
  await open('late.mp4', Buffer.concat([clip.subarray(0, 28), Buffer.from([0, 9, 0, 0]), Buffer.from('mdat'), clip.subarray(90_000, 120_000)])); // prettier-ignore
  await expect(app.notice.filter({ hasText: '“late.mp4” is cut short: its index' })).toBeVisible();
  await open('notes.mp4', Buffer.from('Dear diary, today I saw a tram.'));
  await expect(
    app.notice.filter({ hasText: '“notes.mp4” is named like a clip but isn’t one' }),
  ).toBeVisible();
});

test('clips that are turned, of long pixels or of uneven frames are seen as they are meant', async ({
  app,
  folder,
}) => {
  const { page } = app;
  const made = (name: string, ...how: string[]): string => {
    const path = join(folder, name);
    run('ffmpeg', [...['-f', 'lavfi', '-i', 'testsrc2=size=320x180:rate=10:duration=1'], ...how, path]);
    return path;
  };
  const h264 = ['-c:v', 'libx264', '-pix_fmt', 'yuv420p'];
  const lying = made('lying.mp4', ...h264);
  const turned = join(folder, 'turned.mp4');
  run('ffmpeg', ['-i', lying, '-c', 'copy', '-metadata:s:v', 'rotate=90', turned]);
  await openFile(app, turned);
  await expect(page.getByText('180 × 320 px')).toBeVisible();

  await openFile(app, made('long.mp4', '-vf', 'setsar=4/3', ...h264));
  await expect(page.getByText('427 × 180 px')).toBeVisible();

  // Two frames are missing: the one before is shown until the next, and nothing is faster for it.
  const uneven = made('uneven.mkv', '-vf', 'select=not(between(n\\,4\\,5))', '-fps_mode', 'vfr', ...h264);
  await openFile(app, uneven);
  await expect(page.getByText('Frame rate varies')).toBeVisible();
  await expect(page.getByText('frame 1 of 8')).toBeVisible();
  await app.step('Output');
  const out = await app.downloadBy(page.getByRole('button', { name: 'Export MP4, H.264' }), folder);
  expect(Number(facts(out)['duration'])).toBeCloseTo(1, 1);
});

test('a grey ramp comes back from an MP4 of high quality as it was', async ({ app, folder }) => {
  const { page } = app;
  const path = join(folder, 'ramp.mp4');
  run('ffmpeg', [
    ...['-f', 'lavfi', '-i', 'color=gray:size=512x288:rate=10:duration=0.5'],
    ...['-vf', 'format=gray,geq=lum=X/2,scale=in_range=full:out_range=limited:out_color_matrix=bt709'],
    ...['-c:v', 'libx264', '-qp', '0', '-pix_fmt', 'yuv420p', '-colorspace', 'bt709', path],
  ]);
  await openFile(app, path);
  await expect(app.project).toContainText('ramp');
  await app.step('Focus');
  await page.getByRole('switch', { name: /^Focus/ }).click();
  await app.step('Output');
  const quality = page.getByRole('region', { name: 'Clip' }).getByRole('spinbutton', { name: 'Quality' });
  await quality.fill('100');
  await quality.press('Enter');
  const out = await app.downloadBy(page.getByRole('button', { name: 'Export MP4, H.264' }), folder);
  expect(facts(out)).toMatchObject({ color_space: 'bt709', color_range: 'tv' });
  const luma = (file: string): Buffer =>
    run('ffmpeg', ['-i', file, '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-']).subarray(0, 512 * 288);
  const [before, after] = [luma(path), luma(out)];
  expect(out).not.toBe(path);
  // What is left is the encoder's: it keeps to a bit rate.
  const apart = before.map((value, i) => Math.abs(value - after[i]!));
  expect(Math.max(...new Set(apart))).toBeLessThanOrEqual(3);
  expect(apart.reduce((sum, value) => sum + value, 0) / apart.length).toBeLessThan(0.5);
  expect(new Set(before).size).toBeGreaterThan(200);
});

test('noisy footage that pumps keeps its brightness in each kind of clip, over all of its parts', async ({
  app,
  folder,
}) => {
  const path = join(folder, 'pumping.mp4');
  // Longer than a part of a film.
  const [width, height, count] = [320, 180, 130];
  run('ffmpeg', [
    ...['-f', 'lavfi', '-i', `color=gray:size=${width}x${height}:rate=30`, '-frames:v', String(count)],
    ...['-vf', "noise=alls=40:allf=t,eq=brightness='0.15*sin(n*1.3)':eval=frame,format=yuv420p"],
    ...['-c:v', 'libx264', '-qp', '10', path],
  ]);
  await openFile(app, path);
  await expect(app.project).toContainText('pumping');
  for (const step of ['Blur', 'Colour']) {
    await app.step(step);
    await app.page.getByRole('switch', { name: new RegExp(`^${step}`) }).click();
  }
  await app.step('Output');
  const which = [0, 1, 2, 3, 50, 51, 52, 119, 120, 129];
  const mean = (luma: Buffer): number => luma.reduce((sum, v) => sum + v, 0) / luma.length;
  const before = frames(path, which, width).map(mean);
  for (const kind of ['MP4, H.264', 'WebM, VP9', 'WebM, AV1']) {
    await app.page.getByLabel('Clip format').click();
    await app.page.getByRole('option', { name: kind, exact: true }).click();
    const button = app.page.getByRole('button', { name: `Export ${kind}`, exact: true });
    const made = await app.downloadBy(button, folder);
    expect(facts(made)).toMatchObject({ nb_read_frames: String(count) });
    for (const [i, frame] of frames(made, which, width).entries())
      expect(Math.abs(mean(frame) - before[i]!), `${kind}, frame ${which[i]}`).toBeLessThan(1);
  }
});

test('numbered TIFFs of 16 bits are footage, and their depth reaches frames and clips', async ({
  app,
  folder,
}) => {
  const { page } = app;
  const names = await Promise.all(
    [1, 2, 3].map(async (n) => {
      const samples = Uint16Array.from({ length: 96 * 64 * 3 }, (_, i) => 9000 * n + (i % 200));
      const name = join(folder, `plate ${n}.tif`);
      await sharp(samples, { raw: { width: 96, height: 64, channels: 3 } })
        .toColourspace('rgb16')
        .tiff({ compression: 'lzw' })
        .toFile(name);
      return name;
    }),
  );
  await openFile(app, names);
  await expect(page.getByText('frame 1 of 3')).toBeVisible();
  await expect(page.getByText('3 numbered pictures')).toBeVisible();
  for (const step of ['Focus', 'Blur', 'Colour'])
    await page
      .getByRole('navigation', { name: 'Route' })
      .getByRole('switch', { name: new RegExp(`^${step}`) })
      .click();
  await app.step('Output');
  await page.getByRole('combobox', { name: 'Clip format' }).click();
  await page.getByRole('option', { name: 'PNG frames' }).click();
  const zip = unzipSync(
    readFileSync(await app.downloadBy(page.getByRole('button', { name: 'Export PNG frames' }), folder)),
  );
  const reds = await Promise.all(
    Object.values(zip).map(async (file) => (await sharp(file).raw().toBuffer())[0]!),
  );
  expect(reds.map((red, i) => Math.abs(red - (9000 * (i + 1)) / 257) < 2)).toEqual([true, true, true]);
  const kind = page.getByRole('combobox', { name: 'Clip format' });
  await kind.click();
  await page.getByRole('option', { name: 'WebM, VP9, 10 bits' }).click();
  const button = page.getByRole('button', { name: 'Export WebM, VP9, 10 bits' });
  const webm = await app.downloadBy(button, folder);
  expect(facts(webm)).toMatchObject({ pix_fmt: 'yuv420p10le', profile: 'Profile 2', nb_read_frames: '3' });
  const raw = run('ffmpeg', ['-i', webm, '-f', 'rawvideo', '-pix_fmt', 'yuv420p10le', '-']);
  const levels = new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2);
  for (const n of [1, 2, 3]) {
    const luma = levels.subarray((n - 1) * 96 * 64 * 1.5).subarray(0, 96 * 64);
    const mean = luma.reduce((sum, level) => sum + level, 0) / luma.length;
    // A quarter of a level of 8 bits.
    expect(Math.abs(mean - (64 + (876 * (9000 * n + 99.5)) / 65_535))).toBeLessThan(1);
  }
  // What this browser's encoder does not have is said.
  await kind.click();
  await page.getByRole('option', { name: 'MP4, AV1, 10 bits' }).click();
  await expect(page.getByText('This browser can’t encode MP4, AV1, 10 bits at 96 × 64 px.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Export MP4, AV1, 10 bits' })).toBeDisabled();
});

test('transparent places of numbered pictures stay so in PNG frames and WebM, and are white elsewhere', async ({
  app,
  folder,
}) => {
  const { page } = app;
  const [width, height] = [128, 64];
  // Red, with the right half of each picture half transparent, and its last quarter wholly.
  const cover = (x: number): number => (x < 64 ? 255 : x < 96 ? 128 : 0);
  const names = await Promise.all(
    [1, 2, 3].map(async (n) => {
      const rgba = Uint8Array.from({ length: width * height * 4 }, (_, i) =>
        i % 4 === 3 ? cover((i >> 2) % width) : i % 4 === 0 ? 60 * n : 40,
      );
      const name = join(folder, `cel ${n}.png`);
      await sharp(rgba, { raw: { width, height, channels: 4 } })
        .png()
        .toFile(name);
      return name;
    }),
  );
  await openFile(app, names);
  await expect(page.getByText('frame 1 of 3')).toBeVisible();
  for (const step of ['Blur', 'Colour'])
    await page
      .getByRole('navigation', { name: 'Route' })
      .getByRole('switch', { name: new RegExp(`^${step}`) })
      .click();
  await app.step('Output');
  await expect(page.getByText('Transparent areas become white: PNG frames and WebM, VP9')).toBeVisible();
  const made = async (kind: string): Promise<string> => {
    await page.getByRole('combobox', { name: 'Clip format' }).click();
    await page.getByRole('option', { name: kind, exact: true }).click();
    if (kind !== 'JPEG frames') await expect(page.getByText('stay transparent')).toBeVisible();
    return app.downloadBy(page.getByRole('button', { name: `Export ${kind}`, exact: true }), folder);
  };
  const pictures = Object.values(unzipSync(readFileSync(await made('PNG frames'))));
  expect(pictures).toHaveLength(3);
  for (const [i, file] of pictures.entries()) {
    const { data, info } = await sharp(file).raw().toBuffer({ resolveWithObject: true });
    expect(info.channels).toBe(4);
    for (const x of [5, 60, 70, 90, 100, 127]) {
      const at = 4 * (30 * width + x);
      expect(data[at + 3], `coverage at ${x}`).toBe(cover(x));
      // Light is dithered as it lies, times its coverage: half of that is two levels of colour.
      const most = cover(x) === 255 ? 1 : 2;
      if (cover(x) > 0) expect(Math.abs(data[at]! - 60 * (i + 1)), `red at ${x}`).toBeLessThanOrEqual(most);
    }
  }
  const webm = await made('WebM, VP9');
  const raw = run('ffmpeg', ['-c:v', 'libvpx-vp9', '-i', webm, '-f', 'rawvideo', '-pix_fmt', 'rgba', '-']);
  expect(raw.length).toBe(3 * width * height * 4);
  for (const i of [0, 1, 2])
    for (const x of [10, 50, 80, 110]) {
      const at = 4 * ((i * height + 30) * width + x);
      expect(Math.abs(raw[at + 3]! - cover(x)), `coverage at ${x}`).toBeLessThan(4);
      if (cover(x) > 0) expect(Math.abs(raw[at]! - 60 * (i + 1)), `red at ${x}`).toBeLessThan(8);
    }
  const jpegs = Object.values(unzipSync(readFileSync(await made('JPEG frames'))));
  const { data } = await sharp(jpegs[0]).raw().toBuffer({ resolveWithObject: true });
  expect(data[3 * (30 * width + 120)]).toBeGreaterThan(250);
});

/** A picker that gives a clip of the browser's own disk; storage that has no room for it; files that must be asked for. */
function clipOutside(): void {
  const ask = { granted: false };
  Object.assign(window, { ask });
  Object.assign(FileSystemFileHandle.prototype, {
    queryPermission: async () => (ask.granted ? 'granted' : 'prompt'),
    requestPermission: async () => ((ask.granted = true), 'granted'),
  });
  const put = IDBObjectStore.prototype.put;
  IDBObjectStore.prototype.put = function (this: IDBObjectStore, value: { file?: Blob }, ...rest) {
    if (value.file && value.file.size > 1e5 && value.file.type.startsWith('video'))
      throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
    return put.call(this, value, ...rest);
  };
  Reflect.deleteProperty(window, 'showSaveFilePicker');
  Object.assign(window, {
    showOpenFilePicker: async () => {
      const folder = await navigator.storage.getDirectory();
      const place = await folder.getFileHandle('loop.mp4', { create: true });
      const writing = await place.createWritable();
      await (await fetch('demo/tram-loop.mp4')).body!.pipeTo(writing);
      return [place];
    },
  });
}

test('numbered pictures are written into a folder as they are made', async ({ unopened: app, page }) => {
  // The folder that is chosen is one of the browser's own.
  await app.open(() => {
    const picked = async () =>
      (await navigator.storage.getDirectory()).getDirectoryHandle('frames', { create: true });
    Object.assign(window, { showDirectoryPicker: picked });
    Reflect.deleteProperty(window, 'showSaveFilePicker');
    Reflect.deleteProperty(window, 'showOpenFilePicker');
  });
  await openClip(app);
  await app.step('Pace');
  await app.number('Frame rate').fill('1');
  await app.number('Frame rate').press('Enter');
  await app.step('Output');
  await page.getByRole('combobox', { name: 'Clip format' }).click();
  await page.getByRole('option', { name: 'JPEG frames' }).click();
  await page.getByRole('button', { name: 'Export to folder' }).click();
  await expect(page.getByText('Saved 8 frames to “frames”')).toBeVisible();
  const found = await page.evaluate(async () => {
    const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('frames');
    const files: [string, number[]][] = [];
    for await (const [name, handle] of (
      folder as unknown as { entries(): AsyncIterable<[string, FileSystemFileHandle]> }
    ).entries()) {
      const { width, height } = await createImageBitmap(await handle.getFile());
      files.push([name, [width, height]]);
    }
    return files.sort(([a], [b]) => a.localeCompare(b));
  });
  const names = Array.from({ length: 8 }, (_, i) => `Tram loop, time-lapse-000${i + 1}.jpg`);
  expect(found).toEqual(names.map((name) => [name, [SMALL, (SMALL * 9) / 16]]));
});

test('a clip that is too large to be kept is asked for again, and told of where it is gone', async ({
  unopened: app,
  page,
}) => {
  await app.open(clipOutside);
  await app.step('Source');
  await page.getByRole('button', { name: 'Open file' }).click();
  await expect(app.project).toHaveText('loop');
  await expect(page.getByText('“loop.mp4” is too large to store here')).toBeVisible();
  await expect(page.getByText('frame 1 of 240')).toBeVisible();
  await app.step('Colour');
  await app.number('Saturation').fill('55');
  await app.number('Saturation').press('Enter');
  await app.saved();

  await page.reload();
  await expect(page.getByText('“loop” uses “loop.mp4” on disk')).toBeVisible();
  await page.getByRole('button', { name: 'Allow access' }).click();
  await expect(app.project).toHaveText('loop');
  await expect(page.getByText('frame 1 of 240')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Undo: saturation' })).toBeEnabled();

  await page.evaluate(async () => (await navigator.storage.getDirectory()).removeEntry('loop.mp4'));
  await page.reload();
  await page.getByRole('button', { name: 'Allow access' }).click();
  await expect(page.getByText(/its file “loop\.mp4” has moved/)).toBeVisible();
});

test('animations are footage, whatever kind they are of', async ({ app, folder }) => {
  const moving = ['-f', 'lavfi', '-i', 'testsrc=size=96x64:rate=10:duration=0.6,hue=h=300*t'];
  const kinds = {
    'moving.gif': [],
    'moving.webp': ['-c:v', 'libwebp_anim'],
    'moving.avif': ['-c:v', 'libaom-av1', '-cpu-used', '8'],
  };
  for (const [name, how] of Object.entries(kinds)) {
    run('ffmpeg', [...moving, ...how, join(folder, name)]);
    await openFile(app, join(folder, name));
    await expect(app.page.getByText('frame 1 of 6')).toBeVisible();
    await expect(app.project).toHaveText('moving');
    const first = await app.colourAt(0.3, 0.5);
    await app.page.getByRole('slider', { name: 'Playhead' }).press('End');
    await expect(app.page.getByText('frame 6 of 6')).toBeVisible();
    await expect.poll(() => app.colourAt(0.3, 0.5), name).not.toEqual(first);
    await app.step('Source');
    await expect(app.page.getByText(new RegExp(`^${name.slice(7)}\\b`, 'i')).first()).toBeVisible();
  }
});
