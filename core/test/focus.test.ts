import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fieldReference, profileReference } from '../reference/field';
import {
  type FocusPictures,
  type Recipe,
  type Region,
  diagonal,
  resolveFocus,
  footOf,
  keepMaskFrom,
  keepMasksOf,
  makeRaster,
  profileAt,
  profilePieces,
  resolveRecipe,
  steepestBlurEdge,
} from '../src/index';
import { Arena, KernelContext, createMemory, rowAddress } from '../src/memory';
import { FieldRows, planField } from '../src/focus/rows';
import { NO_PICTURES, focusField } from '../src/focus/field';
import { depthProfile } from '../src/focus/depth-map';
import { instantiateKernels } from '../src/kernels';
import {
  band,
  between,
  focus,
  focusPictures,
  irisBand,
  linearBand,
  profile,
  stroke,
  unit,
} from './arbitraries';
import { kernelModule, recipe } from './harness';

/** The kernels' haze of a region, 0..1; strips of a few rows, so that their edges are met too. */
async function mapper(region: Region, stripRows = region.height) {
  const { width, height } = region;
  const arena = new Arena();
  const plan = planField(width, stripRows, arena);
  const haze = arena.rows(width, height, 1);
  const memory = createMemory(arena.bytes);
  const use = new KernelContext(await instantiateKernels(kernelModule, memory), memory);
  const field = new FieldRows(use, plan, haze, region);
  return (how: Recipe, pictures: FocusPictures = NO_PICTURES): Float64Array => {
    const look = resolveRecipe(how, region.picture, pictures).field;
    const map = new Float64Array(width * height);
    for (let from = 0; from < height; from += stripRows) {
      const to = Math.min(height, from + stripRows);
      field.fill(look, from, to);
    }
    for (let y = 0; y < height; y++) map.set(use.heap.floatsAt(rowAddress(haze, y), width), y * width);
    return map;
  };
}

const whole = (width: number, height: number): Region => ({
  x: 0,
  y: 0,
  width,
  height,
  picture: { width, height },
});

