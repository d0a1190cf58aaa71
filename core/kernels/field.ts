// The haze field, a row at a time. Rows are padded to whole vectors.

export function fillHazeRow(out: usize, n: i32, rest: f32): void {
  for (let x: usize = 0, end = (<usize>n) << 2; x < end; x += 16) v128.store(out + x, f32x4.splat(rest));
}

/**
 * One band over a row of distances s: read from `distances`, or where that is 0 even along the row, `start` + x `step`.
 * `band` points to floats: for s >= 0 and then for s < 0: clear, rate, haze at u = 0, change of haze to u = 1;
 * 8 haze mode (0 or 1), 9 number of profile pieces, then five floats a piece: start, and the cubic's four coefficients
 * in u - start. u = clamp((|s| - clear) x rate).
 */
export function bandRow(out: usize, n: i32, distances: usize, start: f32, step: f32, band: usize): void {
  const nearClear = v128.load32_splat(band);
  const nearRate = v128.load32_splat(band, 4);
  const nearFrom = v128.load32_splat(band, 8);
  const nearBy = v128.load32_splat(band, 12);
  const farClear = v128.load32_splat(band, 16);
  const farRate = v128.load32_splat(band, 20);
  const farFrom = v128.load32_splat(band, 24);
  const farBy = v128.load32_splat(band, 28);
  const hazes = load<f32>(band, 32) != 0;
  const pieces = <i32>load<f32>(band, 36);
  const c0 = v128.load32_splat(band, 44);
  const c1 = v128.load32_splat(band, 48);
  const c2 = v128.load32_splat(band, 52);
  const c3 = v128.load32_splat(band, 56);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const first = f32x4.splat(start);
  const by = f32x4.splat(step);
  const isEven = distances == 0;
  let column = f32x4(0, 1, 2, 3);
  for (let at = out, end = out + (<usize>n << 2); at < end; at += 16) {
    let s: v128;
    if (isEven) {
      s = f32x4.add(first, f32x4.mul(column, by));
      column = f32x4.add(column, f32x4.splat(4));
    } else {
      s = v128.load(distances);
      distances += 16;
    }
    const near = f32x4.ge(s, zero);
    const clear = v128.bitselect(nearClear, farClear, near);
    const rate = v128.bitselect(nearRate, farRate, near);
    const u = f32x4.pmin(f32x4.pmax(f32x4.mul(f32x4.sub(f32x4.abs(s), clear), rate), zero), one);
    // The first piece starts at 0.
    let p = f32x4.add(c0, f32x4.mul(u, f32x4.add(c1, f32x4.mul(u, f32x4.add(c2, f32x4.mul(u, c3))))));
    for (let k = 1; k < pieces; k++) {
      const piece = band + 40 + <usize>(k * 20);
      const from = v128.load32_splat(piece);
      const d = f32x4.sub(u, from);
      let q = v128.load32_splat(piece, 16);
      q = f32x4.add(f32x4.mul(q, d), v128.load32_splat(piece, 12));
      q = f32x4.add(f32x4.mul(q, d), v128.load32_splat(piece, 8));
      q = f32x4.add(f32x4.mul(q, d), v128.load32_splat(piece, 4));
      p = v128.bitselect(q, p, f32x4.ge(u, from));
    }
    p = f32x4.pmin(f32x4.pmax(p, zero), one);
    const h = f32x4.add(v128.bitselect(nearFrom, farFrom, near), f32x4.mul(v128.bitselect(nearBy, farBy, near), p));
    const field = v128.load(at);
    v128.store(at, hazes ? f32x4.pmax(field, h) : f32x4.pmin(field, h));
  }
}

