// Light that falls off towards the corners.

/** An ellipse round which light falls off; lengths are in its half axes. */
// @ts-ignore: decorator
@unmanaged
class Vignette {
  /** What a pixel adds along a row. */
  step: f32 = 0;
  /** From so far out it falls off, over 1 / `rate`, by so many stops. */
  from: f32 = 0;
  rate: f32 = 0;
  stops: f32 = 0;
}

/**
 * Multiplies three linear planes by 2^(stops x s), s a smooth step of the way from the middle: hypot(x, y), from `from` on
 * over 1 / `rate` (a `Vignette`). (x, y) is the first pixel's place, in half axes of the ellipse.
 */
export function vignetteRow(row: usize, plane: usize, n: i32, x: f32, y: f32, block: usize): void {
  const vignette = changetype<Vignette>(block);
  const step = vignette.step;
  const from = vignette.from;
  const rate = vignette.rate;
  const stops = vignette.stops;
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const across = f32x4.mul(f32x4.splat(y), f32x4.splat(y));
  let column = f32x4.add(f32x4.splat(x), f32x4.mul(f32x4(0, 1, 2, 3), f32x4.splat(step)));
  for (let at = row, end = row + (<usize>n << 2); at < end; at += 16) {
    const way = f32x4.sqrt(f32x4.add(f32x4.mul(column, column), across));
    column = f32x4.add(column, f32x4.splat(4 * step));
    const t = f32x4.pmin(one, f32x4.pmax(zero, f32x4.mul(f32x4.sub(way, f32x4.splat(from)), f32x4.splat(rate))));
    const s = f32x4.mul(f32x4.mul(t, t), f32x4.sub(f32x4.splat(3), f32x4.add(t, t)));
    const by = powerOfTwo(f32x4.mul(s, f32x4.splat(stops)));
    v128.store(at, f32x4.mul(v128.load(at), by));
    v128.store(at + plane, f32x4.mul(v128.load(at + plane), by));
    v128.store(at + 2 * plane, f32x4.mul(v128.load(at + 2 * plane), by));
  }
}

/** 2^x: the whole part by the float's exponent, the rest by the exponential series to the fifth power; error 2e-7. */
// @ts-ignore: decorator
@inline
function powerOfTwo(x: v128): v128 {
  const whole = f32x4.nearest(x);
  const t = f32x4.mul(f32x4.sub(x, whole), f32x4.splat(0.6931471805599453));
  let sum = f32x4.splat(1.0 / 120.0);
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(1.0 / 24.0));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(1.0 / 6.0));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(0.5));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(1));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(1));
  const exponent = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23);
  return f32x4.mul(sum, exponent);
}
