import { type Mend, neutralRecipe, parseRecipe } from '@hazy-lens/core';
import { signal } from '@angular/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { StillMender } from '../../src/app/engine/still-mender';
import type { Picture } from '../../src/app/engine/picture';
import { RenderPool } from '../../src/app/engine/pool';
import { StageRenderLoop } from '../../src/app/engine/stage-render-loop';
import { FrameMender } from '../../src/app/engine/footage/frame-mender';
import { OpenProject } from '../../src/app/project/session/open-project';
import { MendPreview } from '../../src/app/project/subjects/mend-preview';
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
      new Promise((answer) =>
        worker.calls.push({
          report: args.at(-2) as Report,
          draft: args.at(-1) as Drafted,
          answer: () => answer({ pixels: args[1], parts: args[2] }),
        }),
      ),
  }),
}));

vi.mock('../../src/app/engine/footage/frame-mender', () => ({ FrameMender: class {} }));
vi.mock('../../src/app/engine/stage-render-loop', () => ({ StageRenderLoop: class {} }));

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

describe('touch-ups under way', () => {
  const asked = { id: 'a', kind: 'fill', radius: 0.02, points: [[0.5, 0.5]] };
  const [mend] = parseRecipe({ ...neutralRecipe(), tidy: { mends: [asked] } }).tidy.mends as [Mend];

  it('can be called off while the newest step asked for them', async () => {
    worker.calls.length = 0;
    vi.stubGlobal('Worker', class { terminate = () => undefined; addEventListener = () => undefined; }); // prettier-ignore
    const shown: unknown[] = [];
    const loop = {
      guide: signal(picture),
      material: signal({ footage: null }),
      show: (one: unknown) => void shown.push(one),
    };
    const here = services(
      openOne,
      { provide: RenderPool, useValue: { module: Promise.resolve({}) } },
      { provide: StageRenderLoop, useValue: loop },
      { provide: FrameMender, useValue: { making: signal(0) } },
    );
    const project = here.injector.get(OpenProject);
    const preview = here.injector.get(MendPreview);
    here.runEffects();
    await vi.waitFor(() => expect(shown).toEqual([picture]));
    project.edit('fill', ({ tidy }) => void tidy.mends.push(mend));
    here.runEffects();
    await vi.waitFor(() => expect(worker.calls).toHaveLength(1));
    expect(preview.canCancel()).toBe(true);
    // What was changed since is not to be lost.
    project.edit('saturation', ({ colour }) => void (colour.saturation = 0.4));
    expect(preview.canCancel()).toBe(false);
    preview.cancel();
    project.undo();
    preview.cancel();
    here.runEffects();
    expect(project.recipe().tidy.mends).toEqual([]);
    await vi.waitFor(() => expect(preview.progress()).toBeNull());
    expect(shown.at(-1)).toBe(picture);
    expect(project.redoLabel()).toBe('fill');
  });

  it('can be called off on footage, where the patch is given up', () => {
    const frameMender = { making: signal(0), stop: vi.fn() };
    const loop = { guide: signal(picture), material: signal({ footage: {} }) };
    const here = services(
      openOne,
      { provide: RenderPool, useValue: { module: Promise.resolve({}) } },
      { provide: StageRenderLoop, useValue: loop },
      { provide: FrameMender, useValue: frameMender },
    );
    const project = here.injector.get(OpenProject);
    const preview = here.injector.get(MendPreview);
    here.runEffects();
    project.edit('fill', ({ tidy }) => void tidy.mends.push(mend));
    preview.cancel();
    expect(project.recipe().tidy.mends).toHaveLength(1);
    frameMender.making.set(1);
    expect(preview.canCancel()).toBe(true);
    preview.cancel();
    expect(frameMender.stop).toHaveBeenCalledOnce();
    expect(project.recipe().tidy.mends).toEqual([]);
  });
});