/** Distances from a centre: sqrt(p^2 + q^2), where p and q begin at (p0, q0) and grow evenly along the row. */
export function ellipseDistanceRow(out: usize, n: i32, p0: f32, pStep: f32, q0: f32, qStep: f32): void {
  let column = f32x4(0, 1, 2, 3);
  for (let at = out, end = out + (<usize>n << 2); at < end; at += 16) {
    const p = f32x4.add(f32x4.splat(p0), f32x4.mul(column, f32x4.splat(pStep)));
    const q = f32x4.add(f32x4.splat(q0), f32x4.mul(column, f32x4.splat(qStep)));
    column = f32x4.add(column, f32x4.splat(4));
    v128.store(at, f32x4.sqrt(f32x4.add(f32x4.mul(p, p), f32x4.mul(q, q))));
  }
}

/** The angle of (p, q) in -pi..pi; atan as a polynomial, error below 1e-6. */
// @ts-ignore: decorator
@inline
function angleOf(p: v128, q: v128): v128 {
  const ap = f32x4.abs(p);
  const aq = f32x4.abs(q);
  const a = f32x4.div(f32x4.pmin(ap, aq), f32x4.pmax(f32x4.pmax(ap, aq), f32x4.splat(1e-30)));
  const z = f32x4.mul(a, a);
  let t = f32x4.splat(-0.00407331);
  t = f32x4.add(f32x4.mul(t, z), f32x4.splat(0.02194661));
  t = f32x4.add(f32x4.mul(t, z), f32x4.splat(-0.05606318));
  t = f32x4.add(f32x4.mul(t, z), f32x4.splat(0.09656256));
  t = f32x4.add(f32x4.mul(t, z), f32x4.splat(-0.13915802));
  t = f32x4.add(f32x4.mul(t, z), f32x4.splat(0.19948509));
  t = f32x4.add(f32x4.mul(t, z), f32x4.splat(-0.33330107));
  t = f32x4.mul(f32x4.add(f32x4.mul(t, z), f32x4.splat(0.99999944)), a);
  t = v128.bitselect(f32x4.sub(f32x4.splat(1.57079633), t), t, f32x4.gt(aq, ap));
  t = v128.bitselect(f32x4.sub(f32x4.splat(3.14159265), t), t, f32x4.lt(p, f32x4.splat(0)));
  return v128.bitselect(f32x4.neg(t), t, f32x4.lt(q, f32x4.splat(0)));
}

/** Cubics of four floats each, from `pieces` on: the one of each lane's `index`, at `d` of its piece. */
// @ts-ignore: decorator
@inline
function cubicOf(pieces: usize, index: v128, d: v128): v128 {
  const i0 = pieces + (<usize>i32x4.extract_lane(index, 0) << 4);
  const i1 = pieces + (<usize>i32x4.extract_lane(index, 1) << 4);
  const i2 = pieces + (<usize>i32x4.extract_lane(index, 2) << 4);
  const i3 = pieces + (<usize>i32x4.extract_lane(index, 3) << 4);
  let value = f32x4(load<f32>(i0, 12), load<f32>(i1, 12), load<f32>(i2, 12), load<f32>(i3, 12));
  value = f32x4.add(f32x4.mul(value, d), f32x4(load<f32>(i0, 8), load<f32>(i1, 8), load<f32>(i2, 8), load<f32>(i3, 8)));
  value = f32x4.add(f32x4.mul(value, d), f32x4(load<f32>(i0, 4), load<f32>(i1, 4), load<f32>(i2, 4), load<f32>(i3, 4)));
  return f32x4.add(f32x4.mul(value, d), f32x4(load<f32>(i0), load<f32>(i1), load<f32>(i2), load<f32>(i3)));
}

/**
 * Distances of an iris: (rho - 1) / falloff(theta), see `focus/bands/iris.ts`. `rim` points to floats: sides / 2 pi,
 * pi / sides, (1 - roundness) cos(pi / sides), roundness, 1 where the outline is pulled (else 0) and three of no account,
 * then the four coefficients of the falloff in each eighth, and those of the outline.
 */
