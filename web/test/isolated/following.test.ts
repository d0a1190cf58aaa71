import { type EnvironmentInjector, signal } from '@angular/core';
import { type FollowStep, type Subject, evenTimes, makeRaster } from '@hazy-lens/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { StageRenderLoop } from '../../src/app/engine/stage-render-loop';
import { BLANK_MATTE, Rasters } from '../../src/app/engine/rasters';
import { Following } from '../../src/app/project/subjects/following';
import { Footage } from '../../src/app/project/footage/footage';
import { Notices } from '../../src/app/project/session/notices';
import { OpenProject } from '../../src/app/project/session/open-project';
import { newMatte } from '../../src/app/model/mattes';
import { openOne, services } from '../services';

vi.mock('../../src/app/engine/stage-render-loop', () => ({ StageRenderLoop: class {} }));
vi.mock('../../src/app/project/footage/footage', () => ({ Footage: class {} }));
/** Follows what moves two pixels to the right with each frame that it is given. */
const tracker = vi.hoisted(() => ({
  lostAfter: Infinity,
  /** The steps on which it is hidden, first and last. */
  hidden: [0, 0],
  apart: 0,
  confidence: 0.8,
  likeness: (_count: number): number => 1,
  steps: 0,
  ended: 0,
  begins: (_subject: unknown): void => undefined,
  /** Hears how many steps were made. */
  hears: (_steps: number): void => undefined,
}));
vi.mock('comlink', () => ({
  wrap: () => {
    let count = 0;
    return {
      begin: async (...[, , , subject]: [unknown, unknown, unknown, Subject]) => tracker.begins(subject),
      next: async (): Promise<FollowStep> => {
        tracker.hears(++tracker.steps);
        count++;
        const [from, to] = tracker.hidden as [number, number];
        return {
          motion: { a: 1, b: 0, tx: 2 * count, ty: 0 },
          isSeen: count <= tracker.lostAfter && !(count >= from && count <= to),
          confidence: tracker.confidence,
          apart: tracker.apart,
          likeness: tracker.likeness(count),
        };
      },
    };
  },
}));

const FRAMES = 60;
const times = evenTimes(FRAMES, 30);
const white = makeRaster('white', 2, 2, new Uint16Array(4).fill(65535));
const PLACE = ['focus', 'bands', 0] as const;

