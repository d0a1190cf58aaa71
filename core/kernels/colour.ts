// Saturation in Oklab (B. Ottosson, "A perceptual color space for image processing", 2020).

/** Halvings of the span in which the gamut's edge is sought. */
const HALVINGS: i32 = 13;
/** How far outside the gamut is as good as inside: a sixth of an 8-bit level at black. */
const TOLERANCE: f32 = 5e-5;

/** Cube root of non-negative values: a guess from the float's bits, a step of Halley's method, one of Newton's; error 2e-7. */
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
  const near = f32x4.mul(y, f32x4.div(f32x4.add(cubed, f32x4.add(x, x)), f32x4.add(twice, x)));
  const beyond = f32x4.sub(near, f32x4.div(x, f32x4.mul(near, near)));
  return f32x4.sub(near, f32x4.mul(beyond, f32x4.splat(1.0 / 3.0)));
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

/** Stores r, g, b with the chroma scaled, see `saturateRow`; gives how far outside the worst channel lies. */
// @ts-ignore: decorator
@inline
function putScaled(at: usize, plane: usize, scale: v128, light: v128, l: v128, m: v128, s: v128, r: v128, g: v128, b: v128): v128 {
  const cl = f32x4.sub(cube(f32x4.add(light, f32x4.mul(scale, f32x4.sub(l, light)))), cube(l));
  const cm = f32x4.sub(cube(f32x4.add(light, f32x4.mul(scale, f32x4.sub(m, light)))), cube(m));
  const cs = f32x4.sub(cube(f32x4.add(light, f32x4.mul(scale, f32x4.sub(s, light)))), cube(s));
  const red = f32x4.add(r, dot3(4.0767416621, cl, -3.3077115913, cm, 0.2309699292, cs));
  const green = f32x4.add(g, dot3(-1.2684380046, cl, 2.6097574011, cm, -0.3413193965, cs));
  const blue = f32x4.add(b, dot3(-0.0041960863, cl, -0.7034186147, cm, 1.707614701, cs));
  v128.store(at, red);
  v128.store(at + plane, green);
  v128.store(at + 2 * plane, blue);
  return excess(red, green, blue);
}

/**
 * Scales chroma by 1 + amount in three linear planes, in place. Scaling a and b of Oklab by k takes each cone response's
 * cube root l to L + k (l - L), so a and b themselves are not needed; what that changes is added to the pixel: k = 1
 * changes nothing. Where the wanted chroma leaves the gamut, the most that fits at the same hue and lightness is sought
 * by halving: the channels near 0 are so flat there that faster rules creep.
 * A pixel that lies outside already may stay as far outside as it is.
 */
export function saturateRow(row: usize, plane: usize, n: i32, amount: f32): void {
  const wanted = f32x4.splat(1 + amount);
  const one = f32x4.splat(1);
  const half = f32x4.splat(0.5);
  const tolerance = f32x4.splat(TOLERANCE);
  for (let at = row, end = row + (<usize>n << 2); at < end; at += 16) {
    const r = v128.load(at);
    const g = v128.load(at + plane);
    const b = v128.load(at + 2 * plane);
    const l = cubeRoot(dot3(0.4122214708, r, 0.5363325363, g, 0.0514459929, b));
    const m = cubeRoot(dot3(0.2119034982, r, 0.6806995451, g, 0.1073969566, b));
    const s = cubeRoot(dot3(0.0883024619, r, 0.2817188376, g, 0.6299787005, b));
    const light = dot3(0.2104542553, l, 0.793617785, m, -0.0040720468, s);
    const room = f32x4.pmax(tolerance, excess(r, g, b));
    let fits = f32x4.le(putScaled(at, plane, wanted, light, l, m, s, r, g, b), room);
    if (i32x4.all_true(fits)) continue;
    // The most chroma known to fit and the least known not to; a lane that fits has nothing to seek.
    let low = v128.bitselect(wanted, f32x4.pmin(one, wanted), fits);
    let high = wanted;
    for (let i = 0; i < HALVINGS; i++) {
      const scale = f32x4.mul(f32x4.add(low, high), half);
      fits = f32x4.le(putScaled(at, plane, scale, light, l, m, s, r, g, b), room);
      low = v128.bitselect(scale, low, fits);
      high = v128.bitselect(high, scale, fits);
    }
    putScaled(at, plane, low, light, l, m, s, r, g, b);
  }
}

/** All light times a factor. */
export function scaleRow(row: usize, plane: usize, n: i32, factor: f32): void {
  const by = f32x4.splat(factor);
  for (let at = row, end = row + (<usize>n << 2); at < end; at += 16) {
    v128.store(at, f32x4.mul(v128.load(at), by));
    v128.store(at + plane, f32x4.mul(v128.load(at + plane), by));
    v128.store(at + 2 * plane, f32x4.mul(v128.load(at + 2 * plane), by));
  }
}

/** Adds a share of a row to another: three planes each. */
export function addRow(row: usize, plane: usize, n: i32, share: f32, sum: usize, sumPlane: usize): void {
  const by = f32x4.splat(share);
  for (let p: usize = 0; p < 3; p++) {
    const from = row + p * plane;
    const to = sum + p * sumPlane;
    for (let at: usize = 0, end = <usize>n << 2; at < end; at += 16)
      v128.store(to + at, f32x4.add(v128.load(to + at), f32x4.mul(v128.load(from + at), by)));
  }
}
