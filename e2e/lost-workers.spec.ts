import type { Worker } from '@playwright/test';
import { type App, expect, test } from './fixtures';

/** The workers of the page that run a script, by a part of what it holds. */
async function workersWith(app: App, text: string): Promise<Worker[]> {
  const all = await Promise.all(
    app.page.workers().map(async (worker) => {
      const script = await (await app.page.request.get(worker.url())).text();
      return script.includes(text) ? [worker] : [];
    }),
  );
  return all.flat();
}

/** What a part of the script of the workers that render says. */
const RENDERS = 'A render worker was given rows';
/** And what is only in that of the worker that cuts subjects out. */
const CUTS = 'LUT_3D_SIZE';

/** Has a worker turn round and round from now on. */
function loop(worker: Worker): void {
  worker.evaluate('for(;;);').catch(() => undefined);
}

test('workers that die in silence or never come back are replaced: the stage goes on, exports end, subjects are cut', async ({
  app,
  folder,
}) => {
  await app.step('Colour');
  const saturate = async (value: string): Promise<void> => {
    await app.number('Saturation').fill(value);
    await app.number('Saturation').press('Enter');
  };
  const spread = async (): Promise<number> => {
    const colour = await app.colourAt(0.3, 0.5);
    return Math.max(...colour) - Math.min(...colour);
  };
  const [silent] = await workersWith(app, RENDERS);
  await silent!.evaluate(() => self.close());
  await saturate('0');
  expect(await spread()).toBeLessThan(4);
  const [looping] = await workersWith(app, RENDERS);
  loop(looping!);
  await saturate('1.4');
  expect(await spread()).toBeGreaterThan(12);

  await app.step('Output');
  const [exporting] = await workersWith(app, RENDERS);
  loop(exporting!);
  await app.downloadBy(app.page.getByRole('button', { name: /^Export/ }).first(), folder);

  await app.step('Focus');
  const [raster] = await workersWith(app, CUTS);
  if (raster) loop(raster);
  await app.add('Subject');
  await app.draw([0.4, 0.5], [0.5, 0.55], [0.45, 0.6]);
  await expect(app.page.getByText('cutting out …')).toHaveCount(0);
  await expect.poll(() => app.hazeAt(0.45, 0.55)).toBe(0);
  await expect(app.notice).toHaveCount(0);
});
