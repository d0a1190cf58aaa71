// Movement: the mean of a picture along a path through each pixel. A picture is four 16-bit numbers a pixel: linear red,
// green and blue, and what the pixel weighs; 65535 is 1. Light is weighed as it is read: stored that way, what weighs
// little would have few levels left.

import { spreadOf } from './levels';

/*
 * Functions of `W` stand twice: where pixels weigh differently (f32), and where all weigh the same (i32).
 */

/** A path through each pixel of a picture. */
// @ts-ignore: decorator
@unmanaged
class StreakPath {
  /** The picture, and means of it over `step` pixels of each path, an odd number; their rows are `row` bytes apart. */
  image: usize = 0;
  short: usize = 0;
  row: usize = 0;
  width: i32 = 0;
  height: i32 = 0;
  step: i32 = 0;
  /** Straight along (a, b), round the centre (a, b), or out from it. */
  kind: i32 = 0;
  a: f32 = 0;
  b: f32 = 0;
  /** Not 0: pixels weigh as much as the picture says, else all the same. */
  keeps: i32 = 0;
  /** Paths are so many times the haze long, in pixels; round and out from a centre, in distances from it. */
  scale: f32 = 0;
}

// Kinds of path.
const STRAIGHT: i32 = 0;
const ROUND: i32 = 1;
const OUTWARDS: i32 = 2;

/** Where a place lies inside a picture that is mirrored at its edges, in samples; `n` samples. */
// @ts-ignore: decorator
@inline
function folded(v: f32, n: f32): f32 {
  while (v < -0.5 || v > n - 0.5) v = v < -0.5 ? -1 - v : 2 * n - 1 - v;
  return min(max(v, <f32>0), n - 1);
}

/** A pixel's light times what it weighs, and that; where nothing is weighed all weigh the same. */
// @ts-ignore: decorator
@inline
function sampleAt(at: usize, weighs: bool): v128 {
  const value = f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(v128.load64_zero(at)));
  if (!weighs) return value;
  const weight = i32x4.shuffle(value, f32x4.splat(65535), 3, 3, 3, 4);
  return f32x4.mul(value, f32x4.mul(weight, f32x4.splat(1 / <f32>65535)));
}

/** The picture between the sample at an address and the next one across, which lies `next` bytes on. */
// @ts-ignore: decorator
@inline
function twoTaps(at: usize, next: usize, part: v128, weighs: bool): v128 {
  const first = sampleAt(at, weighs);
  return f32x4.add(first, f32x4.mul(part, f32x4.sub(sampleAt(at + next, weighs), first)));
}

/** The picture between its samples, at a place that lies inside it. */
// @ts-ignore: decorator
@inline
function within(image: usize, row: usize, x: f32, y: f32, right: usize, below: usize, weighs: bool): v128 {
  const left = <i32>x;
  const top = <i32>y;
  const fx = f32x4.splat(x - <f32>left);
  const fy = f32x4.splat(y - <f32>top);
  const a = image + <usize>top * row + (<usize>left << 3);
  const c = a + below;
  const upper = twoTaps(a, right, fx, weighs);
  const lower = twoTaps(c, right, fx, weighs);
  return f32x4.add(upper, f32x4.mul(fy, f32x4.sub(lower, upper)));
}

/** The picture between its samples, anywhere: it is mirrored at its edges. */
// @ts-ignore: decorator
@inline
function between(image: usize, row: usize, width: i32, height: i32, px: f32, py: f32, weighs: bool): v128 {
  // The last sample of a row or column has none after it, and needs none: its fraction is 0.
  const x = folded(px, <f32>width);
  const y = folded(py, <f32>height);
  return within(image, row, x, y, <i32>x < width - 1 ? 8 : 0, <i32>y < height - 1 ? row : 0, weighs);
}