describe('the haze field', () => {
  it('of random recipes agrees with the slow formulas, in the kernels and at a point', async () => {
    const [width, height] = [53, 37];
    const map = await mapper(whole(width, height), 9);
    const seen = new Set<string>();
    fc.assert(
      fc.property(focus, (parts) => {
        const how = recipe({ focus: parts });
        how.focus.bands.forEach((one) => seen.add(one.kind));
        const haze = map(how);
        const field = focusField(how.focus, { width, height });
        for (let y = 0; y < height; y += 4) {
          for (let x = 0; x < width; x += 3) {
            const exact = fieldReference(how.focus, width, height, x + 0.5, y + 0.5);
            expect(Math.abs(field(x + 0.5, y + 0.5) - exact)).toBeLessThan(1e-3);
            expect(Math.abs(haze[y * width + x]! - exact)).toBeLessThan(1e-3);
          }
        }
      }),
      { numRuns: 60 },
    );
    expect([...seen].sort()).toEqual(['elliptical', 'iris', 'linear', 'planar']);
  });

  it('with depth maps and mattes of any kind is the same in the kernels and at a point', async () => {
    const [width, height] = [41, 29];
    const map = await mapper(whole(width, height), 7);
    fc.assert(
      fc.property(focus, focusPictures, (parts, pictures) => {
        const how = recipe({ focus: parts });
        const haze = map(how, pictures);
        const field = focusField(how.focus, { width, height }, pictures);
        for (let i = 0; i < haze.length; i += 7) {
          const exact = field((i % width) + 0.5, Math.floor(i / width) + 0.5);
          expect(Math.abs(haze[i]! - exact)).toBeLessThan(4e-3);
        }
      }),
      { numRuns: 80 },
    );
  });

  it('stays finite and within 0..1 for bands, strokes and places of any kind, however degenerate', async () => {
    const map = await mapper(whole(40, 24), 8);
    const nothing = fc.constantFrom(
      { kind: 'elliptical', radii: [0, 0], falloff: 0 },
      { kind: 'iris', radius: 0, falloff: Array(8).fill(0), roundness: 0, sides: 3 },
      { kind: 'linear', start: [0.5, 0.5], end: [0.5, 0.5] },
      { kind: 'planar', near: { clear: 0, falloff: 0 }, far: { clear: 0, falloff: 0 } },
    );
    const far = { mode: 'clear', radius: 0, points: [[-4, 5], [5, -4, 0]] }; // prettier-ignore
    fc.assert(
      fc.property(fc.array(fc.oneof(band, nothing), { maxLength: 5 }), fc.array(stroke), (bands, strokes) => {
        const how = recipe({
          focus: { bands: bands.map((one, i) => ({ ...one, id: `b${i}` })), strokes: [...strokes, far] },
        });
        const field = focusField(how.focus, { width: 40, height: 24 });
        map(how).forEach((v, i) => {
          const point = field((i % 40) + 0.5, Math.floor(i / 40) + 0.5);
          // Single precision may miss an end by a hair.
          expect(v >= -1e-6 && v <= 1 + 1e-6 && point >= 0 && point <= 1).toBe(true);
        });
      }),
      { numRuns: 60 },
    );
  });

  it('takes five hundred bands and the soundings of a whole chart', async () => {
    const map = await mapper(whole(64, 40), 16);
    const how = recipe({
      focus: {
        soundings: Array.from({ length: 60 }, (_, i) => ({
          at: [((i * 37) % 60) / 60, i / 60],
          haze: (i % 7) / 7,
        })),
        bands: Array.from({ length: 500 }, (_, i) => ({
          id: `b${i}`,
          mode: i % 3 ? 'haze' : 'clear',
          ...[
            { kind: 'planar', near: { haze: 0.6 } },
            { kind: 'linear', endHaze: 0.3 },
            { kind: 'elliptical', haze: 0.4 },
            { kind: 'iris', haze: 0.4 },
          ][i % 4],
        })),
      },
    });
    const haze = map(how);
    for (let i = 0; i < haze.length; i += 97)
      expect(haze[i]).toBeCloseTo(
        fieldReference(how.focus, 64, 40, (i % 64) + 0.5, Math.floor(i / 64) + 0.5),
        2,
      );
  });

  it('of a part is that part of the whole, and the same on a small and a large picture', async () => {
    fc.assert(
      fc.property(irisBand, linearBand, stroke, (iris, linear, painted) => {
        const bands = [
          { ...iris, id: 'a' },
          { ...linear, id: 'b' },
        ];
        const how = recipe({ focus: { bands, strokes: [painted] } });
        const [small, large] = [
          { width: 300, height: 200 },
          { width: 6000, height: 4000 },
        ];
        for (let i = 0; i < 20; i++) {
          const [x, y] = [(i * 37) % 300, (i * 91) % 200];
          expect(focusField(how.focus, small)(x, y)).toBeCloseTo(
            focusField(how.focus, large)(x * 20, y * 20),
            3,
          );
        }
      }),
      { numRuns: 20 },
    );
    expect(diagonal({ width: 6000, height: 4000 })).toBeCloseTo(20 * diagonal({ width: 300, height: 200 }));
    const how = recipe({
      focus: {
        soundings: [
          { at: [0.2, 0.3], haze: 0.2 },
          { at: [0.8, 0.7], haze: 0.9 },
        ],
        bands: [{ id: 'a', kind: 'elliptical', angle: 20 }],
        strokes: [{ mode: 'haze', radius: 0.1, points: [[0.1, 0.1], [0.9, 0.5]] }], // prettier-ignore
      },
    });
    const all = (await mapper(whole(90, 60)))(how);
    const part = { x: 31, y: 17, width: 42, height: 29, picture: { width: 90, height: 60 } };
    const some = (await mapper(part, 7))(how);
    some.forEach((v, i) => {
      const [x, y] = [(i % 42) + 31, Math.floor(i / 42) + 17];
      expect(Math.abs(v - all[y * 90 + x]!)).toBeLessThan(2e-4);
    });
  });

  it('with the step switched off is the same everywhere', () => {
    const how = recipe({ focus: { on: false, rest: 0.7, bands: [{ id: 'a', kind: 'planar' }] } });
    expect(focusField(how.focus, { width: 10, height: 10 })(5, 5)).toBe(0.7);
    expect(resolveFocus(how.focus, { width: 10, height: 10 }).bands).toEqual([]);
  });
});

describe('soundings', () => {
  it('are passed through, and the field stays within their range; one alone is a constant', () => {
    const spot = fc.record({ at: fc.tuple(unit, unit), haze: unit });
    fc.assert(
      fc.property(
        fc.uniqueArray(spot, {
          minLength: 1,
          maxLength: 60,
          selector: ({ at }) => at.map((v) => Math.round(v * 20)).join(),
        }),
        (soundings) => {
          const size = { width: 900, height: 600 };
          const field = focusField(recipe({ focus: { soundings } }).focus, size);
          const values = soundings.map(({ haze }) => haze);
          // Soundings closer than some pixels share a place: only those that stand apart are held to their value.
          for (const { at, haze } of soundings) {
            const alone = soundings.every(
              (other) =>
                other.at === at || Math.hypot((other.at[0] - at[0]) * 900, (other.at[1] - at[1]) * 600) > 15,
            );
            if (alone) expect(Math.abs(field(at[0] * 900, at[1] * 600) - haze)).toBeLessThan(2e-3);
          }
          for (let i = 0; i < 40; i++) {
            const v = field((i * 173) % 900, (i * 71) % 600);
            expect(v).toBeGreaterThanOrEqual(Math.min(...values) - 1e-9);
            expect(v).toBeLessThanOrEqual(Math.max(...values) + 1e-9);
            if (soundings.length === 1) expect(v).toBeCloseTo(values[0]!, 9);
          }
        },
      ),
    );
  });
});

