// Movement: the mean of a picture along a path through each pixel. A picture is four 16-bit numbers a pixel: linear red,
// green and blue times what the pixel weighs, and that weight; 65535 is 1.

// A path through a pixel: straight along a direction, round a centre, or out from it.
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

// @ts-ignore: decorator
@inline
function sampleAt(at: usize): v128 {
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(at)));
}

/** The picture between its samples, at a place within it. */
// @ts-ignore: decorator
@inline
function between(image: usize, row: usize, width: i32, height: i32, px: f32, py: f32): v128 {
  const x = folded(px, <f32>width);
  const y = folded(py, <f32>height);
  const left = min(<i32>x, max(width - 2, 0));
  const top = min(<i32>y, max(height - 2, 0));
  const fx = f32x4.splat(x - <f32>left);
  const fy = f32x4.splat(y - <f32>top);
  const a = image + <usize>top * row + (<usize>left << 3);
  const right: usize = width > 1 ? 8 : 0;
  const c = height > 1 ? a + row : a;
  const first = sampleAt(a);
  const second = sampleAt(c);
  const above = f32x4.add(first, f32x4.mul(fx, f32x4.sub(sampleAt(a + right), first)));
  const below = f32x4.add(second, f32x4.mul(fx, f32x4.sub(sampleAt(c + right), second)));
  return f32x4.add(above, f32x4.mul(fy, f32x4.sub(below, above)));
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
 * The sum over evenly spaced places of a path of `length` pixels through sample (x, y), of a picture whose samples are
 * means over `step` pixels of the path already. The path goes along (a, b), or round the centre (a, b), or out from it.
 */
// @ts-ignore: decorator
@inline
function along(image: usize, row: usize, width: i32, height: i32, x: f32, y: f32, length: f32, step: f32, kind: i32, a: f32, b: f32): v128 {
  // Between the middles of the first and the last place.
  const span = max(length - step, <f32>0);
  const count = <i32>ceil(span / step) + 1;
  if (count == 1) return between(image, row, width, height, x, y);
  const gap = span / <f32>(count - 1);
  let sum = f32x4.splat(0);
  if (kind == ROUND) {
    let dx = x - a;
    let dy = y - b;
    const far = max(sqrt(dx * dx + dy * dy), max(span * 0.5, <f32>1e-3));
    const sin0 = sine(span / (2 * far));
    const cos0 = cosine(span / (2 * far));
    const startX = dx * cos0 + dy * sin0;
    dy = dy * cos0 - dx * sin0;
    dx = startX;
    const sin1 = sine(gap / far);
    const cos1 = cosine(gap / far);
    for (let i = 0; i < count; i++) {
      sum = f32x4.add(sum, between(image, row, width, height, a + dx, b + dy));
      const next = dx * cos1 - dy * sin1;
      dy = dy * cos1 + dx * sin1;
      dx = next;
    }
    return sum;
  }
  let ux = a;
  let uy = b;
  if (kind == OUTWARDS) {
    ux = x - a;
    uy = y - b;
    const far = max(sqrt(ux * ux + uy * uy), <f32>1e-3);
    ux /= far;
    uy /= far;
  }
  let px = x - ux * span * 0.5;
  let py = y - uy * span * 0.5;
  for (let i = 0; i < count; i++) {
    sum = f32x4.add(sum, between(image, row, width, height, px, py));
    px += ux * gap;
    py += uy * gap;
  }
  return sum;
}

// @ts-ignore: decorator
@inline
function packed(value: v128): v128 {
  const whole = i32x4.trunc_sat_f32x4_u(f32x4.add(value, f32x4.splat(0.5)));
  return i16x8.narrow_i32x4_u(whole, whole);
}

/**
 * Linear light of n pixels to a picture of this file. With `keeps` a pixel weighs as much as its haze, up to an eighth
 * of the whole, from where on it weighs 1: what is kept clear does not smear.
 */
export function packStreakRow(row: usize, plane: usize, n: i32, haze: usize, keeps: i32, out: usize): void {
  for (let i: usize = 0, end = <usize>n << 2; i < end; i += 4, out += 8) {
    const weight = keeps ? min(max(load<f32>(haze + i) * 8, <f32>1 / 4096), <f32>1) : <f32>1;
    let value = f32x4.splat(load<f32>(row + i));
    value = f32x4.replace_lane(value, 1, load<f32>(row + plane + i));
    value = f32x4.replace_lane(value, 2, load<f32>(row + 2 * plane + i));
    value = f32x4.replace_lane(f32x4.pmax(value, f32x4.splat(0)), 3, 1);
    v128.store64_lane(out, packed(f32x4.mul(value, f32x4.splat(weight * 65535))), 0);
  }
}

/** Row y of a picture to means over `length` pixels of each path. */
export function shortStreakRow(image: usize, row: usize, width: i32, height: i32, y: i32, length: f32, kind: i32, a: f32, b: f32, out: usize): void {
  const share = f32x4.splat(1 / (ceil(length - 1) + 1));
  for (let x = 0; x < width; x++, out += 8) {
    const sum = along(image, row, width, height, <f32>x, <f32>y, length, 1, kind, a, b);
    v128.store64_lane(out, packed(f32x4.mul(sum, share)), 0);
  }
}

/**
 * n pixels from (x0, y) on, each the mean along its path: `scale` x haze pixels long, or, round and out from a centre, so
 * many times its distance from it. `short` has means over `step` pixels of the path: long paths are read there.
 */
export function streakRow(image: usize, short: usize, row: usize, width: i32, height: i32, x0: i32, y: i32, n: i32, haze: usize, scale: f32, step: f32, kind: i32, a: f32, b: f32, out: usize, plane: usize): void {
  for (let i = 0; i < n; i++, out += 4) {
    const x = x0 + i;
    const h = max(load<f32>(haze + (<usize>i << 2)), <f32>0);
    let length = scale * h;
    if (kind != STRAIGHT) {
      const dx = <f32>x - a;
      const dy = <f32>y - b;
      length *= sqrt(dx * dx + dy * dy);
    }
    let sum: v128;
    if (length <= 1) sum = sampleAt(image + <usize>y * row + (<usize>x << 3));
    else if (length < 4 * step) sum = along(image, row, width, height, <f32>x, <f32>y, length, 1, kind, a, b);
    else sum = along(short, row, width, height, <f32>x, <f32>y, length, step, kind, a, b);
    const weight = f32x4.splat(max(f32x4.extract_lane(sum, 3), <f32>1e-6));
    const mean = f32x4.div(sum, weight);
    store<f32>(out, f32x4.extract_lane(mean, 0));
    store<f32>(out + plane, f32x4.extract_lane(mean, 1));
    store<f32>(out + 2 * plane, f32x4.extract_lane(mean, 2));
  }
}
