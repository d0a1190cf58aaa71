import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Keyframes } from '../src/app/project/footage/keyframes';
import { OpenProject } from '../src/app/project/session/open-project';
import { Playhead } from '../src/app/project/footage/playhead';
import { openOne, services } from './services';

const RADIUS = ['blur', 'radius'] as const;

describe('keys of the open project', () => {
  let project: OpenProject;
  let keys: Keyframes;
  let playhead: Playhead;
  let band: string;

  beforeEach(() => {
    vi.useRealTimers();
    const { injector } = services(openOne);
    project = injector.get(OpenProject);
    keys = injector.get(Keyframes);
    playhead = injector.get(Playhead);
    band = project.recipe().focus.bands[0]!.id;
  });

  const times = (): number[] => project.keyed().keys.map(({ at }) => at);

  it('are set and taken away at the moment in view, each one step back', () => {
    expect(keys.stateOf(RADIUS)).toBe('none');
    keys.toggle(RADIUS, 'radius');
    expect(keys.stateOf(RADIUS)).toBe('here');
    playhead.time.set(1);
    expect(keys.stateOf(RADIUS)).toBe('other');
    keys.toggle(RADIUS, 'radius');
    expect(times()).toEqual([0, 1]);
    project.undo();
    expect(times()).toEqual([0]);
    playhead.time.set(0);
    keys.toggle(RADIUS, 'radius');
    expect(times()).toEqual([]);
    expect(project.undoLabel()).toBe('delete radius key');
  });

  it('take a change at a moment, and leave what has no keys alone', () => {
    const start = project.recipe().blur.radius;
    keys.toggle(RADIUS, 'radius');
    playhead.time.set(2);
    project.edit('radius', (draft) => (draft.blur.radius = 0.05));
    project.edit('saturation', (draft) => (draft.colour.saturation = 0.5));
    expect(project.keyed().keys.map(({ at, value }) => [at, value])).toEqual([[0, start], [2, 0.05]]); // prettier-ignore
    expect(project.keyed().blur.radius).toBe(start);
    expect(project.keyed().colour.saturation).toBe(0.5);
    expect(project.recipe().blur.radius).toBe(0.05);
    playhead.time.set(1);
    expect(project.recipe().blur.radius).toBeGreaterThan(start);
    expect(project.recipe().blur.radius).toBeLessThan(0.05);
  });

  it('of a point are one, whichever of its numbers is asked', () => {
    const x = ['focus', 'bands', 0, 'centre', 0];
    expect(keys.placeOf(x)).toEqual(['focus', 'bands', 0, 'centre']);
    expect(keys.placeOf(RADIUS)).toEqual(RADIUS);
    keys.toggle(x, 'centre');
    expect(project.keyed().keys[0]).toMatchObject({ of: `focus/bands/${band}/centre`, value: [0.5, 0.55] });
    expect(keys.stateOf(['focus', 'bands', 0, 'centre', 1])).toBe('here');
  });

  it('make a lane for each band, and one for any other number', () => {
    keys.toggle(['focus', 'bands', 0, 'centre', 0], 'centre');
    playhead.time.set(1);
    keys.toggle(['focus', 'bands', 0, 'angle'], 'angle');
    keys.toggle(RADIUS, 'radius');
    const [ofBand, ofBlur] = keys.lanes();
    expect(ofBand).toMatchObject({ owner: `focus/bands/${band}`, label: 'Planar 1' });
    expect(ofBand!.keyTimes.map(({ at }) => at)).toEqual([0, 1]);
    expect(ofBlur).toMatchObject({ owner: 'blur/radius', label: 'blur radius' });
  });

  it('are moved, copied and eased by lane; what is there gives way', () => {
    for (const time of [0, 1, 2]) {
      playhead.time.set(time);
      keys.toggle(RADIUS, 'radius');
    }
    const lane = keys.lanes()[0]!;
    const at = (time: number) => [{ owner: lane.owner, at: time }];
    keys.move(at(1), () => 2);
    expect(times()).toEqual([0, 2]);
    keys.copy(at(0), () => 3);
    expect(times()).toEqual([0, 2, 3]);
    keys.ease(at(2), 'hold');
    expect(project.keyed().keys[1]!.ease).toBe('hold');
    keys.remove(at(2));
    expect(times()).toEqual([0, 3]);
    keys.remove(keys.lanes()[0]!.keyTimes.map(({ at: time }) => ({ owner: lane.owner, at: time })));
    expect(times()).toEqual([]);
  });

  it('are moved, copied, eased and taken away several at a time, whatever their lanes', () => {
    for (const time of [0, 1, 2]) {
      playhead.time.set(time);
      keys.toggle(RADIUS, 'radius');
      keys.toggle(['focus', 'bands', 0, 'angle'], 'angle');
    }
    const [band, blur] = keys.lanes();
    const of = (owner: string): number[] =>
      project.keyed().keys.filter((key) => key.of.startsWith(owner)).map(({ at }) => at); // prettier-ignore
    const stops = [
      { owner: blur!.owner, at: 0 },
      { owner: blur!.owner, at: 1 },
      { owner: band!.owner, at: 2 },
    ];
    keys.move(stops, (at) => at + 1);
    expect([of(blur!.owner), of(band!.owner)]).toEqual([[1, 2], [0, 1, 3]]); // prettier-ignore
    expect(project.undoLabel()).toBe('move keys');
    project.undo();
    expect([of(blur!.owner), of(band!.owner)]).toEqual([[0, 1, 2], [0, 1, 2]]); // prettier-ignore
    keys.ease(stops, 'soft');
    expect(project.keyed().keys.filter(({ ease }) => ease === 'soft')).toHaveLength(3);
    keys.copy(stops, (at) => at + 5);
    expect([of(blur!.owner), of(band!.owner)]).toEqual([[0, 1, 2, 5, 6], [0, 1, 2, 7]]); // prettier-ignore
    keys.remove(stops);
    expect([of(blur!.owner), of(band!.owner)]).toEqual([[2, 5, 6], [0, 1, 7]]); // prettier-ignore
  });

  it('are put at another time and value, and set where a curve runs', () => {
    keys.toggle(RADIUS, 'radius');
    playhead.time.set(2);
    project.edit('radius', (draft) => (draft.blur.radius = 0.05));
    const list = () => project.keyed().keys.map(({ at, value, ease }) => ({ at, value, ease }));
    keys.ease([{ owner: 'blur/radius', at: 0 }], 'linear');
    const [first] = project.keyed().keys;
    keys.put(first!, 1, 0.01, null);
    expect(list()).toEqual([
      { at: 1, value: 0.01, ease: 'linear' },
      { at: 2, value: 0.05, ease: 'smooth' },
    ]);
    keys.add(keys.lanes()[0]!.tracks[0]!, 1.5);
    expect(list()[1]).toMatchObject({ at: 1.5, value: expect.closeTo(0.03, 9) as number });
    // What is there gives way.
    keys.put(project.keyed().keys[0]!, 1.5, 0.02, null);
    expect(list().map(({ at, value }) => [at, value])).toEqual([[1.5, 0.02], [2, 0.05]]); // prettier-ignore
    project.undo();
    expect(list()).toHaveLength(3);
  });

  it('of a band go with it', () => {
    keys.toggle(['focus', 'bands', 0, 'angle'], 'angle');
    project.edit('delete band', (draft) => (draft.focus.bands = []));
    expect(times()).toEqual([]);
    project.undo();
    expect(times()).toEqual([0]);
  });
});