describe('following', () => {
  let following: Following;
  let project: OpenProject;
  let notices: Notices;
  let scope: { injector: EnvironmentInjector; said: () => string[] };
  let read: number[];
  let sought: number[];
  let frame: number;
  let centre: string;
  const material = {
    width: 900,
    height: 200,
    frames: FRAMES,
    keeps: 10,
    footage: { times, format: { channels: 3, bytes: 1 } },
    async borrow(index: number) {
      read.push(index);
      return { picture: { rawPixels: null }, giveBack: () => undefined };
    },
  };

  beforeEach(() => {
    vi.stubGlobal('Worker', class { terminate = () => void tracker.ended++; addEventListener = () => undefined; }); // prettier-ignore
    Object.assign(tracker, {
      lostAfter: Infinity,
      hidden: [0, 0],
      apart: 0,
      confidence: 0.8,
      likeness: () => 1,
      steps: 0,
      ended: 0,
      hears: () => undefined,
    });
    [read, sought, frame] = [[], [], 0];
    const footage = {
      times: () => times,
      frame: () => frame,
      seek: async (index: number) => void sought.push(index),
    };
    const { injector } = services(
      openOne,
      { provide: StageRenderLoop, useValue: { material: signal(material) } },
      { provide: Footage, useValue: footage },
      { provide: Rasters, useValue: { get: async () => white } },
    );
    following = injector.get(Following);
    project = injector.get(OpenProject);
    notices = injector.get(Notices);
    scope = { injector, said: () => notices.all().map(({ text }) => text) };
    centre = `focus/bands/${project.recipe().focus.bands[0]!.id}/centre`;
  });

  const keys = () => project.keyed().keys.filter(({ of }) => of === centre);

  it('forwards writes few keys that go with what was followed, as one step back', async () => {
    const start = (project.recipe().focus.bands[0] as { centre: [number, number] }).centre;
    await following.follow(PLACE, 'Planar 1', 'forwards');
    expect(keys().map(({ at }) => at)).toEqual([0, times.starts[FRAMES - 1]]);
    expect(keys()[1]!.value).toEqual([
      expect.closeTo(start[0] + (2 * 59) / 900, 6),
      expect.closeTo(start[1], 6),
    ]);
    expect(project.undoLabel()).toBe('follow Planar 1');
    project.undo();
    expect(keys()).toEqual([]);
    expect(following.progress()).toBeNull();
    expect(tracker.ended).toBe(1);
  });

  it('says how sure it was along the way', async () => {
    await following.follow(PLACE, 'Planar 1', 'forwards');
    const sure = following.surenessOf(centre.replace('/centre', ''));
    expect(sure).toHaveLength(FRAMES);
    expect(sure[30]).toEqual({ time: 1, confidence: 0.8 });
    expect(following.surenessOf('blur/radius')).toEqual([]);
  });

  it('carries the strokes of the brush, and a subject that was cut out', async () => {
    await following.follow(['focus', 'strokesCarry'], 'Brush', 'forwards');
    expect(notices.all().map(({ text }) => text)).toEqual([expect.stringContaining('No strokes yet')]);
    expect(project.keyed().keys).toEqual([]);
    const points = [[0.2, 0.5], [0.3, 0.5]] as [number, number][]; // prettier-ignore
    const stroke = {
      mode: 'clear',
      radius: 0.02,
      softness: 0.5,
      strength: 1,
      pressure: 'none',
      points,
    } as const;
    project.edit('stroke', ({ focus }) => void focus.strokes.push({ ...stroke, points }));
    await following.follow(['focus', 'strokesCarry'], 'Brush', 'forwards');
    const shifts = project.keyed().keys.filter(({ of }) => of === 'focus/strokesCarry/shift');
    expect(shifts.map(({ value }) => value)).toEqual([[0, 0], [expect.closeTo((2 * 59) / 900, 6), 0]]); // prettier-ignore
    expect(notices.all()).toEqual([]);
  });

  it('tells from which frame on a subject no longer looks as it was cut out, and is unsure there', async () => {
    project.edit('subject', ({ focus }) => void focus.mattes.push(newMatte('m', BLANK_MATTE)));
    await following.follow(['focus', 'mattes', 0], 'Subject 1', 'forwards');
    expect(notices.all().map(({ text }) => text)).toEqual([expect.stringContaining('isn’t cut out yet')]);
    project.edit('cut', ({ focus }) => void (focus.mattes[0]!.image = 'cut.png'));
    tracker.likeness = (count) => (count > 30 ? 0.4 : 1);
    await following.follow(['focus', 'mattes', 0], 'Subject 1', 'forwards');
    expect(notices.all().map(({ text }) => text)).toEqual([expect.stringContaining('from frame 32')]);
    const sure = following.surenessOf('focus/mattes/m/carry');
    expect([sure[30]!.confidence, sure[31]!.confidence]).toEqual([0.8, 0.4]);
  });

  it('stops where the subject is lost: what was found is kept, and the frame is in view', async () => {
    tracker.lostAfter = 12;
    await following.follow(PLACE, 'Planar 1', 'forwards');
    expect(keys().at(-1)!.at).toBeCloseTo(12 / 30, 6);
    expect(sought).toEqual([13]);
    expect(notices.all().map(({ text }) => text)).toEqual([expect.stringContaining('was lost at frame 14')]);
  });

  it('goes on behind what hides the subject: the way there is straight, and is to be looked at', async () => {
    Object.assign(tracker, { hidden: [20, 29], apart: 30 });
    await following.follow(PLACE, 'Planar 1', 'forwards');
    expect(keys().map(({ at }) => at)).toEqual([0, times.starts[FRAMES - 1]]);
    const said = notices.all().map(({ text }) => text);
    expect(said).toEqual([expect.stringContaining('was hidden from frame 21 to 30: its keys go straight')]);
    expect(said[0]).toContain('the ground around it moves differently');
    expect(sought).toEqual([20]);
    expect(following.surenessOf(centre.replace('/centre', ''))).toHaveLength(FRAMES - 10);
    notices.dismiss(notices.all()[0]!);
    frame = 59;
    await following.follow(PLACE, 'Planar 1', 'backwards');
    expect(notices.all()[0]!.text).toContain('from frame 31 to 40');
  });

  it('says where it was unsure', async () => {
    tracker.confidence = 0.3;
    await following.follow(PLACE, 'Planar 1', 'forwards');
    expect(notices.all().map(({ text }) => text)).toEqual([expect.stringContaining('unsure at frame 2')]);
  });

  it('looks at a subject in place of a strip, where that is wanted', async () => {
    project.edit('subject', ({ focus }) => void focus.mattes.push(newMatte('m', 'cut.png')));
    const begin = vi.spyOn(tracker, 'begins');
    await following.follow(PLACE, 'Planar 1', 'forwards', ['focus', 'mattes', 0]);
    const { centre: at } = project.recipe().focus.bands[0] as { centre: [number, number] };
    expect(begin.mock.calls[0]![0]).toMatchObject({
      at: [expect.closeTo(at[0] * 900 - 0.5), expect.closeTo(at[1] * 200 - 0.5)],
      outline: { id: white.id },
    });
    expect(keys()).toHaveLength(2);
  });

  it('both ways begins where the playhead is; backwards frames are decoded forwards, as many as are kept', async () => {
    frame = 25;
    await following.follow(PLACE, 'Planar 1', 'both');
    expect(keys()[0]!.at).toBe(0);
    expect(keys().at(-1)!.at).toBeCloseTo(59 / 30, 6);
    expect(tracker.steps).toBe(59);
    // Frame 25 itself, then portions of ten, each upwards before it is gone over downwards.
    const down = (from: number): number[] => Array.from({ length: 10 }, (_, i) => from - i);
    expect(read.slice(0, 21)).toEqual([25, ...down(24).reverse(), ...down(24)]);
    expect(read.slice(21, 31)).toEqual(down(14).reverse());
  });

  it('that the person stops keeps what it has; new keys take the place of old ones in that time alone', async () => {
    await following.follow(PLACE, 'Planar 1', 'forwards');
    const last = keys().at(-1)!;
    frame = 10;
    tracker.hears = (steps) => {
      if (steps === 59 + 5) following.stop();
    };
    await following.follow(PLACE, 'Planar 1', 'forwards');
    expect(tracker.steps).toBe(64);
    expect(keys().at(-1)).toEqual(last);
    expect(keys().some(({ at }) => Math.abs(at - 10 / 30) < 1e-6)).toBe(true);
  });

  it('of frames that cannot be read says so, and leaves the project as it was', async () => {
    const broken = vi
      .spyOn(material, 'borrow')
      .mockRejectedValue(new Error('No frame of “a.mp4” can be read.'));
    await following.follow(PLACE, 'Planar 1', 'forwards');
    expect(notices.all()[0]!.text).toBe('“Planar 1” couldn’t be followed: No frame of “a.mp4” can be read.');
    expect(keys()).toEqual([]);
    expect(following.progress()).toBeNull();
    broken.mockRestore();
  });

  it('ends when the project closes: no key is set, and nothing is said, of that project or of the next', async () => {
    const { said, injector } = scope;
    tracker.hears = (steps) => {
      if (steps === 5) injector.destroy();
    };
    await following.follow(PLACE, 'Planar 1', 'forwards');
    expect(tracker.steps).toBeLessThan(8);
    expect(tracker.ended).toBe(1);
    expect(keys()).toEqual([]);
    expect(said()).toEqual([]);
    // A clip that is closed under it is no reason to speak of damage.
    expect(following.surenessOf(centre.replace('/centre', ''))).toEqual([]);
  });
});
