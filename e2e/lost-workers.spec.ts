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

/** Has a worker turn round and round from now on. */
function loop(worker: Worker): void {
  worker.evaluate('for(;;);').catch(() => undefined);
}

test('workers that die in silence or never come back are replaced: the stage goes on, and an export ends', async ({
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
  const before = await spread();
  const [silent] = await workersWith(app, RENDERS);
  await silent!.evaluate(() => self.close());
  await saturate('0');
  const grey = await spread();
  expect(grey).toBeLessThan(before - 4);
  const [looping] = await workersWith(app, RENDERS);
  loop(looping!);
  await saturate('80');
  expect(await spread()).toBeGreaterThan(grey + 4);

  await app.step('Output');
  const [exporting] = await workersWith(app, RENDERS);
  loop(exporting!);
  await app.downloadBy(app.page.getByRole('button', { name: 'Export JPEG' }), folder);

  await expect(app.notice).toHaveCount(0);
});
