import { afterEach, describe, expect, it, vi } from 'vitest';
import { pageRunner } from '../src/app/engine/page-runner';
import { sendable } from '../src/app/engine/sendable';

afterEach(() => void vi.unstubAllGlobals());

describe('what is posted to a worker', () => {
  const large = new Uint8Array(1000).fill(7);
  const part = large.subarray(10, 14);

  it('is as it is where memory is shared', () => {
    const task = { pixels: part };
    expect(sendable(task)).toBe(task);
  });

  it('goes without the memory around it where that is copied', () => {
    vi.stubGlobal('SharedArrayBuffer', ArrayBuffer);
    const samples = new Uint16Array(large.buffer, 2, 3);
    const heard = (): void => undefined;
    const sent = sendable({ a: { pixels: part, samples: [samples] }, heard, name: 'x', none: null });
    expect(sent).toEqual({
      a: { pixels: Uint8Array.of(7, 7, 7, 7), samples: [Uint16Array.of(0x0707, 0x0707, 0x0707)] },
      heard,
      name: 'x',
      none: null,
    });
    expect([sent.a.pixels.buffer.byteLength, sent.a.samples[0]!.buffer.byteLength]).toEqual([4, 6]);
    expect(part.buffer.byteLength).toBe(1000);
  });

  it('stays the same object where nothing is cut off', () => {
    vi.stubGlobal('SharedArrayBuffer', ArrayBuffer);
    const whole = { pixels: large, list: [1, { x: 2 }], file: new Blob(['a']) };
    expect(sendable(whole)).toBe(whole);
    const views = new Map([[1, part]]);
    expect(sendable(views)).toBe(views);
  });
});

describe('a page that renders by itself', () => {
  it('does one task after the other, others of the page between them, and goes on after one that failed', async () => {
    const run = pageRunner();
    const order: string[] = [];
    const lost = { kind: 'haze', render: 'none', from: 0, to: 1 } as const;
    const failing = run(lost).catch((error: Error) => order.push(error.message));
    const closing = run({ kind: 'close', render: 'none' }).then(() => order.push('closed'));
    setTimeout(() => order.push('the page'));
    await Promise.all([failing, closing]);
    await expect.poll(() => order).toContain('the page');
    // The page may have been first.
    const [failed, closed] = order.filter((one) => one !== 'the page');
    expect(failed).toContain('isn’t open');
    expect(closed).toBe('closed');
  });
});
