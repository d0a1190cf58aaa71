import { type Band, type Focus, bandSchema, diagonal, planarBandSchema } from '@hazy-lens/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  addKnot,
  axisExtent,
  moveKnot,
  ownAlong,
  railAxis,
  railKnots,
  removeKnot,
} from '../src/app/profile/rail-axis';
import { type GripDrag, type Spot, normalAngle } from '../src/app/stage/handles/handles';
import { handlesOf } from '../src/app/stage/handles/handles-of';
import { bandName, bandFromDrag } from '../src/app/model/bands';

const size = { width: 1200, height: 800 };
const d = diagonal(size);
const far = 1e6;
const everywhere = [[-far, -far], [far, -far], [far, far], [-far, far]].map(([x, y]) => ({ x: x!, y: y! })); // prettier-ignore
const bandOf = (parts: object): Band => bandSchema.parse({ id: 'a', ...parts });

function dragged(start: Band, grip: string, from: Spot, to: Spot, more: Partial<GripDrag> = {}): Band {
  const result = structuredClone(start);
  const drag = { grip, from, to, linked: false, stepped: false, ...more };
  handlesOf(start).drag(result, start, size, drag);
  return bandSchema.parse(result);
}

const gripAt = (band: Band, id: string): Spot =>
  handlesOf(band)
    .grips(band, size, everywhere)
    .find((grip) => grip.id === id)!;

const angle = fc.integer({ min: -180, max: 180 });
const BANDS = {
  planar: (turn: number) => bandOf({ kind: 'planar', angle: turn }),
  linear: () => bandOf({ kind: 'linear', start: [0.3, 0.6], end: [0.6, 0.3] }),
  elliptical: (turn: number) => bandOf({ kind: 'elliptical', angle: turn, radii: [0.2, 0.1] }),
  iris: (turn: number) => bandOf({ kind: 'iris', angle: turn, sides: 5, aspect: 1.4 }),
};