// Sine and cosine of angles up to 1, by their series: errors below 3e-6.
// @ts-ignore: decorator
@inline
function sine(x: f32): f32 {
  const s = x * x;
  return x * (1 - (s / 6) * (1 - (s / 20) * (1 - s / 42)));
}

// @ts-ignore: decorator
@inline
function cosine(x: f32): f32 {
  const s = x * x;
  return 1 - (s / 2) * (1 - (s / 12) * (1 - (s / 30) * (1 - s / 56)));
}

/**
 * Sum along a straight path through sample (x, y) in the direction (ux, uy): of places a whole `step` apart along the
 * axis that it goes along most, so that only across it anything lies between samples. The last at both ends count in part.
 */
function straight<W>(image: usize, row: usize, width: i32, height: i32, x: i32, y: i32, ux: f32, uy: f32, length: f32, step: f32): v128 {
  const weighs = isFloat<W>();
  const flat = abs(ux) >= abs(uy);
  const most = flat ? abs(ux) : abs(uy);
  // Along that axis.
  const extent = max(length * most, step);
  const whole = floor((extent - step) / (2 * step));
  const rest = f32x4.splat((extent - step - 2 * whole * step) / (2 * step));
  const slope = flat ? uy / ux : ux / uy;
  const far = (whole + 1) * step;
  const own = flat ? <f32>x : <f32>y;
  const across = flat ? <f32>y : <f32>x;
  const count = <i32>whole + 1;
  const here = sampleAt(image + <usize>y * row + (<usize>x << 3), weighs);
  let sum = here;
  const side = far * abs(slope);
  const isInside = own - far >= 0 && own + far <= <f32>((flat ? width : height) - 1) && across - side >= 0 && across + side < <f32>((flat ? height : width) - 1);
  if (isInside) {
    const stride: usize = flat ? 8 : row;
    const next: usize = flat ? row : 8;
    const jump = <usize>step * stride;
    const line = image + (flat ? <usize>x << 3 : <usize>y * row);
    let up = across;
    let down = across;
    let after = line;
    let before = line;
    for (let i = 1; i <= count; i++) {
      up += slope * step;
      down -= slope * step;
      after += jump;
      before -= jump;
      const i1 = <i32>up;
      const i2 = <i32>down;
      const at1 = after + <usize>i1 * next;
      const at2 = before + <usize>i2 * next;
      const ahead = twoTaps(at1, next, f32x4.splat(up - <f32>i1), weighs);
      const both = f32x4.add(ahead, twoTaps(at2, next, f32x4.splat(down - <f32>i2), weighs));
      sum = f32x4.add(sum, i < count ? both : f32x4.mul(both, rest));
    }
    return sum;
  }
  for (let i = 1; i <= count; i++) {
    const by = <f32>i * step;
    const dx = flat ? by : by * slope;
    const dy = flat ? by * slope : by;
    const both = f32x4.add(
      between(image, row, width, height, <f32>x + dx, <f32>y + dy, weighs),
      between(image, row, width, height, <f32>x - dx, <f32>y - dy, weighs),
    );
    sum = f32x4.add(sum, i < count ? both : f32x4.mul(both, rest));
  }
  return sum;
}

/** What `straightPair` gives for the second of its pixels. */
let secondSum: v128 = i32x4.splat(0);

/**
 * `straight` for the samples (x, y) and (x + 1, y), which read the same places but for one sample: gives the first's sum, and
 * puts the second's in `secondSum`. Both paths must lie inside the picture.
 */
