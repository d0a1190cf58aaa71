// Saturation in Oklab (B. Ottosson, "A perceptual color space for image processing", 2020).

/** Steps of false position after the first try. */
const STEPS: i32 = 3;

/** Cube root of non-negative values: a guess from the float's bits, then a step of Halley's method; error 3e-5. */
// @ts-ignore: decorator
@inline
function cubeRoot(value: v128): v128 {
  const x = f32x4.pmax(value, f32x4.splat(1e-12));
  // A third of the bits by shifts: 1/4 + 1/16 + 1/64 + 1/256 + 1/1024.
  let third = i32x4.add(i32x4.shr_s(x, 2), i32x4.shr_s(x, 4));
  third = i32x4.add(third, i32x4.add(i32x4.shr_s(x, 6), i32x4.add(i32x4.shr_s(x, 8), i32x4.shr_s(x, 10))));
  const y = i32x4.add(third, i32x4.splat(710281077));
  const cubed = cube(y);
  const twice = f32x4.add(cubed, cubed);
  return f32x4.mul(y, f32x4.div(f32x4.add(cubed, f32x4.add(x, x)), f32x4.add(twice, x)));
}

// @ts-ignore: decorator
@inline
function dot3(a: f32, x: v128, b: f32, y: v128, c: f32, z: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(f32x4.splat(a), x), f32x4.mul(f32x4.splat(b), y)), f32x4.mul(f32x4.splat(c), z));
}

// @ts-ignore: decorator
@inline
function cube(x: v128): v128 {
  return f32x4.mul(f32x4.mul(x, x), x);
}

/** How far the worst of three channels lies outside 0..1; negative inside. */
// @ts-ignore: decorator
@inline
function excess(r: v128, g: v128, b: v128): v128 {
  const low = f32x4.pmin(f32x4.pmin(r, g), b);
  const high = f32x4.pmax(f32x4.pmax(r, g), b);
  return f32x4.pmax(f32x4.neg(low), f32x4.sub(high, f32x4.splat(1)));
}

/**
 * Scales chroma by 1 + amount in three linear planes, in place. Scaling a and b of Oklab by k takes each cone response's
 * cube root l to L + k (l - L), so a and b themselves are not needed. Where that leaves the gamut, the largest chroma of
 * the same hue and lightness that fits is sought between the pixel's own and the wanted one by the rule of false position.
 */
export function saturateRow(row: usize, plane: usize, n: i32, amount: f32): void {
  const wanted = f32x4.splat(1 + amount);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const tolerance = f32x4.splat(1e-5);
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) {
    const r = v128.load(row + x);
    const g = v128.load(row + plane + x);
    const b = v128.load(row + 2 * plane + x);
    const l = cubeRoot(dot3(0.4122214708, r, 0.5363325363, g, 0.0514459929, b));
    const m = cubeRoot(dot3(0.2119034982, r, 0.6806995451, g, 0.1073969566, b));
    const s = cubeRoot(dot3(0.0883024619, r, 0.2817188376, g, 0.6299787005, b));
    const light = dot3(0.2104542553, l, 0.793617785, m, -0.0040720468, s);
    const dl = f32x4.sub(l, light);
    const dm = f32x4.sub(m, light);
    const ds = f32x4.sub(s, light);
    let scale = wanted;
    let low = f32x4.pmin(one, wanted);
    let high = wanted;
    let below = zero;
    let above = zero;
    let red = r;
    let green = g;
    let blue = b;
    for (let i = 0; ; i++) {
      const cl = cube(f32x4.add(light, f32x4.mul(scale, dl)));
      const cm = cube(f32x4.add(light, f32x4.mul(scale, dm)));
      const cs = cube(f32x4.add(light, f32x4.mul(scale, ds)));
      red = dot3(4.0767416621, cl, -3.3077115913, cm, 0.2309699292, cs);
      green = dot3(-1.2684380046, cl, 2.6097574011, cm, -0.3413193965, cs);
      blue = dot3(-0.0041960863, cl, -0.7034186147, cm, 1.707614701, cs);
      const out = excess(red, green, blue);
      const fits = f32x4.le(out, tolerance);
      if (i == 0) {
        if (i32x4.all_true(fits)) break;
        below = f32x4.pmin(excess(r, g, b), f32x4.neg(tolerance));
        above = out;
        // A lane that fits as wanted has nothing to seek.
        low = v128.bitselect(high, low, fits);
      } else if (i == STEPS) break;
      else {
        low = v128.bitselect(scale, low, fits);
        below = v128.bitselect(f32x4.pmin(out, f32x4.neg(tolerance)), below, fits);
        high = v128.bitselect(high, scale, fits);
        above = v128.bitselect(above, out, fits);
      }
      const share = f32x4.div(below, f32x4.sub(below, above));
      scale = f32x4.add(low, f32x4.mul(f32x4.sub(high, low), f32x4.pmin(f32x4.pmax(share, zero), one)));
    }
    v128.store(row + x, f32x4.pmin(f32x4.pmax(red, zero), one));
    v128.store(row + plane + x, f32x4.pmin(f32x4.pmax(green, zero), one));
    v128.store(row + 2 * plane + x, f32x4.pmin(f32x4.pmax(blue, zero), one));
  }
}
