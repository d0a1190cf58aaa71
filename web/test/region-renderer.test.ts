import { type RenderTask, type Threads, neutralRecipe, resolveRecipe } from '@hazy-lens/core';
import { afterEach, expect, it, vi } from 'vitest';
import { testThreads } from '../../core/test/harness';
import { RegionRenderer } from '../src/app/engine/region-renderer';

const size = { width: 64, height: 48 };
const region = { x: 0, y: 0, ...size, picture: size };

afterEach(() => vi.unstubAllGlobals());

/** A grey picture. @param read hears that it was asked for. */
const greyPicture = (read: () => void = () => undefined) =>
  ({
    ...size,
    id: 'picture',
    readFormat: { channels: 4, bytes: 1 },
    readRegion: async (_: unknown, __: unknown, target: Uint8Array) => {
      target.fill(90);
      read();
    },
  }) as unknown as Parameters<RegionRenderer['prepare']>[0];

it('never gives the picture of before as the next one, however late its threads answer', async () => {
  const frames: (() => void)[] = [];
  vi.stubGlobal('requestAnimationFrame', (frame: () => void) => frames.push(frame));
  /** Answers that wait for the page, as messages do behind a frame of the display. */
  let late: (() => void)[] | null = null;
  const { runners, module } = testThreads(1);
  const threads: Threads = {
    module,
    runners: runners.map((run) => async (task: RenderTask) => {
      await run(task);
      if (late) await new Promise<void>((resolve) => late!.push(resolve));
    }),
  };
  const renderer = new RegionRenderer(threads as never);
  const look = resolveRecipe(neutralRecipe(), size);
  await renderer.prepare(greyPicture(), region, look);
  late = [];
  const draw = async (settings: typeof look) => {
    const drawn = renderer.draw(settings, 'picture').then((pixels) => pixels[0]!);
    await new Promise((resolve) => setTimeout(resolve, 20));
    for (const frame of frames.splice(0)) frame();
    return drawn;
  };
  // It is there with the display’s next frame, although no thread has answered.
  expect(await draw(look)).toBe(90);
  const brighter = { ...look, colour: { ...look.colour, on: true, exposure: 1 } };
  const next = draw(brighter);
  await new Promise((resolve) => setTimeout(resolve, 40));
  const owed = late;
  late = null;
  for (const answer of owed) answer();
  expect(await next).toBeGreaterThan(100);
  await renderer.close();
});

it('that is closed while it is prepared asks nothing of memory that is gone', async () => {
  const frames: (() => void)[] = [];
  vi.stubGlobal('requestAnimationFrame', (frame: () => void) => frames.push(frame));
  let read = (): void => undefined;
  const isRead = new Promise<void>((resolve) => (read = resolve));
  const picture = greyPicture(() => read());
  const look = resolveRecipe(neutralRecipe(), size);
  const renderer = new RegionRenderer(testThreads(1) as never);
  const prepared = renderer.prepare(picture, region, look);
  await isRead;
  // The last part of it is under way.
  for (let i = 0; i < 3; i++) await Promise.resolve();
  const closed = renderer.close();
  await Promise.allSettled([prepared, closed]);
  const drawn = renderer.draw(look, 'picture');
  for (const frame of frames) expect(frame).not.toThrow();
  await expect(drawn).rejects.toThrow();
  // Open again it draws as before.
  await renderer.prepare(picture, region, look);
  expect((await renderer.draw(look, 'picture'))[0]).toBe(90);
  await renderer.close();
});
