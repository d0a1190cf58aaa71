// Saturation in Oklab (B. Ottosson, "A perceptual color space for image processing", 2020).

/** Cube root of non-negative values: a guess from the float's bits, then two steps of Halley's method. */
// @ts-ignore: decorator
@inline
function cubeRoot(value: v128): v128 {
  const x = f32x4.max(value, f32x4.splat(1e-12));
  const third = f32x4.mul(f32x4.convert_i32x4_s(x), f32x4.splat(1.0 / 3.0));
  let y = i32x4.add(i32x4.trunc_sat_f32x4_s(third), i32x4.splat(709921077));
  for (let i = 0; i < 2; i++) {
    const cube = f32x4.mul(f32x4.mul(y, y), y);
    const twice = f32x4.add(cube, cube);
    y = f32x4.mul(y, f32x4.div(f32x4.add(cube, f32x4.add(x, x)), f32x4.add(twice, x)));
  }
  return y;
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

/** Lanes whose three channels all lie in 0..1, with a hair of tolerance. */
// @ts-ignore: decorator
@inline
function inGamut(r: v128, g: v128, b: v128): v128 {
  const low = f32x4.min(f32x4.min(r, g), b);
  const high = f32x4.max(f32x4.max(r, g), b);
  return v128.and(f32x4.ge(low, f32x4.splat(-1e-5)), f32x4.le(high, f32x4.splat(1.00001)));
}

/**
 * Scales chroma by 1 + amount in three linear planes, in place. Where that leaves the gamut, the largest chroma of
 * the same hue and lightness that fits is found by bisection between the pixel's own chroma and the wanted one.
 */
export function saturateRow(row: usize, plane: usize, n: i32, amount: f32): void {
  const wanted = f32x4.splat(1 + amount);
  const one = f32x4.splat(1);
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) {
    const r = v128.load(row + x);
    const g = v128.load(row + plane + x);
    const b = v128.load(row + 2 * plane + x);
    const l = cubeRoot(dot3(0.4122214708, r, 0.5363325363, g, 0.0514459929, b));
    const m = cubeRoot(dot3(0.2119034982, r, 0.6806995451, g, 0.1073969566, b));
    const s = cubeRoot(dot3(0.0883024619, r, 0.2817188376, g, 0.6299787005, b));
    const light = dot3(0.2104542553, l, 0.793617785, m, -0.0040720468, s);
    const a = dot3(1.9779984951, l, -2.428592205, m, 0.4505937099, s);
    const c = dot3(0.0259040371, l, 0.7827717662, m, -0.808675766, s);
    const dl = dot3(0, a, 0.3963377774, a, 0.2158037573, c);
    const dm = dot3(0, a, -0.1055613458, a, -0.0638541728, c);
    const ds = dot3(0, a, -0.0894841775, a, -1.291485548, c);
    let scale = wanted;
    let low = f32x4.min(one, wanted);
    let high = wanted;
    let red = r;
    let green = g;
    let blue = b;
    for (let i = 0; i < 12; i++) {
      const cl = cube(f32x4.add(light, f32x4.mul(scale, dl)));
      const cm = cube(f32x4.add(light, f32x4.mul(scale, dm)));
      const cs = cube(f32x4.add(light, f32x4.mul(scale, ds)));
      red = dot3(4.0767416621, cl, -3.3077115913, cm, 0.2309699292, cs);
      green = dot3(-1.2684380046, cl, 2.6097574011, cm, -0.3413193965, cs);
      blue = dot3(-0.0041960863, cl, -0.7034186147, cm, 1.707614701, cs);
      const fits = inGamut(red, green, blue);
      if (i == 0 && i32x4.all_true(fits)) break;
      low = v128.bitselect(scale, low, fits);
      high = v128.bitselect(high, scale, fits);
      // A lane that fitted at once has low = high and stays where it is.
      scale = f32x4.mul(f32x4.add(low, high), f32x4.splat(0.5));
    }
    v128.store(row + x, f32x4.min(f32x4.max(red, f32x4.splat(0)), one));
    v128.store(row + plane + x, f32x4.min(f32x4.max(green, f32x4.splat(0)), one));
    v128.store(row + 2 * plane + x, f32x4.min(f32x4.max(blue, f32x4.splat(0)), one));
  }
}