describe('dragging a grip', () => {
  const follows: [keyof typeof BANDS, string][] = [
    ['planar', 'line'],
    ['linear', 'start'],
    ['linear', 'end'],
    ['linear', 'middle'],
    ['elliptical', 'centre'],
    ['iris', 'centre'],
  ];
  it('moves what moves freely as far as the hand', () => {
    fc.assert(
      fc.property(fc.constantFrom(...follows), angle, fc.integer(), ([kind, grip], turn, seed) => {
        const start = BANDS[kind](turn);
        const from = gripAt(start, grip);
        const by = { x: (seed % 97) - 48, y: (seed % 61) - 30 };
        const now = gripAt(dragged(start, grip, from, { x: from.x + by.x, y: from.y + by.y }), grip);
        expect(now.x - from.x).toBeCloseTo(by.x, 6);
        expect(now.y - from.y).toBeCloseTo(by.y, 6);
      }),
    );
  });

  const along: [keyof typeof BANDS, string][] = [
    ['planar', 'near-clear'],
    ['planar', 'near-outer'],
    ['planar', 'far-clear'],
    ['planar', 'far-outer'],
    ['elliptical', 'stretch-a'],
    ['elliptical', 'stretch-b'],
    ['elliptical', 'outer'],
    ['iris', 'stretch'],
    ['iris', 'corner'],
    ['iris', 'outline-3'],
    ['iris', 'falloff-0'],
    ['iris', 'falloff-6'],
  ];
  it('keeps an edge under the hand that pulls it outwards, whatever the angle', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...along),
        angle,
        fc.integer({ min: 3, max: 60 }),
        ([kind, grip], turn, by) => {
          const start = BANDS[kind](turn);
          const from = gripAt(start, grip);
          const centre = gripAt(start, kind === 'planar' ? 'line' : 'centre');
          const a = (turn * Math.PI) / 180;
          const out = Math.hypot(from.x - centre.x, from.y - centre.y);
          const direction =
            kind === 'planar'
              ? {
                  x: -Math.sin(a) * (grip.startsWith('near') ? 1 : -1),
                  y: Math.cos(a) * (grip.startsWith('near') ? 1 : -1),
                }
              : { x: (from.x - centre.x) / out, y: (from.y - centre.y) / out };
          const to = { x: from.x + direction.x * by, y: from.y + direction.y * by };
          const band = dragged(start, grip, from, to);
          const now = gripAt(band, grip);
          // A clear edge that is pulled past the outer one takes it along; it stays under the hand.
          expect(Math.hypot(now.x - to.x, now.y - to.y)).toBeLessThan(1e-6);
        },
      ),
    );
  });

  it('turns round the middle, in steps where asked to, and names angles between -180 and 180', () => {
    for (const kind of ['planar', 'elliptical', 'iris'] as const) {
      const grip = kind === 'planar' ? 'turn-end' : 'turn';
      const turn = (to: Spot, stepped = false): number =>
        (dragged(BANDS[kind](0), grip, { x: 900, y: 400 }, to, { stepped }) as { angle: number }).angle;
      expect(turn({ x: 600 + 212, y: 400 + 212 })).toBeCloseTo(45, 6);
      expect(turn({ x: 890, y: 470 }, true)).toBe(15);
    }
    expect([190, -190, 360, 540].map(normalAngle)).toEqual([-170, 170, 0, -180]);
    const straight = dragged(
      BANDS.linear(),
      'end',
      { x: 720, y: 240 },
      { x: 730, y: 470 },
      { stepped: true },
    );
    if (straight.kind === 'linear') expect(straight.end[1]).toBeCloseTo(0.6, 6);
  });

  it('never makes a length negative, and moves together what is linked', () => {
    const planar = BANDS.planar(0);
    const inwards = dragged(planar, 'near-clear', { x: 600, y: 500 }, { x: 600, y: 100 });
    expect(inwards).toMatchObject({ near: { clear: 0 } });
    const both = dragged(planar, 'far-outer', { x: 600, y: 300 }, { x: 600, y: 200 }, { linked: true });
    if (both.kind === 'planar') expect(both.near).toEqual(both.far);
    const blades = BANDS.iris(0);
    const from = gripAt(blades, 'falloff-2');
    const wide = dragged(blades, 'falloff-2', from, { x: from.x, y: from.y + 50 }, { linked: true });
    if (wide.kind === 'iris') expect(new Set(wide.falloff.map((v) => v.toFixed(9))).size).toBe(1);
    const gone = dragged(blades, 'falloff-2', from, gripAt(blades, 'centre'));
    if (gone.kind === 'iris') expect([gone.falloff[2], gone.falloff[3]]).toEqual([0, 0.8]);
  });

  it('by the arrow keys stays a valid band, grip by grip', () => {
    for (const kind of ['planar', 'linear', 'elliptical', 'iris'] as const) {
      const band = BANDS[kind](10);
      for (const { id } of handlesOf(band).grips(band, size, everywhere)) {
        const moved = structuredClone(band);
        handlesOf(band).nudge(moved, size, id, 10, 0, false);
        expect(bandSchema.safeParse(moved).success, id).toBe(true);
        expect(moved, id).not.toEqual(band);
      }
    }
  });
});

