import { neutralRecipe } from '@hazy-lens/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { StillMender } from '../../src/app/engine/still-mender';
import type { Picture } from '../../src/app/engine/picture';
import { RenderPool } from '../../src/app/engine/pool';
import { openOne, services } from '../services';

type Report = (done: number) => void;
type Drafted = (pixels: SharedArrayBuffer) => Promise<void>;
const worker = vi.hoisted(() => ({
  calls: [] as { report: Report; draft: Drafted; answer: () => void }[],
}));

vi.mock('comlink', () => ({
  proxy: (report: unknown) => report,
  wrap: () => ({
    mend: (...args: unknown[]) =>
      new Promise<void>((answer) =>
        worker.calls.push({ report: args.at(-2) as Report, draft: args.at(-1) as Drafted, answer }),
      ),
  }),
}));

const mends = (id: string) =>
  [{ ...neutralRecipe().tidy, id, kind: 'fill', on: true, points: [[0.5, 0.5]] }] as never;
const made = { name: 'made' } as unknown as Picture;
const picture = {
  width: 4,
  height: 4,
  format: { channels: 4, bytes: 1 },
  readFormat: { channels: 4, bytes: 1 },
  rawPixels: new SharedArrayBuffer(64),
  withPixels: async () => made,
} as unknown as Picture;

describe('mends in their worker', () => {
  let ended: number;
  let service: StillMender;
  beforeEach(() => {
    worker.calls.length = ended = 0;
    vi.stubGlobal('Worker', class { terminate = () => void ended++; addEventListener = () => undefined; }); // prettier-ignore
    const here = services(openOne, { provide: RenderPool, useValue: { module: Promise.resolve({}) } });
    service = here.injector.get(StillMender);
  });
  const next = async (nth: number) => {
    await vi.waitFor(() => expect(worker.calls).toHaveLength(nth));
    return worker.calls[nth - 1]!;
  };

  it('tell how far they are, and nothing any more when they are made', async () => {
    const told: number[] = [];
    const making = service.of(picture, mends('a'), new AbortController().signal, (done) => told.push(done));
    const call = await next(1);
    call.report(0.5);
    call.answer();
    expect(await making).toBe(made);
    call.report(1);
    expect(told).toEqual([0.5]);
    // What is made already is had at once.
    expect(await service.of(picture, [], new AbortController().signal)).toBe(picture);
  });

  it('show a draft while they are made, and none when they are', async () => {
    const seen: Picture[] = [];
    const { signal } = new AbortController();
    const making = service.of(picture, mends('a'), signal, undefined, (draft) => seen.push(draft));
    const call = await next(1);
    await call.draft(new SharedArrayBuffer(64));
    expect(seen).toEqual([made]);
    call.answer();
    await making;
    await call.draft(new SharedArrayBuffer(64));
    expect(seen).toHaveLength(1);
  });

  it('that are no longer wanted do not hold up what is', async () => {
    const stop = new AbortController();
    const told: number[] = [];
    const first = service.of(picture, mends('a'), stop.signal, (done) => told.push(done));
    const call = await next(1);
    stop.abort(new Error('no longer wanted'));
    await expect(first).rejects.toThrow('no longer wanted');
    expect(ended).toBe(1);
    call.report(0.7);
    expect(told).toEqual([]);
    const second = service.of(picture, mends('b'), new AbortController().signal);
    (await next(2)).answer();
    expect(await second).toBe(made);
    expect(ended).toBe(1);
  });
});
