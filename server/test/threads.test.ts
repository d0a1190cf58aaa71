import { resolveRecipe, wholeView, SharedRenderer, parseRecipe } from '@hazy-lens/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type WorkerThreads, startThreads } from '../src/render/threads';

const size = { width: 320, height: 240 };
/** Soft along, hard grain across. */
const samples = Uint8Array.from({ length: size.width * size.height * 3 }, (_, i) =>
  Math.round(128 + 90 * Math.sin(i / 97) + ((Math.imul(i + 1, 2654435761) >>> 27) - 16)),
);
const format = { channels: 3, bytes: 1 } as const;
const recipe = (parts: object) => parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...parts });
const focus = { rest: 0.8, bands: [{ id: 'a', kind: 'planar', angle: 20 }] };

describe('threads that run side by side', () => {
  const built = new URL('../dist/', import.meta.url);
  let threads: WorkerThreads;
  let alone: WorkerThreads;
  beforeAll(async () => {
    [threads, alone] = await Promise.all([startThreads(3, built), startThreads(1, built)]);
  });
  afterAll(() => Promise.all([threads.close(), alone.close()]));

  /** The same looks over the same picture, all asked for at once. */
  const drawn = async (of: WorkerThreads, kind: string): Promise<Uint8Array[]> => {
    const looks = [0.02, 0.05].flatMap((radius) =>
      [0, 0.6].map((saturation) => recipe({ focus, blur: { kind, radius }, colour: { saturation } })),
    );
    const renderer = new SharedRenderer(of);
    const largest = looks.at(-1)!;
    await renderer.open({ ...wholeView(size, largest, { input: format, output: format }), stripRows: 6 });
    renderer.input(0).set(samples);
    const made = await Promise.all(
      looks.map(async (how) => {
        const job = { slot: 0, source: 'a', look: resolveRecipe(how, size), content: 'picture' } as const;
        return (await renderer.render(job)).slice();
      }),
    );
    await renderer.close();
    return made;
  };

  it.each(['gaussian', 'lens', 'motion', 'spin', 'zoom'])('make what one alone makes: %s', async (kind) => {
    const [many, one] = [await drawn(threads, kind), await drawn(alone, kind)];
    many.forEach((bytes, i) => expect(Buffer.compare(bytes, one[i]!)).toBe(0));
  });

  it('several renderers share without disturbing each other', async () => {
    const [a, b, single] = await Promise.all([
      drawn(threads, 'lens'),
      drawn(threads, 'motion'),
      drawn(alone, 'lens'),
    ]);
    expect(b).toHaveLength(4);
    a.forEach((bytes, i) => expect(Buffer.compare(bytes, single[i]!)).toBe(0));
  });
});
