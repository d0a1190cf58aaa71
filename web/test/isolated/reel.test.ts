import { signal } from '@angular/core';
import { type FrameWeight, evenTimes, frameAt, timelineOf } from '@hazy-lens/core';
import { onLoan } from '../../src/app/engine/media-source';
import type { Picture } from '../../src/app/engine/picture';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { StageRenderLoop } from '../../src/app/engine/stage-render-loop';
import { Footage } from '../../src/app/project/footage/footage';
import { Keyframes } from '../../src/app/project/footage/keyframes';
import { OpenProject } from '../../src/app/project/session/open-project';
import { Playhead } from '../../src/app/project/footage/playhead';
import { Lanes } from '../../src/app/reel/lanes';
import { ReelView } from '../../src/app/reel/reel-view';
import { Trim } from '../../src/app/project/footage/trim';
import { Player } from '../../src/app/workspace/player';
import { ClipSound } from '../../src/app/workspace/clip-sound';
import { Transport } from '../../src/app/workspace/transport';
import { openOne, services } from '../services';

vi.mock('../../src/app/engine/stage-render-loop', () => ({ StageRenderLoop: class {} }));
vi.mock('../../src/app/project/footage/footage', () => ({ Footage: class {} }));

const TIMES = evenTimes(100, 10);

/** Sound that is heard as fast as it is told to, or not at all. */
class FakeSound {
  starts: number[] = [];
  /** Times as fast as the page's clock; null where there is no sound. */
  rate: number | null = null;
  /** Milliseconds until it can begin. */
  leadMs = 0;
  isPlaying = false;
  start = async (time: number): Promise<(() => number | null) | null> => {
    this.starts.push(time);
    await new Promise((resolve) => setTimeout(resolve, this.leadMs));
    const [rate, start] = [this.rate, performance.now()];
    this.isPlaying = rate !== null;
    return rate === null ? null : () => (this.isPlaying ? ((performance.now() - start) * rate) / 1000 : null);
  };
  stop = (): void => void (this.isPlaying = false);
}

/** A clip of ten seconds whose frames are there at once. */
class FakeClip {
  /** Frames that were not given back. */
  out = 0;
  readonly material = signal({
    footage: {},
    borrow: async (index: number) => {
      this.out++;
      return onLoan({ id: `frame ${index}` } as Picture, () => this.out--);
    },
  });
  readonly picture = signal<{ id: string } | null>(null);
  readonly pool = {};
  readonly times = () => TIMES;
  readonly isOpen = () => true;
  readonly frame = () => frameAt(TIMES, this.at());
  readonly lit = (shares: FrameWeight[]) => ({ shares, light: 1 });
  readonly seek = (index: number): Promise<void> =>
    this.seekTime(TIMES.starts[Math.min(99, Math.max(0, index))]!);
  readonly timeline = signal(timelineOf({ ...openOne.work.recipe.pace }, TIMES));
  readonly at = signal(0);
  readonly shown: string[] = [];
  /** How long the stage takes for a picture. */
  paintMs = 0;
  constructor(private readonly playhead: () => Playhead) {}
  painted = () => new Promise((resolve) => setTimeout(resolve, this.paintMs));
  put = (picture: { id: string }, time: number): void => {
    this.shown.push(picture.id);
    this.picture.set(picture);
    this.at.set(time);
    this.playhead().time.set(time);
  };
  seekTime = async (time: number): Promise<void> => this.at.set(time);
}