function straightPair<W>(image: usize, row: usize, x: i32, y: i32, ux: f32, uy: f32, first: f32, second: f32, step: f32): v128 {
  const weighs = isFloat<W>();
  const flat = abs(ux) >= abs(uy);
  const most = flat ? abs(ux) : abs(uy);
  const slope = flat ? uy / ux : ux / uy;
  const ends1 = max(first * most, step) / (2 * step) + <f32>0.5;
  const ends2 = max(second * most, step) / (2 * step) + <f32>0.5;
  const count = <i32>ceil(max(ends1, ends2)) - 1;
  const stride: usize = flat ? 8 : row;
  const next: usize = flat ? row : 8;
  const jump = <usize>step * stride;
  const across = flat ? <f32>y : <f32>x;
  const line = image + (flat ? <usize>x << 3 : <usize>y * row);
  const here = image + <usize>y * row + (<usize>x << 3);
  let sum = sampleAt(here, weighs);
  let other = sampleAt(here + 8, weighs);
  let up = across;
  let down = across;
  let after = line;
  let before = line;
  for (let i = 1; i <= count; i++) {
    up += slope * step;
    down -= slope * step;
    after += jump;
    before -= jump;
    const i1 = <i32>up;
    const i2 = <i32>down;
    const at1 = after + <usize>i1 * next;
    const at2 = before + <usize>i2 * next;
    const part1 = f32x4.splat(up - <f32>i1);
    const part2 = f32x4.splat(down - <f32>i2);
    const share1 = f32x4.splat(min(<f32>1, max(<f32>0, ends1 - <f32>i)));
    const share2 = f32x4.splat(min(<f32>1, max(<f32>0, ends2 - <f32>i)));
    const both = f32x4.add(twoTaps(at1, next, part1, weighs), twoTaps(at2, next, part2, weighs));
    sum = f32x4.add(sum, f32x4.mul(share1, both));
    const beside = f32x4.add(twoTaps(at1 + 8, next, part1, weighs), twoTaps(at2 + 8, next, part2, weighs));
    other = f32x4.add(other, f32x4.mul(share2, beside));
  }
  secondSum = other;
  return sum;
}

/** Both paths of a pair of pixels lie inside the picture. */
// @ts-ignore: decorator
@inline
function pairIsInside(width: i32, height: i32, x: i32, y: i32, ux: f32, uy: f32, longest: f32, step: f32): bool {
  const far = longest * <f32>0.5 + step;
  const right = far * abs(ux) / max(abs(ux), abs(uy)) + 2;
  const below = far * abs(uy) / max(abs(ux), abs(uy)) + 2;
  return <f32>x >= right && <f32>x + right < <f32>(width - 1) && <f32>y >= below && <f32>y + below < <f32>(height - 1);
}

/** Sum along an arc of so many pixels round the centre (a, b), through sample (x, y), anywhere: of places a whole `step` apart on it. */
function arcAnywhere<W>(image: usize, row: usize, width: i32, height: i32, x: i32, y: i32, a: f32, b: f32, length: f32, step: f32): v128 {
  const weighs = isFloat<W>();
  const whole = floor((max(length, step) - step) / (2 * step));
  const rest = f32x4.splat((max(length, step) - step - 2 * whole * step) / (2 * step));
  const count = <i32>whole + 1;
  const dx = <f32>x - a;
  const dy = <f32>y - b;
  // So near the centre that the arc would be more than a turn, it is a part of one.
  const turn = step / max(sqrt(dx * dx + dy * dy), max(<f32>count * step, <f32>1e-3));
  const sin = sine(turn);
  const cos = cosine(turn);
  const far = <f32>count * step + 1;
  const isInside = <f32>x >= far && <f32>y >= far && <f32>x + far < <f32>width && <f32>y + far < <f32>height;
  let sum = sampleAt(image + <usize>y * row + (<usize>x << 3), weighs);
  let ahead = dx;
  let aheadY = dy;
  let behind = dx;
  let behindY = dy;
  for (let i = 1; i <= count; i++) {
    const nextX = ahead * cos - aheadY * sin;
    aheadY = aheadY * cos + ahead * sin;
    ahead = nextX;
    const lastX = behind * cos + behindY * sin;
    behindY = behindY * cos - behind * sin;
    behind = lastX;
    const both = isInside
      ? f32x4.add(within(image, row, a + ahead, b + aheadY, 8, row, weighs), within(image, row, a + behind, b + behindY, 8, row, weighs))
      : f32x4.add(
          between(image, row, width, height, a + ahead, b + aheadY, weighs),
          between(image, row, width, height, a + behind, b + behindY, weighs),
        );
    sum = f32x4.add(sum, i < count ? both : f32x4.mul(both, rest));
  }
  return sum;
}

