// What must hold between bands, whatever their numbers.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type Band,
  bandField,
  bandSchema,
  diagonal,
  ellipticalDistance,
  irisFalloff,
  irisPolar,
} from '../src/index';
import { focusField } from '../src/focus/field';
import { irisRim } from '../src/focus/bands/iris';
import { band, irisBand, profile, unit } from './arbitraries';
import { recipe } from './harness';

const size = { width: 900, height: 600 };
const d = diagonal(size);
const bandOf = (parts: object): Band => bandSchema.parse({ id: 'a', ...parts });
const places = Array.from({ length: 60 }, (_, i) => [(i * 173) % 900, (i * 71) % 600] as const);

describe('a band', () => {
  it('stays within the haze of its ends, inside out or not', () => {
    fc.assert(
      fc.property(band, (parts) => {
        const own = bandOf(parts);
        const ends =
          own.kind === 'planar'
            ? [0, own.near.haze, own.far.haze]
            : own.kind === 'linear'
              ? [own.startHaze, own.endHaze]
              : [own.innerHaze, own.haze];
        const field = bandField(own, size);
        for (const [x, y] of places) {
          expect(field(x, y)).toBeGreaterThanOrEqual(Math.min(...ends) - 1e-9);
          expect(field(x, y)).toBeLessThanOrEqual(Math.max(...ends) + 1e-9);
        }
      }),
    );
  });

  it('turned inside out adds up with itself to the sum of its ends', () => {
    fc.assert(
      fc.property(band, (parts) => {
        const [plain, turned] = [false, true].map((invert) => bandOf({ ...parts, invert })) as [Band, Band];
        const [a, b] = [bandField(plain, size), bandField(turned, size)];
        for (const [x, y] of places) {
          if (plain.kind === 'planar') continue;
          const sum =
            plain.kind === 'linear' ? plain.startHaze + plain.endHaze : plain.innerHaze + plain.haze;
          expect(a(x, y) + b(x, y)).toBeCloseTo(sum, 9);
        }
      }),
    );
  });

  it('given twice, or beside one that is off, changes nothing', () => {
    fc.assert(
      fc.property(band, band, unit, (one, other, rest) => {
        const bands = [{ ...one, id: 'a', on: true }];
        const field = (list: object[]) => focusField(recipe({ focus: { rest, bands: list } }).focus, size);
        const [once, twice, beside] = [
          field(bands),
          field([...bands, { ...bands[0], id: 'b' }]),
          field([...bands, { ...other, id: 'c', on: false }]),
        ];
        for (const [x, y] of places) {
          expect(twice(x, y)).toBe(once(x, y));
          expect(beside(x, y)).toBe(once(x, y));
        }
      }),
    );
  });

  it('with clear ones only lowers the field, with hazing ones only raises it', () => {
    fc.assert(
      fc.property(fc.array(band, { minLength: 1, maxLength: 4 }), unit, (list, rest) => {
        const all = (mode: string) =>
          focusField(
            recipe({ focus: { rest, bands: list.map((one, i) => ({ ...one, mode, id: `b${i}` })) } }).focus,
            size,
          );
        for (const [x, y] of places) {
          expect(all('clear')(x, y)).toBeLessThanOrEqual(rest);
          expect(all('haze')(x, y)).toBeGreaterThanOrEqual(rest);
        }
      }),
      { numRuns: 30 },
    );
  });
});