export function irisDistanceRow(out: usize, n: i32, p0: f32, pStep: f32, q0: f32, qStep: f32, rim: usize): void {
  const corners = v128.load32_splat(rim);
  const half = v128.load32_splat(rim, 4);
  const straight = v128.load32_splat(rim, 8);
  const round = v128.load32_splat(rim, 12);
  const pulled = load<f32>(rim, 16) != 0;
  const one = f32x4.splat(1);
  let column = f32x4(0, 1, 2, 3);
  for (let at = out, end = out + (<usize>n << 2); at < end; at += 16) {
    const p = f32x4.add(f32x4.splat(p0), f32x4.mul(column, f32x4.splat(pStep)));
    const q = f32x4.add(f32x4.splat(q0), f32x4.mul(column, f32x4.splat(qStep)));
    column = f32x4.add(column, f32x4.splat(4));
    const theta = angleOf(p, q);
    const m = f32x4.mul(theta, corners);
    const within = f32x4.sub(m, f32x4.floor(m));
    const turn = f32x4.mul(f32x4.sub(f32x4.add(within, within), one), half);
    const z = f32x4.mul(turn, turn);
    let cosine = f32x4.splat(2.40724563e-5);
    cosine = f32x4.add(f32x4.mul(cosine, z), f32x4.splat(-1.38821488e-3));
    cosine = f32x4.add(f32x4.mul(cosine, z), f32x4.splat(4.16664173e-2));
    cosine = f32x4.add(f32x4.mul(cosine, z), f32x4.splat(-0.49999997));
    cosine = f32x4.add(f32x4.mul(cosine, z), one);
    let reach = f32x4.add(f32x4.div(straight, cosine), round);
    let eighth = f32x4.mul(theta, f32x4.splat(1.27323954));
    eighth = v128.bitselect(f32x4.add(eighth, f32x4.splat(8)), eighth, f32x4.lt(eighth, f32x4.splat(0)));
    const floor = f32x4.floor(eighth);
    const d = f32x4.sub(eighth, floor);
    const index = v128.and(i32x4.trunc_sat_f32x4_s(floor), i32x4.splat(7));
    const falloff = cubicOf(rim + 32, index, d);
    if (pulled) reach = f32x4.mul(reach, cubicOf(rim + 160, index, d));
    const rho = f32x4.div(f32x4.sqrt(f32x4.add(f32x4.mul(p, p), f32x4.mul(q, q))), reach);
    v128.store(at, f32x4.div(f32x4.sub(rho, one), f32x4.pmax(falloff, f32x4.splat(1e-7))));
  }
}

/**
 * The field through soundings, see `focus/soundings.ts`; x, y and step are fractions of the diagonal. Two soundings
 * share a division: 1/a + 1/b = (a + b) / (a b).
 */
export function soundingsRow(out: usize, n: i32, x: f32, step: f32, y: f32, list: usize, count: i32, softening: f32): void {
  let place = f32x4.add(f32x4.splat(x), f32x4.mul(f32x4(0, 1, 2, 3), f32x4.splat(step)));
  const last = list + <usize>count * 12;
  for (let at = out, end = out + (<usize>n << 2); at < end; at += 16) {
    let sum = f32x4.splat(0);
    let total = f32x4.splat(0);
    let spot = list;
    for (; spot + 12 < last; spot += 24) {
      const dx = f32x4.sub(place, v128.load32_splat(spot));
      const ex = f32x4.sub(place, v128.load32_splat(spot, 12));
      const dy = y - load<f32>(spot, 4);
      const ey = y - load<f32>(spot, 16);
      const a = f32x4.add(f32x4.mul(dx, dx), f32x4.splat(dy * dy + softening));
      const b = f32x4.add(f32x4.mul(ex, ex), f32x4.splat(ey * ey + softening));
      const inverse = f32x4.div(f32x4.splat(1), f32x4.mul(a, b));
      const both = f32x4.add(f32x4.mul(b, v128.load32_splat(spot, 8)), f32x4.mul(a, v128.load32_splat(spot, 20)));
      sum = f32x4.add(sum, f32x4.mul(inverse, both));
      total = f32x4.add(total, f32x4.mul(inverse, f32x4.add(a, b)));
    }
    if (spot < last) {
      const dx = f32x4.sub(place, v128.load32_splat(spot));
      const dy = y - load<f32>(spot, 4);
      const weight = f32x4.div(f32x4.splat(1), f32x4.add(f32x4.mul(dx, dx), f32x4.splat(dy * dy + softening)));
      sum = f32x4.add(sum, f32x4.mul(weight, v128.load32_splat(spot, 8)));
      total = f32x4.add(total, weight);
    }
    v128.store(at, f32x4.div(sum, total));
    place = f32x4.add(place, f32x4.splat(4 * step));
  }
}

