import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { axeViolations, expect, openClip, test } from './fixtures';

const built = fileURLToPath(new URL('../server/dist/', import.meta.url));
const [APP, FARM, REDIS] = [4797, 4798, 4799];
const KEY = 'a lamp at the fair';

test.use({ baseURL: `http://localhost:${APP}` });

test.describe('a farm', () => {
  // One farm serves both.
  test.describe.configure({ mode: 'default' });

  const children: ChildProcess[] = [];
  let store: string;

  /** Starts a program of ours; ends when it says that it is ready. */
  const start = async (program: string, args: string[], env: Record<string, string>, ready: RegExp) => {
    const child = spawn(process.execPath, [join(built, program), ...args], {
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    children.push(child);
    await new Promise<void>((resolve, reject) => {
      child.stdout!.on('data', (text) => ready.test(String(text)) && resolve());
      child.on('exit', (code) => reject(new Error(`${program} ended with ${code}.`)));
    });
  };

  test.beforeAll(async () => {
    store = await mkdtemp(join(tmpdir(), 'hazy-lens-farm-'));
    const key = { HAZY_LENS_FARM_KEY: KEY };
    await start('farm.mjs', ['serve', '--store', store, '--port', `${FARM}`], key, /ready/);
    const redis = `redis://127.0.0.1:${REDIS}`;
    await start(
      'farm.mjs',
      ['work', '--redis', redis, '--store', `http://127.0.0.1:${FARM}`],
      key,
      /takes parts/,
    );
    const env = { ...key, PORT: `${APP}`, HAZY_LENS_FARM: `http://127.0.0.1:${FARM}` };
    await start('serve.mjs', [], env, /ready/);
  });
  test.afterAll(async () => {
    for (const child of children.toReversed()) {
      child.kill('SIGTERM');
      if (child.exitCode === null) await new Promise((resolve) => child.once('exit', resolve));
    }
    await rm(store, { recursive: true, force: true });
  });

  test('renders a clip that comes back as a download, and says what leaves the machine', async ({
    app,
    folder,
  }) => {
    const { page } = app;
    await openClip(app);
    await app.step('Output');
    const button = page.getByRole('button', { name: 'Render on the farm' });
    await expect(button).toBeVisible();
    await expect(
      page.getByText(`Sends the footage, the recipe and its pictures to 127.0.0.1:${FARM}`),
    ).toBeVisible();
    expect(await axeViolations(page)).toEqual([]);
    const path = join(folder, 'farm.mp4');
    const download = page.waitForEvent('download', { timeout: 240_000 });
    await button.click();
    await expect(page.getByText(/on the farm/).first()).toBeVisible();
    // Other exports need not wait for it.
    await (await download).saveAs(path);
    await expect(page.getByText(/Exported “.*\.mp4”: rendered on the farm/)).toBeVisible();
    const show = ['-v', 'error', '-show_entries', 'stream=codec_name,nb_frames', '-of', 'csv=p=0', path];
    expect(spawnSync('ffprobe', show).stdout.toString()).toMatch(/^h264,\d+/);
    // The farm’s own page knows of it.
    const answer = await page.request.get(`http://127.0.0.1:${FARM}/api/state`, {
      headers: { authorization: `Bearer ${KEY}` },
    });
    const { jobs } = (await answer.json()) as {
      jobs: { done: number; parts: number; small: string | null }[];
    };
    expect(jobs.length).toBe(1);
    expect(jobs[0]!.done).toBe(jobs[0]!.parts);
    expect(jobs[0]!.small).not.toBeNull();
  });

  test('is cancelled from the queue, and takes nothing from other sites', async ({ app }) => {
    const { page } = app;
    await openClip(app);
    await app.step('Output');
    await page.getByRole('button', { name: 'Render on the farm' }).click();
    await expect(page.getByText(/Frame \d+ of \d+ on the farm/).first()).toBeVisible();
    await page
      .getByRole('button', { name: /^Cancel/ })
      .first()
      .click();
    await expect(page.getByText('Export cancelled.')).toBeVisible();
    await expect
      .poll(async () => {
        const answer = await page.request.get(`http://127.0.0.1:${FARM}/api/state`, {
          headers: { authorization: `Bearer ${KEY}` },
        });
        return ((await answer.json()) as { jobs: { cancelled: boolean }[] }).jobs[0]!.cancelled;
      })
      .toBe(true);
    const foreign = await page.request.post(`http://localhost:${APP}/farm/store`, {
      data: 'x',
      headers: { 'sec-fetch-site': 'cross-site' },
    });
    expect(foreign.status()).toBe(403);
  });
});
