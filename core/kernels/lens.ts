// Blur by an aperture: discs that are gathered pixel by pixel, by the pair rule. A row has five planes: red, green and
// blue times what the light weighs, that weight, and the radius of each pixel's disc in samples of the row.
import { encode } from './transfer';

/** Samples that share one span of levels, see `levelRow`, and sums down their columns. */
const SEGMENT: i32 = 64;

// @ts-ignore: decorator
@inline
function clamped(x: v128): v128 {
  return f32x4.pmin(f32x4.pmax(f32x4.splat(0), x), f32x4.splat(1));
}

// @ts-ignore: decorator
@inline
function largest(x: v128): f32 {
  return max(max(f32x4.extract_lane(x, 0), f32x4.extract_lane(x, 1)), max(f32x4.extract_lane(x, 2), f32x4.extract_lane(x, 3)));
}

/** What of a picture under a depth map is near is told by the last bit of its haze, see `flagForegroundRow`. */
const NEAR: i32 = 1;

/** How far light counts as clipped: 0 below the threshold of its coded value, 1 at white. */
// @ts-ignore: decorator
@inline
function clippedShare(strongest: v128, threshold: f32): v128 {
  // At a threshold of 1 white itself still counts.
  const from = min(threshold, <f32>0.999);
  const span = f32x4.splat(<f32>1 / (<f32>1 - from));
  const t = clamped(f32x4.mul(f32x4.sub(encode(strongest), f32x4.splat(from)), span));
  return f32x4.mul(f32x4.mul(t, t), f32x4.sub(f32x4.splat(3), f32x4.add(t, t)));
}

/**
 * Gives clipped light of n pixels of three planes of linear light one colour, as bright as it was: that at `colour`, three
 * floats, the strongest 1. How far, say `tint` and how far the light counts as clipped.
 */
export function recolourClippedSpan(row: usize, plane: usize, n: i32, colour: usize, threshold: f32, tint: f32): void {
  for (let at = row, end = row + (<usize>n << 2); at < end; at += 4) {
    const r = load<f32>(at);
    const g = load<f32>(at + plane);
    const b = load<f32>(at + 2 * plane);
    const most = max(r, max(g, b));
    const share = tint * f32x4.extract_lane(clippedShare(f32x4.splat(most), threshold), 0);
    store<f32>(at, r + share * (load<f32>(colour) * most - r));
    store<f32>(at + plane, g + share * (load<f32>(colour, 4) * most - g));
    store<f32>(at + 2 * plane, b + share * (load<f32>(colour, 8) * most - b));
  }
}

/**
 * Linear light in the first three planes to a lens row, in place. Light whose strongest channel codes to `threshold` or
 * more is multiplied by up to 1 + `more`; that grows in over the first pixels of radius. Weight: 1 / max(1/4, r^2). With `nearOnly`
 * what is not near weighs nothing.
 */
export function packDiscRow(row: usize, plane: usize, n: i32, haze: usize, radius: f32, threshold: f32, more: f32, nearOnly: bool): void {
  const one = f32x4.splat(1);
  for (let at = row, end = row + (<usize>n << 2); at < end; at += 16, haze += 16) {
    let r = v128.load(at);
    let g = v128.load(at + plane);
    let b = v128.load(at + 2 * plane);
    const disc = f32x4.mul(f32x4.pmax(f32x4.splat(0), v128.load(haze)), f32x4.splat(radius));
    let weight = f32x4.div(one, f32x4.pmax(f32x4.splat(0.25), f32x4.mul(disc, disc)));
    let own = disc;
    if (nearOnly) {
      const near = i32x4.eq(v128.and(v128.load(haze), i32x4.splat(NEAR)), i32x4.splat(NEAR));
      weight = v128.and(weight, near);
      own = v128.and(own, near);
    }
    v128.store(at + 3 * plane, weight);
    v128.store(at + 4 * plane, own);
    if (more > 0) {
      const clipped = clippedShare(f32x4.pmax(r, f32x4.pmax(g, b)), threshold);
      const grown = f32x4.mul(clipped, clamped(f32x4.sub(disc, f32x4.splat(0.5))));
      weight = f32x4.mul(weight, f32x4.add(one, f32x4.mul(grown, f32x4.splat(more))));
    }
    v128.store(at, f32x4.mul(r, weight));
    v128.store(at + plane, f32x4.mul(g, weight));
    v128.store(at + 2 * plane, f32x4.mul(b, weight));
  }
}