/*
 * Where a depth map is in force the last bits of a pixel's haze say on which side of the depth in focus it lies. NEAR:
 * nearer, and hazy for that. KEPT: nearer, but kept clear by what bands, strokes or mattes say; where that left no haze
 * at all it is minus 0, which counts as none everywhere.
 */
const NEAR: i32 = 1;
const KEPT: i32 = 2;
const KEPT_CLEAR: i32 = 0x80000000;

/** Marks haze as the depth map had it: what is nearer than the depth in focus, by n signed distances from it (more is nearer). */
export function flagForegroundRow(haze: usize, distances: usize, n: i32): void {
  const clear = i32x4.splat(~(NEAR | KEPT));
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) {
    const value = v128.load(haze + x);
    const near = v128.and(f32x4.gt(v128.load(distances + x), f32x4.splat(0)), f32x4.gt(value, f32x4.splat(0)));
    v128.store(haze + x, v128.or(v128.and(value, clear), v128.and(near, i32x4.splat(NEAR))));
  }
}

/** Takes all marks away from n pixels of haze. */
export function clearForegroundFlags(haze: usize, n: i32): void {
  const clear = i32x4.splat(~(NEAR | KEPT));
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) v128.store(haze + x, v128.and(v128.load(haze + x), clear));
}

/** Carries the marks of n pixels of haze as the depth map had it over to what bands, strokes and mattes made of it. */
export function copyForegroundFlags(haze: usize, base: usize, n: i32): void {
  const clear = i32x4.splat(~(NEAR | KEPT));
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) {
    const value = v128.load(haze + x);
    const before = v128.load(base + x);
    const near = i32x4.eq(v128.and(before, i32x4.splat(NEAR)), i32x4.splat(NEAR));
    const kept = f32x4.lt(f32x4.add(value, value), before);
    const keep = v128.bitselect(i32x4.splat(KEPT_CLEAR), i32x4.splat(KEPT), f32x4.eq(value, f32x4.splat(0)));
    const mark = v128.bitselect(keep, i32x4.splat(NEAR), kept);
    v128.store(haze + x, v128.or(v128.and(value, clear), v128.and(near, mark)));
  }
}

/** Widens [least, most] at `range` to the haze of those of n pixels that are marked as near. */
export function foregroundHazeRange(haze: usize, n: i32, range: usize): void {
  let least = load<f32>(range);
  let most = load<f32>(range, 4);
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 4) {
    if ((load<i32>(haze + x) & NEAR) == 0) continue;
    const value = load<f32>(haze + x);
    least = min(least, value);
    most = max(most, value);
  }
  store<f32>(range, least);
  store<f32>(range, most, 4);
}

/** What `copyHazeRow` finds: the haze is not what was kept; there is haze at all. */
const CHANGED: i32 = 1;
const HAZY: i32 = 2;

