import type { EnvironmentInjector } from '@angular/core';
import { type RenderSettings, type Region, neutralRecipe, resolveRecipe, fullCrop } from '@hazy-lens/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Display } from '../../src/app/engine/display';
import { StageRenderLoop, type Frame } from '../../src/app/engine/stage-render-loop';
import { still } from '../../src/app/engine/media-source';
import type { Picture } from '../../src/app/engine/picture';
import { openOne, services } from '../services';

const views = vi.hoisted(() => ({
  /** What was drawn, as "fine 5" or "draft 5". */
  drawn: [] as string[],
  waiting: [] as ((error?: Error) => void)[],
  made: 0,
}));
vi.mock('../../src/app/engine/pool', () => ({ RenderPool: class {} }));
vi.mock('../../src/app/engine/region-renderer', async (original) => ({
  ...(await original<object>()),
  RegionRenderer: class {
    // The engine makes its fine view first.
    private readonly name = views.made++ % 2 === 0 ? 'fine' : 'draft';
    private ready = false;
    isReady = () => this.ready;
    prepare = async () => {
      const was = this.ready;
      this.ready = true;
      return was;
    };
    draw = (look: RenderSettings) =>
      new Promise<Uint8Array>((resolve, reject) => {
        views.drawn.push(`${this.name} ${look.blur.radius}`);
        views.waiting.push((error) => (error ? reject(error) : resolve(new Uint8Array(4))));
      });
    source = () => new Uint8Array(4);
    close = async () => undefined;
  },
}));

const region: Region = { x: 0, y: 0, width: 40, height: 20, picture: { width: 40, height: 20 } };
const plain = { sheet: fullCrop({ width: 40, height: 20 }), region, content: 'picture', frame: 0 } as const;
const look = (radius: number): RenderSettings => ({ blur: { radius } }) as unknown as RenderSettings;

describe('the engine', () => {
  let injector: EnvironmentInjector;
  let engine: StageRenderLoop;
  let frames: Frame[];
  let failures: string[];
  let now = 0;
  let held: number;

  const ask = (radius: number, since = now): void =>
    engine.request({ ...plain, look: look(radius), since, playing: null });
  const settle = () => vi.advanceTimersByTimeAsync(0);
  /** Ends the drawing that is under way, which took so long. */
  const answer = async (ms: number, error?: Error): Promise<void> => {
    now += ms;
    views.waiting.shift()!(error);
    await settle();
  };

  beforeEach(async () => {
    vi.useFakeTimers();
    vi.stubGlobal('window', globalThis);
    vi.spyOn(performance, 'now').mockImplementation(() => now);
    views.drawn.length = views.waiting.length = 0;
    views.made = 0;
    [frames, failures] = [[], []];
    ({ injector } = services(openOne, { provide: Display, useValue: { frameMs: 16 } }));
    engine = injector.get(StageRenderLoop);
    engine.paintWith(
      (frame) => frames.push(frame),
      (message) => failures.push(message),
    );
    const picture = { width: 40, height: 20 } as Picture;
    held = 0;
    const hold = (): (() => void) => (held++, () => void held--);
    engine.open({ ...still(picture), hold }, picture);
    return () => vi.useRealTimers();
  });

  it('has a still’s only frame in view', async () => {
    expect(engine.material()).toMatchObject({ frames: 1, width: 40, height: 20 });
    expect(await engine.material()!.frame(0)).toBe(engine.picture());
    await expect(engine.material()!.frame(1)).rejects.toThrow('A still has one frame');
  });

  it('draws one picture at a time, and then only the newest that was asked for', async () => {
    ask(1);
    await settle();
    for (const radius of [2, 3, 4]) ask(radius);
    expect(views.drawn).toEqual(['fine 1']);
    expect(engine.isAnswering).toBe(true);
    await answer(4);
    expect(views.drawn).toEqual(['fine 1', 'fine 4']);
    await answer(4);
    expect(frames).toHaveLength(2);
    expect(frames.map(({ moved }) => moved)).toEqual([true, false]);
    expect(engine.isAnswering).toBe(false);
    expect(engine.busy()).toBe(false);
  });

  it('makes way for drafts while a hand moves and the fine picture is slow, and comes to rest fine', async () => {
    ask(1);
    await settle();
    await answer(50);
    // The draft's view is made ready while the hand rests.
    await vi.advanceTimersByTimeAsync(200);
    expect(views.drawn).toEqual(['fine 1', 'draft 1']);
    await answer(5);
    for (const radius of [2, 3, 4]) {
      ask(radius);
      await settle();
      await answer(50);
    }
    const before = views.drawn.length;
    ask(5);
    await settle();
    expect(views.drawn.slice(before)).toEqual(['draft 5']);
    await answer(5);
    expect(engine.busy()).toBe(true);
    expect(frames.at(-1)!.region).toMatchObject({ width: 20, height: 10 });
    now += 200;
    await vi.advanceTimersByTimeAsync(200);
    expect(views.drawn.at(-1)).toBe('fine 5');
    await answer(40);
    expect(engine.busy()).toBe(false);
    expect(frames.at(-1)!.region).toEqual(region);
  });

  it('tells where a picture cannot be drawn, and goes on with the next', async () => {
    ask(1);
    await settle();
    await answer(4, new Error('out of memory'));
    expect(failures).toEqual([expect.stringContaining('couldn’t be rendered (out of memory)')]);
    expect(engine.busy()).toBe(false);
    ask(2);
    await settle();
    await answer(4);
    expect(frames).toHaveLength(1);
  });

  it('plays frames of footage fine, and shows those it has rendered again without drawing', async () => {
    const film = resolveRecipe(neutralRecipe(), { width: 40, height: 20 });
    const play = async (picture: Picture, compares = false): Promise<void> => {
      const playing = { scale: 1, compares };
      engine.show(picture);
      engine.request({ ...plain, look: film, since: now, playing });
      await settle();
    };
    const [one, two] = ['one', 'two'].map((id) => ({ id, width: 40, height: 20 }) as Picture) as [
      Picture,
      Picture,
    ];
    await play(one);
    const painted = vi.fn();
    void engine.painted(one).then(painted);
    await answer(60);
    expect(painted).toHaveBeenCalled();
    await play(two);
    await answer(60);
    expect(views.drawn).toEqual(['fine 0', 'fine 0']);
    await play(one);
    await play(two);
    expect(views.drawn).toHaveLength(2);
    expect(frames).toHaveLength(4);
    // Beside how it came every frame is drawn, so that both are of the same moment.
    await play(one, true);
    expect(views.drawn).toHaveLength(3);
    await answer(60);
    expect(frames.at(-1)!.moved).toBe(true);
  });

  it('is done with when its project closes: nothing is drawn or told any more, and its material is let go of', async () => {
    ask(1);
    await settle();
    injector.destroy();
    await answer(4, new Error('isn’t open'));
    ask(2);
    await settle();
    expect([views.drawn, failures]).toEqual([['fine 1'], []]);
    expect(held).toBe(0);
  });
});