/**
 * A lens row to what of it the next smaller level takes, in `out`: discs under half a
 * sample at that level are dropped. The last plane is weight times radius then, so that all five can be added up.
 */
export function prefilterDiscRow(row: usize, plane: usize, out: usize, outPlane: usize, n: i32): void {
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) {
    const at = row + x;
    const to = out + x;
    const disc = v128.load(at + 4 * plane);
    const share = clamped(f32x4.mul(f32x4.sub(disc, f32x4.splat(1)), f32x4.splat(0.5)));
    const weight = f32x4.mul(share, v128.load(at + 3 * plane));
    v128.store(to, f32x4.mul(share, v128.load(at)));
    v128.store(to + outPlane, f32x4.mul(share, v128.load(at + plane)));
    v128.store(to + 2 * outPlane, f32x4.mul(share, v128.load(at + 2 * plane)));
    v128.store(to + 3 * outPlane, weight);
    v128.store(to + 4 * outPlane, f32x4.mul(weight, disc));
  }
}

/** Weight times radius back to the radius, in samples of half as many a row. */
export function unpackDiscRadiusRow(row: usize, plane: usize, n: i32): void {
  for (let at = row, end = row + (<usize>n << 2); at < end; at += 16) {
    const weight = v128.load(at + 3 * plane);
    const sum = v128.load(at + 4 * plane);
    const mean = f32x4.div(sum, f32x4.pmax(weight, f32x4.splat(1e-20)));
    v128.store(at + 4 * plane, f32x4.mul(mean, f32x4.splat(0.5)));
  }
}

/**
 * Haze to the level that a disc is gathered on: from `tops[k]` on, radii go over from level k to k + 1, within a quarter
 * of it. `spans` as in `levelRow`.
 */
export function discLevelRow(haze: usize, out: usize, n: i32, radius: f32, tops: usize, count: i32, spans: usize): void {
  const zero = f32x4.splat(0);
  for (let x0: i32 = 0; x0 < n; x0 += SEGMENT) {
    const x1 = min(x0 + SEGMENT, n);
    let low = f32x4.splat(<f32>count);
    let high = zero;
    for (let x = x0; x < x1; x += 4) {
      const at = <usize>x << 2;
      const disc = f32x4.mul(v128.load(haze + at), f32x4.splat(radius));
      let level = zero;
      for (let k = 0; k < count; k++) {
        const top = load<f32>(tops + (<usize>k << 2));
        level = f32x4.add(level, clamped(f32x4.mul(f32x4.sub(disc, f32x4.splat(top)), f32x4.splat(4 / top))));
      }
      low = f32x4.pmin(low, level);
      high = f32x4.pmax(high, level);
      v128.store(out + at, level);
    }
    store<i32>(spans, <i32>floor(-largest(f32x4.neg(low))));
    store<i32>(spans, <i32>ceil(largest(high)), 4);
    spans += 8;
  }
}

/** Radius of the disc that stands in for a sample's own, where it has none: the largest among its neighbours. */
// @ts-ignore: decorator
@inline
function nextRadius(rows: usize, middle: i32, at: usize, own: v128): v128 {
  let most = f32x4.splat(0);
  for (let dy = -1; dy <= 1; dy++) {
    const row = <usize>load<u32>(rows + (<usize>(middle + dy) << 2)) + at;
    most = f32x4.pmax(most, f32x4.pmax(v128.load(row), f32x4.pmax(v128.load(row - 4), v128.load(row + 4))));
  }
  return v128.bitselect(most, own, f32x4.eq(own, f32x4.splat(0)));
}

/** Sum of one plane over a sample and its eight neighbours. */
// @ts-ignore: decorator
@inline
function sumAround(rows: usize, middle: i32, at: usize): v128 {
  let sum = f32x4.splat(0);
  for (let dy = -1; dy <= 1; dy++) {
    const row = <usize>load<u32>(rows + (<usize>(middle + dy) << 2)) + at;
    sum = f32x4.add(sum, f32x4.add(v128.load(row), f32x4.add(v128.load(row - 4), v128.load(row + 4))));
  }
  return sum;
}

