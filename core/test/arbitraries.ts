// Random parts of a focus, within what a recipe may hold.
import fc from 'fast-check';
import { keepMaskFrom, makeRaster } from '../src/index';

/** Numbers spread evenly, and now and then one of the ends or very near to it (plain doubles crowd round zero). */
export function between(min: number, max: number): fc.Arbitrary<number> {
  const even = fc.integer({ min: 0, max: 1_000_000 }).map((i) => min + ((max - min) * i) / 1_000_000);
  const edge = fc.constantFrom(min, max, min + (max - min) * 1e-7, max - (max - min) * 1e-7);
  return fc.oneof({ arbitrary: even, weight: 9 }, { arbitrary: edge, weight: 1 });
}

export const unit = between(0, 1);
const point = fc.tuple(unit, unit);
/** A falloff of almost nothing is a step, whose two sides single precision tells apart only to within a hair. */
const side = fc.record({ clear: between(0, 0.4), falloff: between(0.02, 1), haze: unit });
const ratio = between(0.1, 4);

export const profile = fc.oneof(
  fc.constantFrom('linear', 'smooth', 'late', 'early'),
  fc.uniqueArray(fc.integer({ min: 1, max: 99 }), { minLength: 1, maxLength: 5 }).chain((us) =>
    fc.array(fc.integer({ min: 0, max: 100 }), { minLength: us.length, maxLength: us.length }).map((ps) => {
      const sorted = [...ps].sort((a, b) => a - b);
      return { knots: [...us].sort((a, b) => a - b).map((u, i) => [u / 100, sorted[i]! / 100]) };
    }),
  ),
);

const common = {
  on: fc.boolean(),
  mode: fc.constantFrom('clear', 'haze'),
  invert: fc.boolean(),
  profile,
};
const angle = between(-360, 360);
const planarBand = fc.record({
  ...common,
  kind: fc.constant('planar'),
  centre: point,
  angle,
  near: side,
  far: side,
});
export const linearBand = fc
  .record({
    ...common,
    kind: fc.constant('linear'),
    start: point,
    end: point,
    startHaze: unit,
    endHaze: unit,
  })
  .filter(({ start, end }) => Math.hypot(start[0] - end[0], start[1] - end[1]) > 0.05);
const ellipticalBand = fc.record({
  ...common,
  kind: fc.constant('elliptical'),
  centre: point,
  radii: fc.tuple(between(0.02, 3), between(0.02, 3)),
  angle,
  falloff: ratio,
  innerHaze: unit,
  haze: unit,
});
export const irisBand = fc.record({
  ...common,
  kind: fc.constant('iris'),
  centre: point,
  radius: between(0.03, 1),
  aspect: between(0.3, 3),
  angle,
  sides: fc.integer({ min: 3, max: 12 }),
  roundness: unit,
  outline: fc.oneof(
    fc.constant([1, 1, 1, 1, 1, 1, 1, 1] as const),
    fc.tuple(ratio, ratio, ratio, ratio, ratio, ratio, ratio, ratio),
  ),
  falloff: fc.tuple(ratio, ratio, ratio, ratio, ratio, ratio, ratio, ratio),
  innerHaze: unit,
  haze: unit,
});
export const band = fc.oneof(planarBand, linearBand, ellipticalBand, irisBand);

export const stroke = fc.record({
  mode: fc.constantFrom('clear', 'haze', 'erase'),
  radius: between(0.02, 0.3),
  softness: between(0.1, 1),
  strength: unit,
  pressure: fc.constantFrom('none', 'size', 'strength'),
  points: fc.array(fc.oneof(point, fc.tuple(unit, unit, between(0.3, 1))), { minLength: 1, maxLength: 5 }),
});

const lines = fc.array(fc.oneof(point, fc.tuple(unit, unit, unit)), { minLength: 1, maxLength: 4 });
const name = fc.string({ maxLength: 80 });

export const depthMap = fc.record(
  {
    image: fc.constant('depth.png'),
    on: fc.boolean(),
    focus: unit,
    clear: between(0, 0.6),
    falloff: between(0.05, 4),
    nearFalloff: between(0.05, 4),
    haze: unit,
    swap: fc.boolean(),
    invert: fc.boolean(),
    profile,
    align: unit,
  },
  { requiredKeys: ['image', 'focus', 'clear', 'falloff', 'haze'] },
);

/** Where a thing was carried to: anywhere, or at rest. */
export const carry = fc.record(
  { shift: fc.tuple(between(-1, 1), between(-1, 1)), turn: angle, scale: between(0.3, 3) },
  { requiredKeys: [] },
);

export const matte = fc.record({
  carry,
  image: fc.constant('matte.png'),
  name,
  on: fc.boolean(),
  combine: fc.constantFrom('add', 'subtract'),
  invert: fc.boolean(),
  grow: between(-0.2, 0.2),
  feather: between(0, 0.2),
  as: fc.constantFrom('clear', 'standing'),
  foot: fc.option(point),
  scribbles: fc.array(fc.record({ inside: fc.boolean(), radius: between(0, 4), points: lines }), {
    maxLength: 2,
  }),
});

const withIds = <T extends object>(list: readonly T[], letter: string) =>
  list.map((one, i) => ({ ...one, id: `${letter}${i}` }));

/** Every field of a focus, within what a recipe may hold. */
export const focus = fc
  .record(
    {
      on: fc.boolean(),
      rest: unit,
      soundingsOn: fc.boolean(),
      soundings: fc.array(fc.record({ at: point, haze: unit }), { maxLength: 8 }),
      depthMap,
      bands: fc.array(band, { maxLength: 6 }),
      strokesOn: fc.boolean(),
      strokes: fc.array(stroke, { maxLength: 3 }),
      strokesCarry: carry,
      mattes: fc.array(matte, { maxLength: 2 }),
    },
    { requiredKeys: ['rest', 'soundings', 'bands', 'strokes'] },
  )
  .map((parts) => ({
    ...parts,
    bands: withIds(parts.bands, 'b'),
    ...(parts.mattes && { mattes: withIds(parts.mattes, 'm') }),
  }));

/** What a depth map and the mattes, together or each by itself, are as grey pictures of any small size. */
export const focusPictures = fc
  .record({ width: fc.integer({ min: 1, max: 9 }), height: fc.integer({ min: 1, max: 9 }) })
  .chain(({ width, height }) => {
    const grey = (id: string) =>
      fc
        .array(fc.integer({ min: 0, max: 65535 }), { minLength: width * height, maxLength: width * height })
        .map((samples) => makeRaster(`${id} ${samples.join()}`, width, height, Uint16Array.from(samples)));
    const apart = (matte: string) =>
      fc.record({
        raster: grey(matte),
        combine: fc.constantFrom('add' as const, 'subtract' as const),
        matte: fc.constant(matte),
      });
    const keep = fc.oneof(fc.option(grey('keep')).map(keepMaskFrom), fc.tuple(apart('m0'), apart('m1')));
    return fc.record({ depth: fc.option(grey('depth')), keep });
  });