/** From so many of its lengths of radius on, an arc turns by a quarter of a radian at most to either side: it is flat. */
const FLAT_FROM: f32 = 2;
/** How far across a flat arc goes at most, for each pixel along its main axis: it leads up to 60 degrees away from that. */
const FLAT_SLOPE: f32 = 1.75;

/**
 * Sum along an arc of so many pixels round the centre (a, b), through sample (x, y): of places a whole `step` apart along the
 * axis that it goes along most there, each by the length of the arc that it stands for; so that only across that axis
 * anything lies between samples. The last at both ends count in part.
 */
function arc<W>(image: usize, row: usize, width: i32, height: i32, x: i32, y: i32, a: f32, b: f32, length: f32, step: f32): v128 {
  const weighs = isFloat<W>();
  const dx = <f32>x - a;
  const dy = <f32>y - b;
  const square = dx * dx + dy * dy;
  const radius = sqrt(square);
  const span = max(length, step);
  if (radius < FLAT_FROM * span) return arcAnywhere<W>(image, row, width, height, x, y, a, b, length, step);
  const flat = abs(dy) >= abs(dx);
  const p = flat ? dx : dy;
  const q = flat ? dy : dx;
  const side: f32 = q < 0 ? -1 : 1;
  // How far both ends lie along the axis, in steps, and half a step more.
  const half = span / (2 * radius);
  const sin = sine(half) * abs(q);
  const back = p * (1 - cosine(half));
  const ahead = (sin - back) / step + <f32>0.5;
  const behind = (sin + back) / step + <f32>0.5;
  const count = <i32>ceil(max(ahead, behind)) - 1;
  const far = <f32>count * step;
  const own = flat ? <f32>x : <f32>y;
  const across = flat ? <f32>y : <f32>x;
  const wide = far * FLAT_SLOPE + 1;
  const isInside = own >= far && own + far <= <f32>((flat ? width : height) - 1) && across >= wide && across + wide < <f32>((flat ? height : width) - 1);
  if (!isInside) return arcAnywhere<W>(image, row, width, height, x, y, a, b, length, step);
  const stride: usize = flat ? 8 : row;
  const next: usize = flat ? row : 8;
  const jump = <usize>step * stride;
  const centre = flat ? b : a;
  const line = image + (flat ? <usize>x << 3 : <usize>y * row);
  const weight = radius / abs(q);
  let sum = f32x4.mul(sampleAt(image + <usize>y * row + (<usize>x << 3), weighs), f32x4.splat(weight));
  let after = line;
  let before = line;
  // Two lanes: ahead, and behind.
  const ends = f32x4(ahead, behind, 0, 0);
  const squares = f32x4.splat(square);
  const middle = f32x4.splat(centre);
  const sides = f32x4.splat(side);
  const steps = f32x4(step, -step, 0, 0);
  const one = f32x4.splat(1);
  let along = f32x4.splat(p);
  for (let i = 1; i <= count; i++) {
    along = f32x4.add(along, steps);
    // Close to the centre the last step, of which nothing counts, may lead past the circle.
    const apart = f32x4.sqrt(f32x4.pmax(one, f32x4.sub(squares, f32x4.mul(along, along))));
    const places = f32x4.add(middle, f32x4.mul(sides, apart));
    const whole = i32x4.trunc_sat_f32x4_s(places);
    const parts = f32x4.sub(places, f32x4.convert_i32x4_s(whole));
    const covered = f32x4.pmin(one, f32x4.pmax(f32x4.splat(0), f32x4.sub(ends, f32x4.splat(<f32>i))));
    const weights = f32x4.div(f32x4.mul(covered, f32x4.splat(radius)), apart);
    after += jump;
    before -= jump;
    const at1 = after + <usize>i32x4.extract_lane(whole, 0) * next;
    const at2 = before + <usize>i32x4.extract_lane(whole, 1) * next;
    const first = twoTaps(at1, next, i32x4.shuffle(parts, parts, 0, 0, 0, 0), weighs);
    const second = twoTaps(at2, next, i32x4.shuffle(parts, parts, 1, 1, 1, 1), weighs);
    sum = f32x4.add(sum, f32x4.mul(first, i32x4.shuffle(weights, weights, 0, 0, 0, 0)));
    sum = f32x4.add(sum, f32x4.mul(second, i32x4.shuffle(weights, weights, 1, 1, 1, 1)));
  }
  return sum;
}