/** Stores sum / weight of a plane; where nothing weighs, what the samples around have. */
// @ts-ignore: decorator
@inline
function putMean(rows: usize, middle: i32, at: usize, plane: usize, weightPlane: usize, to: usize, sum: v128, weight: v128): void {
  const least = f32x4.splat(1e-12);
  const none = f32x4.le(weight, least);
  let mean = f32x4.div(sum, f32x4.pmax(weight, least));
  if (v128.any_true(none)) {
    const around = f32x4.div(sumAround(rows, middle, at + plane), f32x4.pmax(sumAround(rows, middle, at + weightPlane), least));
    mean = v128.bitselect(around, mean, none);
  }
  v128.store(to, mean);
}

/** Cover of a tap by discs of radius `disc`: `scale` is how far the outline lies in the tap's direction, `reach` see `gatherDiscs`. */
// @ts-ignore: decorator
@inline
function cover(disc: v128, scale: v128, reach: v128): v128 {
  return clamped(f32x4.sub(f32x4.mul(disc, scale), reach));
}

/**
 * 1 + rim (2 u^2 - 1), u the tap's distance as a share of the outline's. A disc of a pixel or less has no rim yet: its
 * middle may weigh nothing.
 */
// @ts-ignore: decorator
@inline
function rimmed(disc: v128, gauge: v128, rim: v128): v128 {
  const u = f32x4.div(gauge, f32x4.pmax(disc, f32x4.pmax(gauge, f32x4.splat(1e-6))));
  const bend = f32x4.sub(f32x4.mul(f32x4.add(u, u), u), f32x4.splat(1));
  const grown = f32x4.mul(rim, clamped(f32x4.sub(disc, f32x4.splat(0.5))));
  return f32x4.add(f32x4.splat(1), f32x4.mul(grown, bend));
}

/** Cover of a tap by a disc's second circle; (ox, oy) is the tap's offset, (sx, sy) the shift of the circle in radii. */
// @ts-ignore: decorator
@inline
function cutCover(disc: v128, ox: f32, oy: f32, sx: v128, sy: f32): v128 {
  const x = f32x4.add(f32x4.splat(ox), f32x4.mul(sx, disc));
  const y = f32x4.add(f32x4.splat(oy), f32x4.mul(f32x4.splat(sy), disc));
  const far = f32x4.sqrt(f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y)));
  return clamped(f32x4.sub(f32x4.add(disc, f32x4.splat(0.5)), far));
}

/** The shift along a row of four samples' second circles: `cat` has that of sample 0 and what each further one adds. */
// @ts-ignore: decorator
@inline
function catShift(cat: usize, i: i32): v128 {
  const columns = f32x4.convert_i32x4_s(i32x4.add(i32x4.splat(i), i32x4(0, 1, 2, 3)));
  return f32x4.add(v128.load32_splat(cat), f32x4.mul(v128.load32_splat(cat, 4), columns));
}

/** What the discs that are gathered from one level have in common; `core/src/blur/lens/disc-level` writes it. */
// @ts-ignore: decorator
@unmanaged
class DiscLevel {
  /** Addresses of the rows around the sample's own, which is number `middle`, and bytes between their planes. */
  rows: usize = 0;
  middle: i32 = 0;
  plane: usize = 0;
  /**
   * Four words each, the nearest first: 4 x the row's number, the way along the row in bytes, how far the outline of
   * radius 1 lies in that direction, and the tap's distance less half a sample.
   */
  taps: usize = 0;
  /** `counts[ceil(4 r)]`: how many taps a disc of radius r can reach, for r up to `top` (times 1 + |fringe|). */
  counts: usize = 0;
  /** Radius in samples from which on discs go over to the next level; gathering holds radii to it, 0 for no end. */
  top: f32 = 0;
  /** Gathering leaves out samples of this radius and more, 0 for none; scattering takes discs from this radius on. */
  bound: f32 = 0;
  outPlane: usize = 0;
  rim: f32 = 0;
  /** Makes red discs larger and blue ones smaller by that share. */
  fringe: f32 = 0;
  /** Scattering multiplies by it. */
  unit: f32 = 0;
  /** 0, or three floats: the shift in radii of the circle that cuts a disc at sample 0, what a sample adds to it, and the shift down. */
  cat: usize = 0;
  /** For each quarter sample of radius an `Inner`. */
  inner: usize = 0;
  /** Room for sums down the columns of a segment, and bytes between the planes of a row of them. */
  sums: usize = 0;
  sumsPlane: usize = 0;
  /** Room for what is summed of four samples. */
  summed: usize = 0;
}

