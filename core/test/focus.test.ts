import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  StripRenderer,
  createMemory,
  diagonal,
  hazeField,
  instantiateKernels,
  planRender,
  profileAt,
  profilePieces,
} from '../src/index';
import { kernelModule, recipe } from './harness';

const unit = fc.double({ min: 0, max: 1, noNaN: true });
const side = fc.record({
  clear: fc.double({ min: 0, max: 0.4, noNaN: true }),
  falloff: fc.oneof(fc.constant(0), fc.double({ min: 0.01, max: 1, noNaN: true })),
  haze: unit,
});
const profile = fc.oneof(
  fc.constantFrom('linear', 'smooth', 'late', 'early'),
  fc.uniqueArray(fc.integer({ min: 1, max: 99 }), { minLength: 1, maxLength: 5 }).chain((us) =>
    fc.array(unit, { minLength: us.length, maxLength: us.length }).map((ps) => {
      const sorted = [...ps].sort((a, b) => a - b);
      return { knots: [...us].sort((a, b) => a - b).map((u, i) => [u / 100, sorted[i]!]) };
    }),
  ),
);
const band = fc.record({
  kind: fc.constant('planar'),
  on: fc.boolean(),
  mode: fc.constantFrom('clear', 'haze'),
  invert: fc.boolean(),
  centre: fc.tuple(unit, unit),
  angle: fc.double({ min: -360, max: 360, noNaN: true }),
  profile,
  near: side,
  far: side,
});

/** The formulas of the recipe, written out once more. */
function formula(
  focus: ReturnType<typeof recipe>['focus'],
  w: number,
  h: number,
  x: number,
  y: number,
): number {
  const d = Math.sqrt(w * w + h * h);
  let H = focus.rest;
  for (const b of focus.bands) {
    if (!b.on) continue;
    const a = (b.angle / 180) * Math.PI;
    const s = ((x - b.centre[0] * w) * -Math.sin(a) + (y - b.centre[1] * h) * Math.cos(a)) / d;
    const one = s >= 0 ? b.near : b.far;
    const u =
      one.falloff === 0
        ? Math.abs(s) > one.clear
          ? 1
          : 0
        : Math.min(1, Math.max(0, (Math.abs(s) - one.clear) / one.falloff));
    const named: Record<string, number> = {
      linear: u,
      smooth: u * u * (3 - 2 * u),
      late: u * u,
      early: 1 - (1 - u) ** 2,
    };
    const p = typeof b.profile === 'string' ? named[b.profile]! : profileAt(profilePieces(b.profile), u);
    const own = b.invert ? one.haze - one.haze * p : one.haze * p;
    H = b.mode === 'clear' ? Math.min(H, own) : Math.max(H, own);
  }
  return H;
}

describe('the haze field', () => {
  it('of random bands agrees with the formulas, in the kernel and at a point', async () => {
    const [width, height] = [53, 37];
    const region = { x: 0, y: 0, width, height, picture: { width, height } };
    const plan = planRender({
      region,
      format: { channels: 3, bytes: 1 },
      maxSigma: 0,
      workers: 1,
      stripRows: height,
    });
    const memory = createMemory(plan.bytes);
    const strips = new StripRenderer(await instantiateKernels(kernelModule, memory), plan, memory, 0);
    fc.assert(
      fc.property(fc.array(band, { maxLength: 6 }), unit, (bands, rest) => {
        const how = recipe({ focus: { rest, bands: bands.map((b, i) => ({ ...b, id: `b${i}` })) } });
        strips.renderStrip(how, 0, height, 'haze16');
        const map = new Uint16Array(memory.buffer, plan.output, width * height);
        const field = hazeField(how.focus, region);
        for (let y = 0; y < height; y += 3) {
          for (let x = 0; x < width; x++) {
            const exact = formula(how.focus, width, height, x + 0.5, y + 0.5);
            const point = field(x + 0.5, y + 0.5);
            // A falloff of zero is a step: single precision may fall on its other side within a hair of the edge.
            const nearStep = how.focus.bands.some((b) => [b.near, b.far].some((s) => s.falloff < 0.01));
            if (!nearStep) expect(Math.abs(map[y * width + x]! / 65535 - exact)).toBeLessThan(1e-3);
            expect(Math.abs(point - exact)).toBeLessThan(1e-9);
          }
        }
      }),
      { numRuns: 60 },
    );
  });

  it('is the same on a small and on a large picture', () => {
    const how = recipe({ focus: { bands: [{ id: 'a', kind: 'planar', angle: 17, centre: [0.4, 0.6] }] } });
    const small = { width: 300, height: 200 };
    const large = { width: 6000, height: 4000 };
    expect(diagonal(large)).toBeCloseTo(20 * diagonal(small));
    for (let i = 0; i < 50; i++) {
      const [x, y] = [(i * 37) % 300, (i * 91) % 200];
      expect(hazeField(how.focus, small)(x, y)).toBeCloseTo(hazeField(how.focus, large)(x * 20, y * 20), 10);
    }
  });

  it('with the step switched off is the same everywhere', () => {
    const how = recipe({ focus: { on: false, rest: 0.7, bands: [{ id: 'a', kind: 'planar' }] } });
    expect(hazeField(how.focus, { width: 10, height: 10 })(5, 5)).toBe(0.7);
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
