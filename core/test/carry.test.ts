import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { homeReference } from '../reference/field';
import { carryOf, similarityOf } from '../src/focus/carry';
import { Appearance } from '../src/footage/tracking/appearance';
import {
  type Carry,
  type Grey,
  IDENTITY_CARRY,
  IDENTITY,
  toCurrentFrame,
  carriedRaster,
  rebaseCarryKeys,
  trackedKeys,
  toOriginFrame,
  isIdentityCarry,
  makeRaster,
  rasterBounds,
  recipeAt,
  retimed,
  sampleRaster,
} from '../src/index';
import { transformPoint } from '../src/geometry/similarity';
import { rasterAt } from '../src/geometry/raster';
import { carry } from './arbitraries';
import { recipe } from './harness';

const size = { width: 90, height: 60 };
const carried = carry.map((parts): Carry => ({ ...IDENTITY_CARRY, ...parts }) as Carry);

describe('a carry', () => {
  it('is a shift, turn and scale about the middle, and leads back home', () => {
    fc.assert(
      fc.property(carried, fc.double({ min: 0, max: 1, noNaN: true }), (how, x) => {
        const there = toCurrentFrame(how, size)([x, 1 - x]);
        const [hx, hy] = homeReference(
          how,
          size.width,
          size.height,
          there[0] * size.width,
          there[1] * size.height,
        );
        expect(Math.hypot(hx - x * size.width, hy - (1 - x) * size.height)).toBeLessThan(1e-6);
        const back = toOriginFrame(how, size)(there);
        expect(Math.hypot(back[0] - x, back[1] - 1 + x)).toBeLessThan(1e-9);
        const again = carryOf(similarityOf(how, size), size);
        expect(again.scale).toBeCloseTo(how.scale, 9);
        expect(again.shift[0]).toBeCloseTo(how.shift[0], 9);
        expect(Math.cos(((again.turn - how.turn) * Math.PI) / 180)).toBeCloseTo(1, 9);
      }),
    );
    expect(isIdentityCarry(IDENTITY_CARRY)).toBe(true);
    expect(isIdentityCarry({ ...IDENTITY_CARRY, turn: 0.1 })).toBe(false);
  });

  it('brings a matte to where its subject is', () => {
    const samples = Uint16Array.from({ length: 90 * 60 }, (_, i) => (i % 90 < 30 ? 65535 : 0));
    const raster = makeRaster('left', 90, 60, samples);
    fc.assert(
      fc.property(carried, fc.double({ min: 0, max: 1, noNaN: true }), (how, x) => {
        const [hx, hy] = toOriginFrame(how, size)([x, 0.4]);
        expect(rasterAt(carriedRaster(raster, how, size), x, 0.4)).toBeCloseTo(
          sampleRaster(raster.levels[0], hx, hy),
          5,
        );
      }),
    );
    expect(carriedRaster(raster, IDENTITY_CARRY, size)).toBe(raster);
    expect(rasterBounds(raster)).toEqual({ left: 0, top: 0, right: 1 / 3, bottom: 1 });
    expect(rasterBounds(makeRaster('none', 4, 4, new Uint16Array(16)))).toBeNull();
  });
});