/** The taps that every disc of a radius covers wholly: the first `count`. */
// @ts-ignore: decorator
@unmanaged
class Inner {
  count: i32 = 0;
  /** How far they reach along and down. */
  across: i32 = 0;
  down: i32 = 0;
  /** For each column from -across on two places in the column sums, in bytes: below its taps, and above them. */
  spans: usize = 0;
}

// @ts-ignore: decorator
@inline
function innerOf(level: DiscLevel, radius: f32): Inner {
  return changetype<Inner>(level.inner + (<usize>max<f32>(0, floor(radius * 4)) << 4));
}

/** Smallest radius within `across` and `down` of n samples from x on. */
function leastAround(level: DiscLevel, x: i32, n: i32, across: i32, down: i32): f32 {
  let least = f32x4.splat(Infinity);
  const discs: usize = 4 * level.plane;
  const last = <usize>(n + 2 * across - 4) << 2;
  for (let row = level.middle - down; row <= level.middle + down; row++) {
    const at = <usize>load<u32>(level.rows + (<usize>row << 2)) + discs + <usize>(<isize>(x - across) << 2);
    for (let i: usize = 0; i < last; i += 16) least = f32x4.pmin(least, v128.load(at + i));
    least = f32x4.pmin(least, v128.load(at + last));
  }
  return -largest(f32x4.neg(least));
}

/**
 * Sums down the columns of light and weight around n samples from x on, for the taps that all their discs cover wholly:
 * a disc's sum is then two samples a column in place of all in it. Depends on these samples alone, not on how a row is
 * shared out. 0 where that gains nothing.
 */
function sumColumns(level: DiscLevel, x: i32, n: i32): usize {
  const own = <usize>load<u32>(level.rows + (<usize>level.middle << 2)) + 4 * level.plane + <usize>(<isize>x << 2);
  let least = f32x4.splat(level.top);
  // A vector more than is asked for would read what may not be made yet.
  const last = <usize>max(0, n - 4) << 2;
  for (let i: usize = 0; i < last; i += 16) least = f32x4.pmin(least, v128.load(own + i));
  least = f32x4.pmin(least, v128.load(own + last));
  const narrow = <f32>1 - abs(level.fringe);
  const most = innerOf(level, -largest(f32x4.neg(least)) * narrow);
  if (n < 4 || most.count == 0) return 0;
  const all = min(leastAround(level, x, n, most.across, most.down), level.top);
  const inner = innerOf(level, all * narrow);
  if (inner.count == 0) return 0;
  const bytes = <usize>(n + 2 * inner.across + 3) << 2;
  let out = level.sums;
  const plane = level.sumsPlane;
  memory.fill(out, 0, 4 * plane);
  for (let row = level.middle - inner.down; row <= level.middle + inner.down; row++) {
    let from = <usize>load<u32>(level.rows + (<usize>row << 2)) + <usize>(<isize>(x - inner.across) << 2);
    for (let c = 0; c < 4; c++) {
      const below = out + 4 * plane;
      for (let i: usize = 0; i < bytes; i += 16) v128.store(below + i, f32x4.add(v128.load(out + i), v128.load(from + i)));
      out += plane;
      from += level.plane;
    }
  }
  return changetype<usize>(inner);
}

/** Light and weight of the inner taps of four samples, of which the first is number i of the segment, from the column sums. */
function sumInner(level: DiscLevel, inner: Inner, i: i32): usize {
  const plane = level.sumsPlane;
  const sums = level.sums + (<usize>i << 2);
  let r = f32x4.splat(0);
  let g = r;
  let b = r;
  let weight = r;
  for (let span = inner.spans, last = span + (<usize>(2 * inner.across + 1) << 3); span < last; span += 8) {
    let below = sums + <usize>load<u32>(span);
    let above = sums + <usize>load<u32>(span, 4);
    r = f32x4.add(r, f32x4.sub(v128.load(below), v128.load(above)));
    below += plane;
    above += plane;
    g = f32x4.add(g, f32x4.sub(v128.load(below), v128.load(above)));
    below += plane;
    above += plane;
    b = f32x4.add(b, f32x4.sub(v128.load(below), v128.load(above)));
    below += plane;
    above += plane;
    weight = f32x4.add(weight, f32x4.sub(v128.load(below), v128.load(above)));
  }
  const out = level.summed;
  v128.store(out, r);
  v128.store(out, g, 16);
  v128.store(out, b, 32);
  v128.store(out, weight, 48);
  return out;
}