/** Copies n floats of haze to `kept`, and says whether that changed anything there (1) and whether any is above 0 (2). */
export function copyHazeRow(haze: usize, kept: usize, n: i32): i32 {
  let same = i32x4.splat(-1);
  let hazy = i32x4.splat(0);
  const zero = f32x4.splat(0);
  // What stands behind the last pixel must not count.
  const whole = <usize>(n & ~3) << 2;
  for (let x: usize = 0; x < whole; x += 16) {
    const value = v128.load(haze + x);
    same = v128.and(same, i32x4.eq(value, v128.load(kept + x)));
    hazy = v128.or(hazy, f32x4.gt(value, zero));
    v128.store(kept + x, value);
  }
  let changed = !i32x4.all_true(same);
  let any = v128.any_true(hazy);
  for (let x = whole, end = <usize>n << 2; x < end; x += 4) {
    const value = load<f32>(haze + x);
    if (reinterpret<i32>(value) != load<i32>(kept + x)) changed = true;
    if (value > 0) any = true;
    store<f32>(kept + x, value);
  }
  return (changed ? CHANGED : 0) | (any ? HAZY : 0);
}

/** Pixels that share one span of blur levels, see `levelRow`. */
const SEGMENT: i32 = 64;

/**
 * Haze to blur level: variance v = (haze x scale)^2 in units of the first level's.
 * Below 1 the level is v itself; above, 1 + log2 v made of straight pieces, which is how a float's bits read as a
 * number. So between two levels the weight is linear in the variance. `spans` gets, for each 64 pixels, the lowest and
 * the highest level that they read (two words); none is above `top`, whatever stands behind the last pixel.
 */
export function levelRow(haze: usize, out: usize, n: i32, scale: f32, top: f32, spans: usize): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  for (let x0: i32 = 0; x0 < n; x0 += SEGMENT) {
    const x1 = min(x0 + SEGMENT, n);
    let low = f32x4.splat(top);
    let high = zero;
    for (let x = x0; x < x1; x += 4) {
      const at = <usize>x << 2;
      const sigma = f32x4.mul(f32x4.pmax(zero, v128.load(haze + at)), f32x4.splat(scale));
      const v = f32x4.mul(sigma, sigma);
      const steps = f32x4.convert_i32x4_s(i32x4.sub(v, i32x4.splat(0x3f800000)));
      const above = f32x4.add(one, f32x4.mul(steps, f32x4.splat(1.0 / 8388608.0)));
      const level = f32x4.pmin(f32x4.splat(top), v128.bitselect(v, above, f32x4.lt(v, one)));
      low = f32x4.pmin(low, level);
      high = f32x4.pmax(high, level);
      v128.store(out + at, level);
    }
    store<i32>(spans, <i32>floor(min(min(f32x4.extract_lane(low, 0), f32x4.extract_lane(low, 1)), min(f32x4.extract_lane(low, 2), f32x4.extract_lane(low, 3)))));
    store<i32>(spans, <i32>ceil(max(max(f32x4.extract_lane(high, 0), f32x4.extract_lane(high, 1)), max(f32x4.extract_lane(high, 2), f32x4.extract_lane(high, 3)))), 4);
    spans += 8;
  }
}

/** Haze to pixels through a ramp of 1024 colours (four bytes each): `channels` samples of 8 or 16 bits. */
export function hazeMapRow(haze: usize, n: i32, ramp: usize, out: usize, channels: i32, bytes: i32): void {
  for (let x: usize = 0; x < <usize>n; x++) {
    const h = min(max(load<f32>(haze + (x << 2)), <f32>0), <f32>1);
    const colour = ramp + ((<usize>(h * 1023 + 0.5)) << 2);
    for (let c = 0; c < channels; c++) {
      const value = load<u8>(colour + c);
      if (bytes == 1) store<u8>(out, value);
      else store<u16>(out, <u16>value * 257);
      out += bytes;
    }
  }
}

/** Haze to 16-bit samples: 65535 is haze 1. */
export function haze16Row(haze: usize, n: i32, out: usize): void {
  for (let x: usize = 0; x < <usize>n; x++)
    store<u16>(out + (x << 1), <u16>(min(max(load<f32>(haze + (x << 2)), <f32>0), <f32>1) * 65535 + 0.5));
}