/** Sum along a path through sample (x, y): along (a, b), round the centre (a, b), or out from it. */
// @ts-ignore: decorator
@inline
function along<W>(image: usize, row: usize, width: i32, height: i32, x: i32, y: i32, length: f32, step: f32, kind: i32, a: f32, b: f32): v128 {
  if (kind == ROUND) return arc<W>(image, row, width, height, x, y, a, b, length, step);
  let ux = a;
  let uy = b;
  if (kind == OUTWARDS) {
    ux = <f32>x - a;
    uy = <f32>y - b;
    const far = sqrt(ux * ux + uy * uy);
    ux = far > 0 ? ux / far : 1;
    uy = far > 0 ? uy / far : 0;
  }
  return straight<W>(image, row, width, height, x, y, ux, uy, length, step);
}

// @ts-ignore: decorator
@inline
function packed(value: v128): v128 {
  const whole = i32x4.trunc_sat_f32x4_s(f32x4.add(value, f32x4.splat(0.5)));
  return i16x8.narrow_i32x4_u(whole, whole);
}

/** Linear light of n pixels to a picture of this file. With `keeps` a pixel weighs as much as it spreads by its haze. */
export function packStreakRow(row: usize, plane: usize, n: i32, haze: usize, keeps: i32, out: usize): void {
  for (let i: usize = 0, end = <usize>n << 2; i < end; i += 4, out += 8) {
    let value = f32x4.splat(load<f32>(row + i));
    value = f32x4.replace_lane(value, 1, load<f32>(row + plane + i));
    value = f32x4.replace_lane(value, 2, load<f32>(row + 2 * plane + i));
    value = f32x4.replace_lane(f32x4.pmax(value, f32x4.splat(0)), 3, keeps ? spreadOf(load<f32>(haze + i)) : 1);
    v128.store64_lane(out, packed(f32x4.mul(value, f32x4.splat(65535))), 0);
  }
}

/** Sums of light to what a picture holds: their mean, and where it is weighed the mean weight of `count` samples. */
// @ts-ignore: decorator
@inline
function settled(sum: v128, count: f32, weighs: bool): v128 {
  const weight = f32x4.extract_lane(sum, 3);
  const light = f32x4.mul(sum, f32x4.splat(65535 / max(weight, <f32>1e-6)));
  return packed(weighs ? f32x4.replace_lane(light, 3, weight / count) : light);
}

// @ts-ignore: decorator
@inline
function shortRow<W>(path: StreakPath, y: i32, out: usize): void {
  const weighs = isFloat<W>();
  const image = path.image;
  const row = path.row;
  const width = path.width;
  const height = path.height;
  const step = path.step;
  const kind = path.kind;
  const a = path.a;
  const b = path.b;
  for (let x = 0; x < width; x++, out += 8) {
    let length = <f32>step;
    if (kind != ROUND) {
      const ux = kind == STRAIGHT ? a : <f32>x - a;
      const uy = kind == STRAIGHT ? b : <f32>y - b;
      const most = max(abs(ux), abs(uy));
      if (most > 0) length *= sqrt(ux * ux + uy * uy) / most;
    }
    if (kind == STRAIGHT && x + 1 < width && pairIsInside(width, height, x, y, a, b, length, 1)) {
      const first = straightPair<W>(image, row, x, y, a, b, length, length, 1);
      v128.store64_lane(out, settled(first, <f32>step, weighs), 0);
      out += 8;
      x++;
      v128.store64_lane(out, settled(secondSum, <f32>step, weighs), 0);
      continue;
    }
    const sum = along<W>(image, row, width, height, x, y, length, 1, kind, a, b);
    v128.store64_lane(out, settled(sum, <f32>step, weighs), 0);
  }
}