// @ts-ignore: decorator
@inline
function gather(level: DiscLevel, start: i32, end: i32, out: usize, rims: bool, fringes: bool, cats: bool): void {
  const none = f32x4.splat(0);
  const rows = level.rows;
  const middle = level.middle;
  const plane = level.plane;
  const outPlane = level.outPlane;
  const taps = level.taps;
  const counts = level.counts;
  const cat = level.cat;
  const above = level.bound;
  const limit = f32x4.splat(level.top);
  const rimWeight = f32x4.splat(level.rim);
  const wider = f32x4.splat(1 + level.fringe);
  const narrower = f32x4.splat(1 - level.fringe);
  const most = <f32>1 + abs(level.fringe);
  const centre = <usize>load<u32>(rows + (<usize>middle << 2));
  const weights: usize = 3 * plane;
  const discs: usize = 4 * plane;
  for (let x = start; x < end; x += SEGMENT) {
    const n = min(SEGMENT, end - x);
    const inner: usize = rims || cats ? 0 : sumColumns(level, x, n);
    for (let i = x; i < x + n; i += 4) {
      const at = <usize>(<isize>i << 2);
      const to = out + at;
      let own = v128.load(centre + discs + at);
      if (above > 0) {
        // At full size: what is larger is gathered on smaller levels, and what is clear is as it came.
        if (i32x4.all_true(f32x4.ge(own, f32x4.splat(above)))) {
          v128.store(to, none);
          v128.store(to + outPlane, none);
          v128.store(to + 2 * outPlane, none);
          continue;
        }
      } else if (v128.any_true(f32x4.eq(own, none))) own = nextRadius(rows, middle, at + discs, own);
      own = f32x4.pmin(own, limit);
      const count = load<i32>(counts + (<usize>ceil(largest(own) * most * 4) << 2));
      let r = none;
      let g = none;
      let b = none;
      let weight = none;
      let weightR = none;
      let weightB = none;
      const sx = cats ? catShift(cat, i) : none;
      const sy: f32 = cats ? load<f32>(cat, 8) : 0;
      let first = taps;
      if (inner != 0) {
        const full = changetype<Inner>(inner);
        first += <usize>full.count << 4;
        const summed = sumInner(level, full, i - x);
        r = v128.load(summed);
        g = v128.load(summed, 16);
        b = v128.load(summed, 32);
        weight = v128.load(summed, 48);
        if (fringes) weightR = weightB = weight;
      }
      for (let tap = first, last = taps + (<usize>count << 4); tap < last; tap += 16) {
        const ox: f32 = cats ? <f32>(load<i32>(tap, 4) >> 2) : 0;
        const oy: f32 = cats ? <f32>((load<i32>(tap) >> 2) - middle) : 0;
        const row = <usize>load<u32>(rows + <usize>load<u32>(tap)) + <usize>load<i32>(tap, 4) + at;
        const disc = f32x4.pmin(own, v128.load(row + discs));
        const scale = v128.load32_splat(tap, 8);
        const reach = v128.load32_splat(tap, 12);
        let w = v128.load(row + weights);
        if (fringes) {
          let wideCover = cover(f32x4.mul(disc, wider), scale, reach);
          let ownCover = cover(disc, scale, reach);
          let narrowCover = cover(f32x4.mul(disc, narrower), scale, reach);
          if (rims) {
            // The tap's distance in the aperture's own measure, back from what `reach` holds.
            const gauge = f32x4.div(f32x4.add(reach, f32x4.splat(0.5)), scale);
            wideCover = f32x4.mul(wideCover, rimmed(f32x4.mul(disc, wider), gauge, rimWeight));
            ownCover = f32x4.mul(ownCover, rimmed(disc, gauge, rimWeight));
            narrowCover = f32x4.mul(narrowCover, rimmed(f32x4.mul(disc, narrower), gauge, rimWeight));
          }
          if (cats) {
            wideCover = f32x4.mul(wideCover, cutCover(f32x4.mul(disc, wider), ox, oy, sx, sy));
            ownCover = f32x4.mul(ownCover, cutCover(disc, ox, oy, sx, sy));
            narrowCover = f32x4.mul(narrowCover, cutCover(f32x4.mul(disc, narrower), ox, oy, sx, sy));
          }
          r = f32x4.add(r, f32x4.mul(wideCover, v128.load(row)));
          g = f32x4.add(g, f32x4.mul(ownCover, v128.load(row + plane)));
          b = f32x4.add(b, f32x4.mul(narrowCover, v128.load(row + 2 * plane)));
          weightR = f32x4.add(weightR, f32x4.mul(wideCover, w));
          weight = f32x4.add(weight, f32x4.mul(ownCover, w));
          weightB = f32x4.add(weightB, f32x4.mul(narrowCover, w));
          continue;
        }
        let share = cover(disc, scale, reach);
        if (rims) {
          const gauge = f32x4.div(f32x4.add(reach, f32x4.splat(0.5)), scale);
          share = f32x4.mul(share, rimmed(disc, gauge, rimWeight));
        }
        if (cats) share = f32x4.mul(share, cutCover(disc, ox, oy, sx, sy));
        r = f32x4.add(r, f32x4.mul(share, v128.load(row)));
        g = f32x4.add(g, f32x4.mul(share, v128.load(row + plane)));
        b = f32x4.add(b, f32x4.mul(share, v128.load(row + 2 * plane)));
        weight = f32x4.add(weight, f32x4.mul(share, w));
      }
      putMean(rows, middle, at, 0, weights, to, r, fringes ? weightR : weight);
      putMean(rows, middle, at, plane, weights, to + outPlane, g, weight);
      putMean(rows, middle, at, 2 * plane, weights, to + 2 * outPlane, b, fringes ? weightB : weight);
    }
  }
}