describe('kinds of bands', () => {
  it('agree where they say the same: a gradient is one side of a planar band', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -180, max: 180 }),
        fc.integer({ min: 20, max: 400 }),
        profile,
        (angle, far, p) => {
          const a = (angle * Math.PI) / 180;
          const planar = bandOf({
            kind: 'planar',
            angle,
            profile: p,
            near: { clear: 0, falloff: far / d },
            far: { haze: 0 },
          });
          const end = [0.5 - (Math.sin(a) * far) / 900, 0.5 + (Math.cos(a) * far) / 600];
          const linear = bandOf({ kind: 'linear', start: [0.5, 0.5], end, profile: p });
          for (const [x, y] of places)
            expect(bandField(planar, size)(x, y)).toBeCloseTo(bandField(linear, size)(x, y), 6);
        },
      ),
    );
  });

  it('agree where they say the same: a round iris is an ellipse', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -180, max: 180 }),
        fc.integer({ min: 30, max: 300 }),
        fc.integer({ min: 50, max: 250 }),
        fc.integer({ min: 10, max: 300 }),
        fc.integer({ min: 3, max: 12 }),
        (angle, radius, percent, falloff, sides) => {
          const aspect = percent / 100;
          const iris = bandOf({
            kind: 'iris',
            angle,
            radius: radius / d,
            aspect,
            sides,
            roundness: 1,
            falloff: Array(8).fill(falloff / 100),
          });
          const ellipse = bandOf({
            kind: 'elliptical',
            angle,
            radii: [(radius * aspect) / d, radius / d],
            falloff: falloff / 100,
          });
          for (const [x, y] of places)
            expect(bandField(iris, size)(x, y)).toBeCloseTo(bandField(ellipse, size)(x, y), 6);
        },
      ),
    );
  });

  it('an ellipse pulled very wide is a planar band', () => {
    const wide = bandOf({ kind: 'elliptical', radii: [20, 60 / d], falloff: 2, profile: 'linear' });
    const side = { clear: 60 / d, falloff: 120 / d };
    const planar = bandOf({ kind: 'planar', near: side, far: side, profile: 'linear' });
    for (const [x, y] of places)
      expect(Math.abs(bandField(wide, size)(x, y) - bandField(planar, size)(x, y))).toBeLessThan(0.01);
  });

  it('an iris without roundness has straight sides between its corners', () => {
    for (const sides of [3, 4, 6, 11]) {
      const rim = irisRim({ sides, roundness: 0 });
      const corner = (i: number): [number, number] => {
        const theta = (i * 2 * Math.PI) / sides;
        return [rim(theta) * Math.cos(theta), rim(theta) * Math.sin(theta)];
      };
      const [[ax, ay], [bx, by]] = [corner(0), corner(1)];
      expect(Math.hypot(ax, ay)).toBeCloseTo(1, 9);
      for (const t of [0.2, 0.5, 0.8]) {
        const [x, y] = [ax + (bx - ax) * t, ay + (by - ay) * t];
        expect(rim(Math.atan2(y, x))).toBeCloseTo(Math.hypot(x, y), 9);
      }
    }
  });

  it('an iris passes through its eight falloffs, round and round', () => {
    fc.assert(
      fc.property(irisBand, (parts) => {
        const iris = bandOf(parts);
        if (iris.kind !== 'iris') return;
        const falloff = irisFalloff(iris);
        iris.falloff.forEach((ratio, i) => {
          expect(falloff((i * Math.PI) / 4)).toBeCloseTo(ratio, 6);
          expect(falloff((i * Math.PI) / 4 - 2 * Math.PI)).toBeCloseTo(ratio, 6);
        });
        const [low, high] = [Math.min(...iris.falloff), Math.max(...iris.falloff)];
        for (let i = 0; i < 100; i++) {
          expect(falloff(i * 0.0628)).toBeGreaterThanOrEqual(low - 1e-9);
          expect(falloff(i * 0.0628)).toBeLessThanOrEqual(high + 1e-9);
        }
        // No jump where the turn closes.
        expect(Math.abs(falloff(1e-6) - falloff(-1e-6))).toBeLessThan(1e-4);
      }),
    );
  });

  it('measure 1 on their rims', () => {
    const ellipse = bandOf({ kind: 'elliptical', radii: [200 / d, 90 / d], angle: 30 });
    const iris = bandOf({ kind: 'iris', radius: 150 / d, aspect: 2, sides: 4, roundness: 0, angle: 30 });
    const [cos, sin] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
    if (ellipse.kind === 'elliptical') {
      expect(ellipticalDistance(ellipse, size)(450 + 200 * cos, 300 + 200 * sin)).toBeCloseTo(1, 9);
      expect(ellipticalDistance(ellipse, size)(450 - 90 * sin, 300 + 90 * cos)).toBeCloseTo(1, 9);
    }
    if (iris.kind === 'iris')
      expect(irisPolar(iris, size)(450 + 300 * cos, 300 + 300 * sin)[0]).toBeCloseTo(1, 9);
  });
});