describe('placing a band', () => {
  const place = (kind: Band['kind'], to: [number, number]): Band =>
    bandFromDrag(kind, [0.4, 0.5], to, size, 'x');
  it('follows the drag; a click gives a good size', () => {
    expect(place('planar', [0.6, 0.8])).toMatchObject({ centre: [0.4, 0.5], angle: expect.closeTo(45) });
    expect(place('planar', [0.2, 0.5])).toMatchObject({ angle: 0 });
    expect(place('linear', [0.6, 0.2])).toMatchObject({ start: [0.4, 0.5], end: [0.6, 0.2] });
    expect(place('elliptical', [0.5, 0.6])).toMatchObject({
      radii: [expect.closeTo(120 / d), expect.closeTo(80 / d)],
    });
    expect(place('iris', [0.4, 0.7])).toMatchObject({ radius: expect.closeTo(160 / d), angle: 90 });
    for (const kind of ['planar', 'linear', 'elliptical', 'iris'] as const)
      expect(place(kind, [0.4, 0.5])).toEqual(bandFromDrag(kind, [0.4, 0.5], [0.401, 0.5], size, 'x'));
  });

  it('gives names that tell bands of a kind apart', () => {
    const bands = [
      bandOf({ kind: 'planar' }),
      { ...bandOf({ kind: 'iris' }), id: 'b' },
      { ...bandOf({ kind: 'planar' }), id: 'c' },
    ];
    const focus = { bands } as Focus;
    expect(bands.map((one) => bandName(one, focus))).toEqual(['Planar 1', 'Iris 1', 'Planar 2']);
  });
});

describe('the profile rail', () => {
  const custom = { knots: [[0.3, 0.1], [0.7, 0.6]] }; // prettier-ignore
  it('has its knots on the profile, for every kind and direction', () => {
    for (const kind of ['planar', 'linear', 'elliptical', 'iris'] as const)
      for (const turn of [0, 30, 120, -160])
        for (const more of [{}, { invert: true }, { profile: custom }]) {
          const band = bandSchema.parse({ ...BANDS[kind](turn), ...more });
          const axis = railAxis(band, size, turn - 40);
          const own = ownAlong(band, size, axis);
          const knots = railKnots(band, size, axis);
          expect(knots.length).toBeGreaterThan(1);
          for (const knot of knots)
            expect(own(knot.along), `${kind} ${turn} ${knot.id}`).toBeCloseTo(knot.haze, 4);
          expect(axis.direction.y).toBeGreaterThanOrEqual(-1e-9);
          const [first, last] = axisExtent(axis, size);
          expect(last - first).toBeGreaterThan(700);
        }
  });

  it('moves a knot where the hand goes', () => {
    for (const kind of ['planar', 'linear', 'elliptical', 'iris'] as const) {
      const start = bandSchema.parse({ ...BANDS[kind](0), profile: custom });
      const axis = railAxis(start, size, 90);
      for (const knot of railKnots(start, size, axis)) {
        const band = structuredClone(start);
        const outwards = Math.sign(knot.along) || 1;
        moveKnot(band, start, size, axis, { id: knot.id, along: 12 * outwards, haze: 0, linked: false });
        const now = railKnots(band, size, railAxis(band, size, 90)).find(({ id }) => id === knot.id)!;
        expect(bandSchema.safeParse(band).success).toBe(true);
        // The start of a gradient carries the axis' origin with it.
        const moved = kind === 'linear' && knot.id === 'from' ? 0 : 12 * outwards;
        expect(now.along - knot.along, `${kind} ${knot.id}`).toBeCloseTo(moved, 4);
      }
    }
  });

  it('takes knots in and out of the profile, and never lets it fall', () => {
    const band = planarBandSchema.parse({ id: 'a', kind: 'planar' });
    const axis = railAxis(band, size, 90);
    expect(addKnot(band, size, axis, 10, 0.5)).toBe(false);
    expect(addKnot(band, size, axis, 0.15 * d, 0.9)).toBe(true);
    const { profile } = planarBandSchema.parse(band);
    expect(typeof profile === 'string' ? [] : profile.knots).toHaveLength(5);
    const knots = railKnots(band, size, axis).filter(({ own, side }) => own && side === 'near');
    moveKnot(band, structuredClone(band), size, axis, {
      id: knots[1]!.id,
      along: 400,
      haze: 1,
      linked: false,
    });
    expect(planarBandSchema.safeParse(band).success).toBe(true);
    for (let i = 0; i < 5; i++) removeKnot(band, 'near-knot-0');
    expect(band.profile).toBe('linear');
  });
});