/**
 * For each of the samples start..end the mean of the light around it, by the pair rule: a tap counts as far as a disc of
 * the smaller of both radii covers it, times its weight. Without `bound` a sample without a disc of its own takes that of a
 * neighbour; with it, it comes out as it is, and samples of that radius and more get 0. `out` is where sample 0 goes.
 */
export function gatherDiscs(block: usize, start: i32, end: i32, out: usize): void {
  const level = changetype<DiscLevel>(block);
  const rims = level.rim != 0;
  const fringes = level.fringe != 0;
  if (level.cat != 0) {
    if (fringes) gather(level, start, end, out, true, true, true);
    else gather(level, start, end, out, true, false, true);
  } else if (fringes) {
    if (rims) gather(level, start, end, out, true, true, false);
    else gather(level, start, end, out, false, true, false);
  } else if (rims) gather(level, start, end, out, true, false, false);
  else gather(level, start, end, out, false, false, false);
}

/**
 * For each of the samples start..end the light that reaches it from discs around, and what that weighs, times `unit`: each of
 * `count` taps counts as far as its own disc covers the sample. Of the discs those count whose radius lies between `bound`
 * and `top`, going over within a quarter of each; 0 for no end.
 */
export function scatterDiscs(block: usize, start: i32, end: i32, count: i32, out: usize): void {
  const level = changetype<DiscLevel>(block);
  const rows = level.rows;
  const middle = level.middle;
  const plane = level.plane;
  const taps = level.taps;
  const top = level.top;
  const outPlane = level.outPlane;
  const rim = level.rim;
  const fringe = level.fringe;
  const unit = level.unit;
  const cat = level.cat;
  const low = level.bound;
  const one = f32x4.splat(1);
  const half = f32x4.splat(0.5);
  const wide: f32 = <f32>1 + fringe;
  const narrow: f32 = <f32>1 - fringe;
  // Wider discs are as bright as others: they weigh the less.
  const wideUnit = f32x4.splat(1 / (wide * wide));
  const narrowUnit = f32x4.splat(1 / (narrow * narrow));
  const rimWeight = f32x4.splat(rim);
  const last = taps + (<usize>count << 4);
  for (let i = start; i < end; i += 4) {
    const at = <usize>(<isize>i << 2);
    let r = f32x4.splat(0);
    let g = r;
    let b = r;
    let weight = r;
    const sx = cat != 0 ? catShift(cat, i) : r;
    const sy: f32 = cat != 0 ? load<f32>(cat, 8) : 0;
    for (let tap = taps; tap < last; tap += 16) {
      const row = <usize>load<u32>(rows + <usize>load<u32>(tap)) + <usize>load<i32>(tap, 4) + at;
      const w = v128.load(row + 3 * plane);
      if (!v128.any_true(w)) continue;
      const disc = v128.load(row + 4 * plane);
      const scale = v128.load32_splat(tap, 8);
      const reach = v128.load32_splat(tap, 12);
      let own = cover(disc, scale, reach);
      if (fringe == 0 && !v128.any_true(own)) continue;
      let share = one;
      if (low > 0) share = clamped(f32x4.mul(f32x4.sub(disc, f32x4.splat(low)), f32x4.splat(4 / low)));
      if (top > 0) share = f32x4.mul(share, f32x4.sub(one, clamped(f32x4.mul(f32x4.sub(disc, f32x4.splat(top)), f32x4.splat(4 / top)))));
      let red = own;
      let blue = own;
      if (fringe != 0) {
        const wider = f32x4.mul(disc, f32x4.splat(wide));
        const narrower = f32x4.mul(disc, f32x4.splat(narrow));
        red = f32x4.mul(cover(wider, scale, reach), wideUnit);
        blue = f32x4.mul(cover(narrower, scale, reach), narrowUnit);
      }
      if (rim != 0) {
        const bent = rimmed(disc, f32x4.div(f32x4.add(reach, half), scale), rimWeight);
        share = f32x4.mul(share, bent);
      }
      if (cat != 0) {
        const ox = <f32>(load<i32>(tap, 4) >> 2);
        const oy = <f32>((load<i32>(tap) >> 2) - middle);
        share = f32x4.mul(share, cutCover(disc, ox, oy, sx, sy));
      }
      r = f32x4.add(r, f32x4.mul(f32x4.mul(share, red), v128.load(row)));
      g = f32x4.add(g, f32x4.mul(f32x4.mul(share, own), v128.load(row + plane)));
      b = f32x4.add(b, f32x4.mul(f32x4.mul(share, blue), v128.load(row + 2 * plane)));
      weight = f32x4.add(weight, f32x4.mul(f32x4.mul(share, own), w));
    }
    const to = out + at;
    const scaled = f32x4.splat(unit);
    v128.store(to, f32x4.mul(r, scaled));
    v128.store(to + outPlane, f32x4.mul(g, scaled));
    v128.store(to + 2 * outPlane, f32x4.mul(b, scaled));
    v128.store(to + 3 * outPlane, f32x4.mul(weight, scaled));
  }
}

