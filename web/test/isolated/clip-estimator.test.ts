import { CLIP_FORMATS } from '@hazy-lens/core';
import { runInInjectionContext, signal } from '@angular/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { JobQueue } from '../../src/app/jobs/job-queue';
import type { NamelessWish } from '../../src/app/jobs/film';
import { FilmRenderer } from '../../src/app/jobs/film-renderer';
import { held } from '../../src/app/jobs/held';
import { ExportInputs } from '../../src/app/project/session/export-input';
import { Footage } from '../../src/app/project/footage/footage';
import { OpenProject } from '../../src/app/project/session/open-project';
import { ClipEstimator } from '../../src/app/steps/output/clip-estimator';
import { Player } from '../../src/app/workspace/player';
import { openOne, services } from '../services';

vi.mock('../../src/app/project/session/export-input', () => ({ ExportInputs: class {} }));
vi.mock('../../src/app/jobs/film-renderer', () => ({ FilmRenderer: class {} }));
vi.mock('../../src/app/project/footage/footage', () => ({ Footage: class {} }));
vi.mock('../../src/app/project/session/open-project', () => ({ OpenProject: class {} }));
vi.mock('../../src/app/workspace/player', () => ({ Player: class {} }));

const wish: NamelessWish = {
  kind: CLIP_FORMATS[0]!,
  width: 640,
  height: 360,
  quality: 0.8,
  bitrate: 1e6,
  holds: 'bitrate',
} as NamelessWish;
const found = { bytes: 5e6, ms: 18_000 };

describe('a trial of a film', () => {
  const jobs = signal<unknown[]>([]);
  const isPlaying = signal(false);
  const isSurveyed = signal(false);
  const recipe = signal({});
  const wanted = signal(wish);
  let estimate: ReturnType<typeof vi.fn>;
  let trial: ClipEstimator;
  let settle: () => void;
  let letGo = 0;

  /** The hand rests for so long. */
  const rest = async (ms: number): Promise<void> => {
    settle();
    await vi.advanceTimersByTimeAsync(ms);
  };

  beforeEach(() => {
    vi.useFakeTimers();
    jobs.set([]);
    isPlaying.set(false);
    isSurveyed.set(false);
    wanted.set(wish);
    estimate = vi.fn(async () => found);
    const here = services(
      openOne,
      { provide: FilmRenderer, useValue: { estimate } },
      { provide: ExportInputs, useValue: { film: () => held(Promise.resolve({}), () => void letGo++) } },
      { provide: JobQueue, useValue: { jobs } },
      { provide: OpenProject, useValue: { keyed: recipe } },
      { provide: Footage, useValue: { timeline: signal({}), isSurveyed } },
      { provide: Player, useValue: { isPlaying } },
      ClipEstimator,
    );
    trial = here.injector.get(ClipEstimator);
    settle = here.runEffects;
    runInInjectionContext(here.injector, () => trial.watch(wanted));
  });
  afterEach(() => vi.useRealTimers());

  it('is made when the hand rests, and tells of the kind and size that it is of', async () => {
    await rest(500);
    expect(estimate).not.toHaveBeenCalled();
    await rest(1000);
    expect(estimate).toHaveBeenCalledOnce();
    expect(trial.estimate(wish)).toEqual(found);
    expect(trial.estimate({ ...wish, width: 320 })).toBeNull();
  });

  it('waits while small pictures are made, something is exported or the reel runs', async () => {
    for (const [busy, on, off] of [
      [isSurveyed, true, false],
      [isPlaying, true, false],
    ] as const) {
      busy.set(on);
      await rest(5000);
      expect(estimate).not.toHaveBeenCalled();
      busy.set(off);
    }
    jobs.set([{}]);
    await rest(5000);
    expect(estimate).not.toHaveBeenCalled();
    jobs.set([]);
    await rest(1000);
    expect(estimate).toHaveBeenCalledOnce();
  });

  it('begins anew, and gives the last one up, when something changes', async () => {
    const signals: AbortSignal[] = [];
    estimate.mockImplementation((_wish, _input, stopped: AbortSignal) => {
      signals.push(stopped);
      return new Promise(() => undefined);
    });
    await rest(1000);
    recipe.set({ other: true });
    await rest(1000);
    expect(signals.map(({ aborted }) => aborted)).toEqual([true, false]);
  });

  it('that comes to nothing leaves nothing said', async () => {
    await rest(1000);
    estimate.mockRejectedValue(new Error('no'));
    recipe.set({ third: true });
    await rest(1000);
    expect(trial.estimate(wish)).toBeNull();
  });
});
