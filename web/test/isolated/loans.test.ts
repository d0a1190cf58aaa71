import { expose } from 'comlink';
import { evenTimes } from '@hazy-lens/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { type BuiltFiles, setBuiltFiles } from '../../src/app/engine/built-files';
import { openFootage } from '../../src/app/engine/footage/worker-source';
import type { MediaSource } from '../../src/app/engine/media-source';

// So large that only the fewest frames stay decoded.
const SIZE = { width: 4000, height: 2700 };
const KEPT = 4;
const BYTES = 4 * SIZE.width * SIZE.height;

/** Memory of frames, in the order in which it was read into; the same number for the same memory. */
let readInto: number[];

/** The worker that reads: its frames have their number in their first byte. */
function reader(): MessagePort {
  const { port1, port2 } = new MessageChannel();
  const known: SharedArrayBuffer[] = [];
  expose(
    {
      open: () => ({
        ...SIZE,
        format: { channels: 4, bytes: 1 },
        times: evenTimes(100, 10),
        codec: 'test',
        sound: null,
        isTransparent: true,
        missingFrom: null,
        notes: [],
      }),
      read: (index: number, free: SharedArrayBuffer | null) => {
        if (index === 99) throw new Error('not to be read');
        const pixels = free ?? new SharedArrayBuffer(BYTES);
        // Each message brings another object for the same memory: marks tell.
        const mark = new Uint32Array(pixels, 4, 1);
        if (mark[0] === 0) mark[0] = known.push(pixels);
        new Uint8Array(pixels)[0] = index;
        readInto.push(mark[0]!);
        return pixels;
      },
      parts: (index: number) => {
        if (index === 99) throw new Error('not to be read');
        const part = new SharedArrayBuffer(1);
        new Uint8Array(part)[0] = index;
        return { premultiplied: part, alpha: part };
      },
    },
    port2,
  );
  port1.start();
  return Object.assign(port1, { terminate: () => port1.close() });
}

const first = (pixels: SharedArrayBuffer): number => new Uint8Array(pixels)[0]!;

describe('frames on loan', () => {
  let clip: MediaSource;

  beforeEach(async () => {
    readInto = [];
    setBuiltFiles({} as BuiltFiles);
    vi.stubGlobal('Worker', function Stub() {
      return reader();
    });
    clip = await openFootage({ kind: 'clip', file: new Blob(), name: 'a.mp4' });
    const letGo = clip.hold();
    return () => {
      letGo();
      vi.unstubAllGlobals();
    };
  });

  it('leave their memory to those that come after them', async () => {
    for (let i = 0; i < 20; i++) {
      const { picture, giveBack } = await clip.borrow(i);
      expect(first(picture.rawPixels)).toBe(i);
      giveBack();
    }
    expect(clip.keeps).toBe(KEPT);
    expect(new Set(readInto).size).toBeLessThanOrEqual(KEPT + 1);
  });

  it('keep it while anybody has them, and for good where somebody was given one', async () => {
    const out = await clip.borrow(0);
    const own = await clip.frame(1);
    const [one, two] = [await clip.borrow(2), await clip.borrow(2)];
    one.giveBack();
    one.giveBack();
    for (let i = 10; i < 20; i++) (await clip.borrow(i)).giveBack();
    expect([out.picture, own, two.picture].map(({ rawPixels }) => first(rawPixels))).toEqual([0, 1, 2]);
    const before = new Set(readInto).size;
    out.giveBack();
    two.giveBack();
    await Promise.resolve();
    for (let i = 20; i < 30; i++) (await clip.borrow(i)).giveBack();
    expect(new Set(readInto).size).toBeLessThanOrEqual(before);
    expect(first(own.rawPixels)).toBe(1);
  });

  it('keep it while a part is cut out of them', async () => {
    const { picture, giveBack } = await clip.borrow(0);
    let end = (): void => undefined;
    const cut = picture.cutting(SIZE, () => new Promise((resolve) => (end = resolve)));
    giveBack();
    for (let i = 10; i < 20; i++) (await clip.borrow(i)).giveBack();
    expect(first(picture.rawPixels)).toBe(0);
    end();
    await cut;
  });

  it('are refused where there is none of that number, and read again where they failed', async () => {
    await expect(clip.borrow(100)).rejects.toThrow('The footage has 100 frames');
    expect((await clip.borrow(99)).picture.rawPixels).toBeTruthy();
    expect(clip.unread.get(99)).toBe('Not to be read.');
    // Its transparent places are those of the frame that stands in for it.
    expect(first((await clip.parts(99))!.premultiplied.rawPixels)).toBe(98);
  });
});