/** Adds four planes of a row to others. */
export function accumulateRow(row: usize, plane: usize, n: i32, more: usize, morePlane: usize, moreWeight: usize, weight: usize): void {
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) {
    const at = row + x;
    v128.store(at, f32x4.add(v128.load(at), v128.load(more + x)));
    v128.store(at + plane, f32x4.add(v128.load(at + plane), v128.load(more + morePlane + x)));
    v128.store(at + 2 * plane, f32x4.add(v128.load(at + 2 * plane), v128.load(more + 2 * morePlane + x)));
    v128.store(weight + x, f32x4.add(v128.load(weight + x), v128.load(moreWeight + x)));
  }
}

/** Sums of light and, in a fourth plane, their weight, to light that has a coverage: their mean times `cover`, and that. */
export function coverRow(row: usize, plane: usize, n: i32, cover: usize): void {
  const least = f32x4.splat(1e-6);
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) {
    const at = row + x;
    const weight = v128.load(at + 3 * plane);
    const own = v128.and(v128.load(cover + x), f32x4.gt(weight, least));
    const share = f32x4.div(own, f32x4.pmax(weight, least));
    for (let c: usize = 0; c < 3; c++) v128.store(at + c * plane, f32x4.mul(share, v128.load(at + c * plane)));
    v128.store(at + 3 * plane, own);
  }
}
