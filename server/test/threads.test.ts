import { recipeLook, wholeView, SharedRenderer, parseRecipe } from '@hazy-lens/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { testPicture, testThreads } from '../../core/test/harness';
import { type WorkerThreads, startThreads } from '../src/render/threads';

const picture = testPicture(320, 240);
const format = { channels: 3, bytes: 1 } as const;
const recipe = (parts: object) => parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...parts });
const focus = { rest: 0.8, bands: [{ id: 'a', kind: 'planar', angle: 20 }] };

describe('threads that run side by side', () => {
  let threads: WorkerThreads;
  beforeAll(async () => {
    const built = new URL('../dist/', import.meta.url);
    threads = await startThreads(3, built);
  });
  afterAll(() => threads.close());

  /** The same looks over the same picture, all asked for at once. */
  const drawn = async (
    of: typeof threads | ReturnType<typeof testThreads>,
    kind: string,
  ): Promise<Uint8Array[]> => {
    const looks = [0.02, 0.05].flatMap((radius) =>
      [0, 0.6].map((saturation) => recipe({ focus, blur: { kind, radius }, colour: { saturation } })),
    );
    const renderer = new SharedRenderer(of);
    const largest = looks.at(-1)!;
    await renderer.open({ ...wholeView(picture, largest, { input: format, output: format }), stripRows: 6 });
    renderer.input(0).set(picture.data);
    const made = await Promise.all(
      looks.map(async (how) => {
        const job = { slot: 0, source: 'a', look: recipeLook(how, picture), content: 'picture' } as const;
        return (await renderer.render(job)).slice();
      }),
    );
    await renderer.close();
    return made;
  };

  it.each(['gaussian', 'lens', 'motion', 'spin', 'zoom'])('make what one alone makes: %s', async (kind) => {
    const [many, one] = [await drawn(threads, kind), await drawn(testThreads(1), kind)];
    many.forEach((bytes, i) => expect(Buffer.compare(bytes, one[i]!)).toBe(0));
  });

  it('several renderers share without disturbing each other', async () => {
    const [a, b, alone] = await Promise.all([
      drawn(threads, 'lens'),
      drawn(threads, 'motion'),
      drawn(testThreads(1), 'lens'),
    ]);
    expect(b).toHaveLength(4);
    a.forEach((bytes, i) => expect(Buffer.compare(bytes, alone[i]!)).toBe(0));
  });
});