describe('the reel', () => {
  let here: ReturnType<typeof services>;
  let clip: FakeClip;
  let sound: FakeSound;

  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'performance'] });
    sound = new FakeSound();
    clip = new FakeClip(() => here.injector.get(Playhead));
    here = services(
      openOne,
      { provide: StageRenderLoop, useValue: clip },
      { provide: Footage, useValue: clip },
      { provide: ClipSound, useValue: sound },
      Lanes,
      ReelView,
    );
    return () => vi.useRealTimers();
  });

  describe('shows a part of the clip', () => {
    let view: ReelView;
    beforeEach(() => {
      view = here.injector.get(ReelView);
      here.runEffects();
      view.width.set(500);
    });

    it('all of it at first, from end to end', () => {
      expect([view.x(0), view.x(5), view.x(10)]).toEqual([0, 250, 500]);
      expect([view.time(-9), view.time(100), view.time(999)]).toEqual([0, 2, 10]);
    });

    it('nearer, with what is under the hand staying there, and never beyond the ends', () => {
      const before = view.time(100);
      view.zoom(0.5, 100);
      expect(view.time(100)).toBeCloseTo(before, 9);
      expect(view.shown().to - view.shown().from).toBeCloseTo(5, 9);
      view.pan(-1e6);
      expect(view.shown().from).toBe(0);
      view.zoom(100, 20);
      expect(view.shown()).toEqual({ from: 0, to: 10 });
      view.zoom(1e-6, 250);
      expect(view.shown().to - view.shown().from).toBeCloseTo(1.2, 9);
    });

    it('goes to where the playhead is', () => {
      view.zoom(0.2, 0);
      view.reveal(1);
      expect(view.shown().from).toBe(0);
      view.reveal(9);
      expect(view.shown().from).toBeLessThan(9);
      expect(view.shown().to).toBeGreaterThan(9);
    });
  });

  describe('has lanes', () => {
    it('the band in hand first; a chosen key is gone with it', () => {
      const keys = here.injector.get(Keyframes);
      const lanes = here.injector.get(Lanes);
      keys.toggle(['blur', 'radius'], 'radius');
      keys.toggle(['focus', 'bands', 0, 'angle'], 'angle');
      expect(lanes.all().map(({ label }) => label)).toEqual(['Planar 1', 'blur radius']);
      const blur = lanes.all()[1]!;
      lanes.choose(blur, 0);
      expect(lanes.chosen()?.lane.label).toBe('blur radius');
      expect(lanes.isChosen(blur, 0)).toBe(true);
      keys.remove(lanes.stops());
      expect(lanes.chosen()).toBeNull();
    });

    it('whose keys are gone to one after the other, and copied to the playhead', () => {
      const keys = here.injector.get(Keyframes);
      const lanes = here.injector.get(Lanes);
      const playhead = here.injector.get(Playhead);
      for (const time of [1, 3, 6]) {
        playhead.time.set(time);
        keys.toggle(['blur', 'radius'], 'radius');
      }
      clip.at.set(2);
      lanes.step(1);
      expect(clip.at()).toBe(3);
      lanes.step(1);
      expect(clip.at()).toBe(6);
      lanes.step(1);
      expect(clip.at()).toBe(6);
      lanes.step(-1);
      expect(clip.at()).toBe(3);
      clip.at.set(8);
      lanes.copyHere();
      expect(
        here.injector
          .get(OpenProject)
          .keyed()
          .keys.map(({ at }) => at),
      ).toEqual([1, 3, 6, 8]);
      expect(lanes.chosen()?.stop.at).toBe(8);
    });
  });

  it('chooses several keys: one more, one less, and all up to another', () => {
    const [keys, lanes, playhead] = [
      here.injector.get(Keyframes),
      here.injector.get(Lanes),
      here.injector.get(Playhead),
    ];
    for (const time of [0, 1, 2, 3]) {
      playhead.time.set(time);
      keys.toggle(['blur', 'radius'], 'radius');
      keys.toggle(['focus', 'bands', 0, 'angle'], 'angle');
    }
    const [band, blur] = lanes.all();
    const ats = (): number[] => lanes.stops().map(({ at }) => at);
    lanes.choose(blur!, 0);
    lanes.choose(blur!, 2, 'through');
    expect(ats()).toEqual([0, 1, 2]);
    lanes.choose(blur!, 1, 'too');
    expect(ats()).toEqual([0, 2]);
    lanes.choose(band!, 3, 'too');
    expect(lanes.stops().map(({ owner }) => owner)).toEqual([blur!.owner, blur!.owner, band!.owner]);
    expect(lanes.chosen()).toMatchObject({ lane: { owner: band!.owner }, stop: { at: 3 } });
    clip.at.set(5);
    lanes.copyHere();
    expect(ats()).toEqual([5, 7, 8]);
    keys.remove(lanes.stops());
    expect(lanes.chosen()).toBeNull();
    lanes.choose(blur!, 2, 'through');
    expect(ats()).toEqual([2]);
  });

  it('keeps the part from where in is said to where out is said, whole frames of it', () => {
    const [trim, transport] = [here.injector.get(Trim), here.injector.get(Transport)];
    clip.at.set(2);
    transport.trimHere(0);
    clip.at.set(6);
    transport.trimHere(1);
    expect(trim.part()).toEqual([2, 6.1]);
    // Beyond the other end, that makes way.
    clip.at.set(7);
    transport.trimHere(0);
    expect(trim.part()).toEqual([7, 10]);
    clip.at.set(1);
    transport.trimHere(1);
    expect(trim.part()).toEqual([0, 1.1]);
    trim.set(1, 99, null);
    expect(here.injector.get(OpenProject).keyed().pace.trim).toBeNull();
  });

  it('goes from frame to frame, to the first and to the last', () => {
    const transport = here.injector.get(Transport);
    transport.step(3);
    expect(clip.at()).toBeCloseTo(0.3);
    transport.toLast();
    expect(clip.at()).toBeCloseTo(9.9);
    transport.step(1);
    expect(clip.at()).toBeCloseTo(9.9);
    transport.toFirst();
    expect(clip.at()).toBe(0);
  });

  describe('runs', () => {
    const run = async (ms: number): Promise<Player> => {
      const player = here.injector.get(Player);
      void player.play();
      await vi.advanceTimersByTimeAsync(ms);
      return player;
    };
    const numbers = (): number[] => clip.shown.map((id) => Number(id.split(' ')[1]));

    it('showing every picture when its time has come', async () => {
      const player = await run(1050);
      expect(numbers()).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
      player.pause();
      await vi.advanceTimersByTimeAsync(500);
      expect(clip.shown).toHaveLength(11);
      expect(player.isPlaying()).toBe(false);
    });

    it('back and forth as a shuttle, twice as fast each time', async () => {
      clip.at.set(5);
      const player = here.injector.get(Player);
      player.shuttle(-1);
      await vi.advanceTimersByTimeAsync(350);
      expect(numbers()).toEqual([50, 49, 48, 47]);
      player.shuttle(-1);
      expect(player.speed()).toBe(-2);
      await vi.advanceTimersByTimeAsync(500);
      expect(numbers().at(-1)).toBeLessThan(40);
      player.shuttle(1);
      expect(player.speed()).toBe(1);
      const turned = numbers().at(-1)!;
      await vi.advanceTimersByTimeAsync(400);
      expect(numbers().at(-1)).toBeGreaterThan(turned);
      for (let i = 0; i < 9; i++) player.shuttle(1);
      expect(player.speed()).toBe(8);
      player.pause();
      expect(player.speed()).toBe(1);
      player.set({ loops: false });
      clip.at.set(0.2);
      player.shuttle(-1);
      await vi.advanceTimersByTimeAsync(1000);
      expect([numbers().at(-1), player.isPlaying()]).toEqual([0, false]);
    });

    it('leaving out what is late, and keeping the pace', async () => {
      clip.paintMs = 250;
      const player = await run(2600);
      const shown = numbers();
      expect(shown.length).toBeLessThan(13);
      expect(shown.at(-1)).toBeGreaterThanOrEqual(24);
      expect(player.shown()).toBeLessThan(6);
      player.pause();
    });

    it('keeping to the sound where that is heard, and beginning both anew at the end', async () => {
      clip.at.set(8);
      // A sound card is never just as fast as the page's clock.
      sound.rate = 0.9;
      const player = await run(1000);
      expect(numbers()).toEqual([80, 81, 82, 83, 84, 85, 86, 87, 88, 89]);
      await vi.advanceTimersByTimeAsync(2000);
      expect(sound.starts).toEqual([expect.closeTo(8), 0]);
      expect(numbers().at(-1)).toBeGreaterThan(5);
      player.shuttle(1);
      await vi.advanceTimersByTimeAsync(300);
      expect(sound.isPlaying).toBe(false);
      player.pause();
    });

    it('going on without the sound where that stands still', async () => {
      sound.rate = 1;
      const player = await run(500);
      [sound.isPlaying, sound.rate] = [false, null];
      await vi.advanceTimersByTimeAsync(1000);
      expect(numbers().at(-1)).toBeGreaterThanOrEqual(14);
      player.pause();
    });

    it('without a sound that comes after it was stopped', async () => {
      [sound.rate, sound.leadMs] = [1, 300];
      const player = await run(100);
      player.pause();
      await vi.advanceTimersByTimeAsync(1000);
      expect([clip.shown, sound.starts]).toEqual([[], [0]]);
    });

    it('giving back what it showed', async () => {
      const player = await run(1050);
      // What is in view, and what is read ahead, are still needed.
      expect(clip.out).toBeLessThan(3);
      player.pause();
    });

    it('from where the playhead is, round and round, or to the end', async () => {
      clip.at.set(9.5);
      const player = await run(750);
      expect(numbers()).toEqual([95, 96, 97, 98, 99, 0, 1, 2]);
      player.pause();
      clip.shown.length = 0;
      clip.at.set(9.7);
      player.set({ loops: false });
      await run(2000);
      expect(numbers().at(-1)).toBe(99);
      expect(player.isPlaying()).toBe(false);
    });
  });
});