describe('a depth map and mattes', () => {
  const ramp = makeRaster(
    'ramp',
    256,
    2,
    Uint16Array.from({ length: 512 }, (_, i) => (i % 256) * 257),
  );

  it('turn depth into haze by the formula, in the kernels and at a point', async () => {
    const map = await mapper(whole(128, 20), 6);
    const parts = fc.record({
      focus: unit,
      clear: between(0, 0.3),
      falloff: between(0.05, 1),
      nearFalloff: between(0.05, 1),
      haze: unit,
      swap: fc.boolean(),
      invert: fc.boolean(),
      profile: fc.constantFrom('linear', 'smooth', 'late', 'early'),
    });
    fc.assert(
      fc.property(parts, (depth) => {
        const how = recipe({ focus: { depthMap: { image: 'depth.png', ...depth } } });
        const haze = map(how, { depth: ramp, keep: [] });
        for (let x = 0; x < 128; x++) {
          // The half-size view reads the mean of two samples.
          const value = (2 * x + 0.5) / 255;
          const s = (depth.swap ? -1 : 1) * (value - depth.focus);
          const falloff = s >= 0 ? depth.nearFalloff : depth.falloff;
          const own =
            depth.haze * profileReference(depth.profile as 'linear', (Math.abs(s) - depth.clear) / falloff);
          const exact = depth.invert ? depth.haze - own : own;
          expect(Math.abs(haze[x]! - exact)).toBeLessThan(2e-3);
          expect(Math.abs(depthProfile(how.focus.depthMap!)(value) - exact)).toBeLessThan(1e-9);
        }
      }),
      { numRuns: 40 },
    );
  });

  it('join soundings by the greater haze, and what a matte keeps has the last word', async () => {
    const map = await mapper(whole(64, 16), 5);
    const keep = makeRaster('keep', 4, 1, Uint16Array.from([0, 0, 65535, 65535]));
    const how = recipe({
      focus: {
        soundings: [{ at: [0.5, 0.5], haze: 0.4 }],
        depthMap: { image: 'depth.png', focus: 0, clear: 0, falloff: 1, profile: 'linear' },
        strokes: [{ mode: 'haze', radius: 2, softness: 0, points: [[0.5, 0.5]] }],
        strokesOn: false,
      },
    });
    const field = focusField(how.focus, { width: 64, height: 16 }, { depth: ramp, keep: keepMaskFrom(keep) });
    map(how, { depth: ramp, keep: keepMaskFrom(keep) }).forEach((v, i) => {
      const [x, y] = [(i % 64) + 0.5, Math.floor(i / 64) + 0.5];
      const depth = (x * 4 - 0.5) / 255;
      const kept = Math.min(1, Math.max(0, (x / 16 - 0.5 - 1) / 1));
      expect(Math.abs(v - Math.max(0.4, depth) * (1 - kept))).toBeLessThan(0.01);
      expect(Math.abs(field(x, y) - v)).toBeLessThan(0.01);
    });
  });

  it('give a subject that stands the haze of its foot all over, before strokes, and after what is clear', async () => {
    const size = { width: 64, height: 32 };
    const map = await mapper(whole(64, 32), 5);
    // A tower over the columns 16..31, from the top down to row 23; the ground gets hazier upwards.
    const tower = makeRaster(
      'tower',
      64,
      32,
      Uint16Array.from({ length: 2048 }, (_, i) => (i % 64 >= 16 && i % 64 < 32 && i < 24 * 64 ? 65535 : 0)),
    );
    const parts = {
      bands: [{ id: 'l', kind: 'linear', start: [0.5, 1], end: [0.5, 0], profile: 'linear' }],
      strokes: [{ mode: 'haze', points: [[0.4, 0.7]], radius: 1, softness: 0 }],
    };
    const check = (matte: object, foot: readonly [number, number]): void => {
      const how = recipe({
        focus: { ...parts, mattes: [{ id: 't', image: 't.png', as: 'standing', ...matte }] },
      });
      const picture = { how: how.focus.mattes[0]!, picture: tower };
      const pictures = { depth: null, keep: keepMasksOf([picture], 64, false) };
      const ground = focusField(recipe({ focus: { ...parts, strokes: [] } }).focus, size);
      const due = ground(foot[0] * 64, foot[1] * 32);
      const field = focusField(how.focus, size, pictures);
      const haze = map(how, pictures);
      for (const [x, y] of [[20, 2], [28, 12], [17, 22]] as const) {
        expect(Math.abs(haze[y * 64 + x]! - due)).toBeLessThan(1e-3);
        expect(Math.abs(field(x + 0.5, y + 0.5) - due)).toBeLessThan(1e-6);
      } // prettier-ignore
      // Beside it the stroke has the last word.
      expect(haze[10 * 64 + 50]).toBeCloseTo(1, 4);
    };
    // Without a foot it is the lowest row of the outline, in its middle.
    check({}, [24 / 64, 23.5 / 32]);
    check({ foot: [0.1, 0.9] }, [0.1, 0.9]);
    // Carried, its foot goes with it.
    const carry = { shift: [0, -0.25] as [number, number], turn: 0, scale: 1 };
    const how = recipe({ focus: { mattes: [{ id: 't', image: 't.png', as: 'standing', carry }] } });
    expect(footOf(how.focus.mattes[0]!, tower, size)[1]).toBeCloseTo(23.5 / 32 - 0.25, 6);
  });

  it('speak again where they change: another map, another matte, one stroke more, one taken back', async () => {
    const map = await mapper(whole(48, 32));
    const line = (mode: string, y: number) => ({ mode, radius: 0.08, points: [[0.1, y], [0.5, y + 0.05], [0.9, y]] }); // prettier-ignore
    const strokes = [line('haze', 0.2), line('clear', 0.25), line('erase', 0.22), line('haze', 0.8)];
    const bands = [{ id: 'a', kind: 'planar', near: { haze: 0.7 } }];
    for (const count of [0, 1, 2, 4, 3, 1, 0, 4]) {
      const how = recipe({ focus: { bands, strokes: strokes.slice(0, count) } });
      const haze = map(how);
      for (let i = 0; i < haze.length; i += 11)
        expect(
          Math.abs(haze[i]! - fieldReference(how.focus, 48, 32, (i % 48) + 0.5, Math.floor(i / 48) + 0.5)),
          `${count} strokes`,
        ).toBeLessThan(1e-3);
    }
  });
});