/**
 * Row y of a picture to means over `step` pixels of each path (a `StreakPath`); along the axis that a straight one goes
 * along most.
 */
export function prefilterPathRow(block: usize, y: i32, out: usize): void {
  const path = changetype<StreakPath>(block);
  if (path.keeps) shortRow<f32>(path, y, out);
  else shortRow<i32>(path, y, out);
}

/** A sum to a pixel of three planes: its mean by weight. */
// @ts-ignore: decorator
@inline
function putMean(out: usize, plane: usize, sum: v128): void {
  const mean = f32x4.div(sum, f32x4.splat(max(f32x4.extract_lane(sum, 3), <f32>1e-6)));
  store<f32>(out, f32x4.extract_lane(mean, 0));
  store<f32>(out + plane, f32x4.extract_lane(mean, 1));
  store<f32>(out + 2 * plane, f32x4.extract_lane(mean, 2));
}

// @ts-ignore: decorator
@inline
function longRow<W>(path: StreakPath, x0: i32, y: i32, n: i32, haze: usize, out: usize, plane: usize): void {
  const image = path.image;
  const short = path.short;
  const row = path.row;
  const width = path.width;
  const height = path.height;
  const step = <f32>path.step;
  const kind = path.kind;
  const a = path.a;
  const b = path.b;
  const scale = path.scale;
  for (let i = 0; i < n; i++, out += 4) {
    const x = x0 + i;
    const h = max(load<f32>(haze + (<usize>i << 2)), <f32>0);
    let length = scale * h;
    if (kind == STRAIGHT && i + 1 < n) {
      const other = scale * max(load<f32>(haze + (<usize>i << 2), 4), <f32>0);
      const isLong = min(length, other) >= 4 * step;
      const by: f32 = isLong ? step : 1;
      // Of different pictures, or beyond an edge, each is read by itself.
      if (min(length, other) > 1 && isLong == (max(length, other) >= 4 * step) && pairIsInside(width, height, x, y, a, b, max(length, other), by)) {
        const from = isLong ? short : image;
        const first = straightPair<W>(from, row, x, y, a, b, length, other, by);
        putMean(out, plane, first);
        out += 4;
        i++;
        putMean(out, plane, secondSum);
        continue;
      }
    }
    if (kind != STRAIGHT) {
      const dx = <f32>x - a;
      const dy = <f32>y - b;
      length *= sqrt(dx * dx + dy * dy);
    }
    if (length <= 1) continue;
    const sum = length < 4 * step
      ? along<W>(image, row, width, height, x, y, length, 1, kind, a, b)
      : along<W>(short, row, width, height, x, y, length, step, kind, a, b);
    putMean(out, plane, sum);
  }
}

/**
 * n pixels from (x0, y) on, each the mean along its path (a `StreakPath`) to three planes of `out`. Long paths are read
 * from the means in `short`. Where the path is no longer than a pixel, what is in `out` stays.
 */
export function streakRow(block: usize, x0: i32, y: i32, n: i32, haze: usize, out: usize, plane: usize): void {
  const path = changetype<StreakPath>(block);
  if (path.keeps) longRow<f32>(path, x0, y, n, haze, out, plane);
  else longRow<i32>(path, x0, y, n, haze, out, plane);
}