describe('keys of what is carried', () => {
  const motions = Array.from({ length: 40 }, (_, i) => {
    const [angle, scale] = [(0.4 * i * Math.PI) / 180, 1 + 0.003 * i];
    const motion = { a: scale * Math.cos(angle), b: scale * Math.sin(angle), tx: 0.9 * i, ty: -0.3 * i };
    return { time: i / 20, motion };
  });
  const mattes = [{ id: 'm', image: 'm.png' }];
  const how = recipe({ focus: { mattes, strokesCarry: { shift: [0.1, 0], turn: 5, scale: 1.1 } } });

  it.each([
    ['a matte', ['focus', 'mattes', 0], 'focus/mattes/m/carry'],
    ['the strokes', ['focus', 'strokesCarry'], 'focus/strokesCarry'],
  ] as const)('keep %s within half a pixel of what was followed, from where it is', (_, place, owner) => {
    const keys = trackedKeys(how, [...place], motions, size);
    expect(new Set(keys.map(({ of }) => of))).toEqual(
      new Set(['shift', 'turn', 'scale'].map((name) => `${owner}/${name}`)),
    );
    expect(keys.length).toBeLessThan(40);
    const carryAt = (time: number): Carry => {
      const { focus } = recipeAt({ ...how, keys }, time);
      return place[1] === 'mattes' ? focus.mattes[0]!.carry : focus.strokesCarry;
    };
    const start = place[1] === 'mattes' ? IDENTITY_CARRY : how.focus.strokesCarry;
    for (const { time, motion } of motions)
      for (const at of [[0.1, 0.2], [0.5, 0.5], [0.9, 0.7]] as const) {
        const [x, y] = toCurrentFrame(carryAt(time), size)(at);
        const [sx, sy] = toCurrentFrame(start, size)(at);
        const [u, v] = transformPoint(motion, [sx * 90 - 0.5, sy * 60 - 0.5]);
        expect(Math.hypot(x * 90 - 0.5 - u, y * 60 - 0.5 - v)).toBeLessThan(0.8);
      } // prettier-ignore
  });

  it('are fewer where only a part of the picture must keep its place, and together for all three numbers', () => {
    // Turns a little to and fro about a place near the corner: far from there that is much.
    const shaky = motions.map(({ time }, i) => {
      const angle = (0.3 * Math.sin(i * 2.4) * Math.PI) / 180;
      const [a, b] = [Math.cos(angle), Math.sin(angle)];
      return { time, motion: { a, b, tx: 12 - (a * 12 - b * 9), ty: 9 - (b * 12 + a * 9) } };
    });
    const box = { left: 6, top: 4, right: 18, bottom: 14 };
    const all = trackedKeys(how, ['focus', 'mattes', 0], shaky, size);
    const there = trackedKeys(how, ['focus', 'mattes', 0], shaky, size, box);
    expect(there).toHaveLength(6);
    expect(all.length).toBeGreaterThan(30);
    const times = (name: string) => all.filter(({ of }) => of.endsWith(name)).map(({ at }) => at);
    expect(times('turn')).toEqual(times('shift'));
  });

  it('say the same motion from another frame on, where it is then at rest', () => {
    const keyed = { ...how, keys: trackedKeys(how, ['focus', 'mattes', 0], motions, size) };
    const now = 0.7;
    const place = ['focus', 'mattes', 0, 'carry'] as const;
    const from = { ...how, keys: rebaseCarryKeys(keyed, [...place], now, size) };
    const before = recipeAt(keyed, now).focus.mattes[0]!.carry;
    for (const time of [0, 0.3, 0.7, 1.1, 1.9]) {
      const at = toCurrentFrame(before, size)([0.3, 0.6]);
      const [x, y] = toCurrentFrame(recipeAt(from, time).focus.mattes[0]!.carry, size)(at);
      const [u, v] = toCurrentFrame(recipeAt(keyed, time).focus.mattes[0]!.carry, size)([0.3, 0.6]);
      expect(Math.hypot((x - u) * 90, (y - v) * 60)).toBeLessThan(1);
    }
    const there = recipeAt(from, now).focus.mattes[0]!.carry;
    expect([...there.shift, there.turn, there.scale - 1].every((v) => Math.abs(v) < 1e-9)).toBe(true);
    expect(rebaseCarryKeys(how, [...place], now, size)).toHaveLength(3);
  });
});

describe('likeness', () => {
  const grey = (of: (x: number, y: number) => number): Grey => ({
    ...size,
    data: Float32Array.from({ length: 90 * 60 }, (_, i) => of(i % 90, Math.floor(i / 90))),
  });
  const wave = (x: number, y: number): number => 128 + 60 * Math.sin(x / 4) * Math.cos(y / 5);
  const box = { left: 20, top: 15, right: 60, bottom: 45 };
  const like = new Appearance(grey(wave), box, (x, y) => Math.hypot(x - 40, y - 30) < 14);

  it('does not mind light that changes, or what lies beside the subject', () => {
    expect(like.of(grey(wave), IDENTITY)).toBeCloseTo(1, 5);
    expect(
      like.of(
        grey((x, y) => 30 + 0.5 * wave(x, y)),
        IDENTITY,
      ),
    ).toBeCloseTo(1, 5);
    expect(
      like.of(
        grey((x, y) => (x > 62 ? 255 : wave(x, y))),
        IDENTITY,
      ),
    ).toBeCloseTo(1, 5);
    const shifted = { ...IDENTITY, tx: 7.5, ty: -3 };
    expect(
      like.of(
        grey((x, y) => wave(x - 7.5, y + 3)),
        shifted,
      ),
    ).toBeGreaterThan(0.98);
  });

  it('falls where the subject has turned into something else', () => {
    expect(
      like.of(
        grey((x, y) => wave(y, x * 1.7)),
        IDENTITY,
      ),
    ).toBeLessThan(0.5);
    expect(
      like.of(
        grey((x, y) => 255 - wave(x, y)),
        IDENTITY,
      ),
    ).toBe(0);
    // It has left the frame, or something flat hides it.
    expect(like.of(grey(wave), { ...IDENTITY, tx: 500 })).toBe(0);
    const flat = grey(() => 90);
    expect(like.of(flat, IDENTITY)).toBe(0);
    // A flat subject looks like any other flat one.
    expect(new Appearance(flat, box, () => true).of(flat, IDENTITY)).toBe(1);
  });
});

describe('keys of a mend', () => {
  it('are those of where it is carried to, and of nothing else of it', () => {
    const mends = [{ id: 'm', kind: 'copy', points: [[0.5, 0.5]], at: 0.2 }];
    const key = (of: string, value: unknown) => ({ of, at: 1, value });
    const how = recipe({ tidy: { mends }, keys: [key('tidy/mends/m/carry/shift', [0.2, 0.1])] });
    expect(recipeAt(how, 3).tidy.mends[0]!.carry.shift).toEqual([0.2, 0.1]);
    expect(recipeAt(how, 3).tidy.mends[0]!.points).toBe(how.tidy.mends[0]!.points);
    for (const of of ['tidy/mends/m/radius', 'tidy/mends/x/carry/turn', 'tidy/crop/turn'])
      expect(() => recipe({ tidy: { mends }, keys: [key(of, 0.01)] })).toThrow(of);
    expect(retimed(how, 2).tidy.mends[0]!.at).toBeCloseTo(0.4);
  });
});