describe('a profile of knots', () => {
  it('never falls, passes through its knots and stays in 0..1', () => {
    fc.assert(
      fc.property(profile, (p) => {
        const pieces = profilePieces(p as never);
        let last = -1e-12;
        for (let i = 0; i <= 400; i++) {
          const v = profileAt(pieces, i / 400);
          expect(v).toBeGreaterThanOrEqual(last - 1e-9);
          last = v;
        }
        expect(profileAt(pieces, 0)).toBeCloseTo(0, 9);
        expect(profileAt(pieces, 1)).toBeCloseTo(1, 9);
        if (typeof p !== 'string')
          for (const [u, v] of p.knots) expect(profileAt(pieces, u!)).toBeCloseTo(v!, 9);
      }),
    );
  });
});

describe('the seam check', () => {
  const size = { width: 1200, height: 800 };
  const check = (parts: object, radiusPx: number) => {
    const { focus: how } = recipe({ focus: parts });
    const field = focusField(how, size);
    const [columns, rows] = [96, 64];
    const values = Float64Array.from({ length: columns * rows }, (_, i) =>
      field((((i % columns) + 0.5) / columns) * 1200, ((Math.floor(i / columns) + 0.5) / rows) * 800),
    );
    return steepestBlurEdge(field, { columns, rows, values }, size, radiusPx);
  };

  it('measures the slope of a straight falloff, and finds where it is', () => {
    const d = diagonal(size);
    for (const [falloff, radiusPx] of [
      [0.2, 30],
      [0.05, 12],
      [0.5, 60],
    ] as const) {
      const near = { clear: 0.02, falloff };
      const one = { id: 'a', kind: 'planar', profile: 'linear', angle: 25, near, far: { clear: 2 } };
      expect(check({ bands: [one] }, radiusPx).rise).toBeCloseTo(radiusPx / (falloff * d), 2);
      const smooth = check({ bands: [{ ...one, profile: 'smooth' }] }, radiusPx);
      expect(smooth.rise).toBeCloseTo((1.5 * radiusPx) / (falloff * d), 2);
    }
  });

  it('calls a soft, a firm and a hard edge by their names', () => {
    const edge = (falloff: number) => ({
      bands: [{ id: 'a', kind: 'elliptical', centre: [0.4, 0.5], radii: [0.1, 0.1], falloff }],
    });
    expect(check(edge(3), 20).grade).toBe('soft');
    expect(check(edge(1), 20).grade).toBe('firm');
    const cut = check(edge(0), 20);
    expect(cut.grade).toBe('hard edge');
    expect(cut.rise).toBeGreaterThan(8);
    const radius = 0.1 * diagonal(size);
    expect(Math.hypot(cut.at[0] - 480, cut.at[1] - 400)).toBeCloseTo(radius, -1);
    expect(check({ rest: 0.5 }, 20)).toMatchObject({ rise: 0, grade: 'soft' });
  });
});
