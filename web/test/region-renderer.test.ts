import { neutralRecipe, resolveRecipe } from '@hazy-lens/core';
import { expect, it, vi } from 'vitest';
import { testThreads } from '../../core/test/harness';
import { RegionRenderer } from '../src/app/engine/region-renderer';

it('that is closed while it is prepared asks nothing of memory that is gone', async () => {
  const frames: (() => void)[] = [];
  vi.stubGlobal('requestAnimationFrame', (frame: () => void) => frames.push(frame));
  let read = (): void => undefined;
  const isRead = new Promise<void>((resolve) => (read = resolve));
  const size = { width: 64, height: 48 };
  const picture = {
    ...size,
    id: 'picture',
    readFormat: { channels: 4, bytes: 1 },
    readRegion: async (_: unknown, __: unknown, target: Uint8Array) => {
      target.fill(90);
      read();
    },
  } as unknown as Parameters<RegionRenderer['prepare']>[0];
  const region = { x: 0, y: 0, ...size, picture: size };
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
  vi.unstubAllGlobals();
});
