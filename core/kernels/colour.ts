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

// Linear light is of the sRGB primaries where a function is for f32, and of those of Display P3 (SMPTE EG 432-1, with the
// white of sRGB) where it is for i32: so each has its numbers in its code.

// Cube roots of what the three cones get of linear light, and the lightness that they make.

// @ts-ignore: decorator
@inline
function longCone<P>(r: v128, g: v128, b: v128): v128 {
  if (isFloat<P>()) return cubeRoot(dot3(0.4122214708, r, 0.5363325363, g, 0.0514459929, b));
  return cubeRoot(dot3(0.4813798544, r, 0.4621183697, g, 0.0565017758, b));
}

// @ts-ignore: decorator
@inline
function middleCone<P>(r: v128, g: v128, b: v128): v128 {
  if (isFloat<P>()) return cubeRoot(dot3(0.2119034982, r, 0.6806995451, g, 0.1073969566, b));
  return cubeRoot(dot3(0.2288319449, r, 0.6532168128, g, 0.1179512422, b));
}

// @ts-ignore: decorator
@inline
function shortCone<P>(r: v128, g: v128, b: v128): v128 {
  if (isFloat<P>()) return cubeRoot(dot3(0.0883024619, r, 0.2817188376, g, 0.6299787005, b));
  return cubeRoot(dot3(0.0839457557, r, 0.2241652689, g, 0.6918889754, b));
}

// @ts-ignore: decorator
@inline
function lightnessOf(l: v128, m: v128, s: v128): v128 {
  return dot3(0.2104542553, l, 0.793617785, m, -0.0040720468, s);
}

// Linear light of what the three cones get.

// @ts-ignore: decorator
@inline
function redOf<P>(l: v128, m: v128, s: v128): v128 {
  if (isFloat<P>()) return dot3(4.0767416621, l, -3.3077115913, m, 0.2309699292, s);
  return dot3(3.1277689872, l, -2.2571357962, m, 0.129366809, s);
}

// @ts-ignore: decorator
@inline
function greenOf<P>(l: v128, m: v128, s: v128): v128 {
  if (isFloat<P>()) return dot3(-1.2684380046, l, 2.6097574011, m, -0.3413193965, s);
  return dot3(-1.0910090478, l, 2.4133317587, m, -0.3223227108, s);
}

// @ts-ignore: decorator
@inline
function blueOf<P>(l: v128, m: v128, s: v128): v128 {
  if (isFloat<P>()) return dot3(-0.0041960863, l, -0.7034186147, m, 1.707614701, s);
  return dot3(-0.026010813, l, -0.5080413259, m, 1.5340521389, s);
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
function putScaled<P>(at: usize, plane: usize, scale: v128, light: v128, l: v128, m: v128, s: v128, r: v128, g: v128, b: v128): v128 {
  const cl = f32x4.sub(cube(f32x4.add(light, f32x4.mul(scale, f32x4.sub(l, light)))), cube(l));
  const cm = f32x4.sub(cube(f32x4.add(light, f32x4.mul(scale, f32x4.sub(m, light)))), cube(m));
  const cs = f32x4.sub(cube(f32x4.add(light, f32x4.mul(scale, f32x4.sub(s, light)))), cube(s));
  const red = f32x4.add(r, redOf<P>(cl, cm, cs));
  const green = f32x4.add(g, greenOf<P>(cl, cm, cs));
  const blue = f32x4.add(b, blueOf<P>(cl, cm, cs));
  v128.store(at, red);
  v128.store(at + plane, green);
  v128.store(at + 2 * plane, blue);
  return excess(red, green, blue);
}

// @ts-ignore: decorator
@inline
function saturateIn<P>(row: usize, plane: usize, n: i32, amount: f32): void {
  const wanted = f32x4.splat(1 + amount);
  const one = f32x4.splat(1);
  const half = f32x4.splat(0.5);
  const tolerance = f32x4.splat(TOLERANCE);
  for (let at = row, end = row + (<usize>n << 2); at < end; at += 16) {
    const r = v128.load(at);
    const g = v128.load(at + plane);
    const b = v128.load(at + 2 * plane);
    const l = longCone<P>(r, g, b);
    const m = middleCone<P>(r, g, b);
    const s = shortCone<P>(r, g, b);
    const light = lightnessOf(l, m, s);
    const room = f32x4.pmax(tolerance, excess(r, g, b));
    let fits = f32x4.le(putScaled<P>(at, plane, wanted, light, l, m, s, r, g, b), room);
    if (i32x4.all_true(fits)) continue;
    // The most chroma known to fit and the least known not to; a lane that fits has nothing to seek.
    let low = v128.bitselect(wanted, f32x4.pmin(one, wanted), fits);
    let high = wanted;
    for (let i = 0; i < HALVINGS; i++) {
      const scale = f32x4.mul(f32x4.add(low, high), half);
      fits = f32x4.le(putScaled<P>(at, plane, scale, light, l, m, s, r, g, b), room);
      low = v128.bitselect(scale, low, fits);
      high = v128.bitselect(high, scale, fits);
    }
    putScaled<P>(at, plane, low, light, l, m, s, r, g, b);
  }
}

/**
 * Scales chroma by 1 + amount in three linear planes, in place. Scaling a and b of Oklab by k takes each cone response's
 * cube root l to L + k (l - L), so a and b themselves are not needed; what that changes is added to the pixel: k = 1
 * changes nothing. Where the wanted chroma leaves the gamut, the most that fits at the same hue and lightness is sought
 * by halving: the channels near 0 are so flat there that faster rules creep.
 * A pixel that lies outside already may stay as far outside as it is.
 */
export function saturateRow(row: usize, plane: usize, n: i32, amount: f32): void {
  saturateIn<f32>(row, plane, n, amount);
}

/** The same in Display P3. */
export function saturateRowP3(row: usize, plane: usize, n: i32, amount: f32): void {
  saturateIn<i32>(row, plane, n, amount);
}

/** Three linear planes times a matrix, nine floats row by row. */
export function matrixRow(row: usize, plane: usize, n: i32, matrix: usize): void {
  const m0 = load<f32>(matrix);
  const m1 = load<f32>(matrix, 4);
  const m2 = load<f32>(matrix, 8);
  const m3 = load<f32>(matrix, 12);
  const m4 = load<f32>(matrix, 16);
  const m5 = load<f32>(matrix, 20);
  const m6 = load<f32>(matrix, 24);
  const m7 = load<f32>(matrix, 28);
  const m8 = load<f32>(matrix, 32);
  for (let at = row, end = row + (<usize>n << 2); at < end; at += 16) {
    const r = v128.load(at);
    const g = v128.load(at + plane);
    const b = v128.load(at + 2 * plane);
    v128.store(at, dot3(m0, r, m1, g, m2, b));
    v128.store(at + plane, dot3(m3, r, m4, g, m5, b));
    v128.store(at + 2 * plane, dot3(m6, r, m7, g, m8, b));
  }
}

/** Lightness of a grey of half the coded value: what contrast turns about. */
const MIDDLE: f32 = 0.5982;
/** Steepness of full contrast: all but flat at black. */
const CONTRAST: f32 = 1.6;
/** Chroma at which vibrance does half of what it does to greys. */
const PALE: f32 = 0.12;
/** Lightness that full chroma of 1 adds where a hue is mixed in whole. */
const MIXED: f32 = 1.5;

/** The cubic through black, middle and white that full contrast adds to lightness; straight on beyond white. */
// @ts-ignore: decorator
@inline
function contrastOf(light: v128): v128 {
  const one = f32x4.splat(1);
  const inside = f32x4.pmin(light, one);
  const cubic = f32x4.mul(f32x4.mul(inside, f32x4.sub(one, inside)), f32x4.sub(inside, f32x4.splat(MIDDLE)));
  const beyond = f32x4.mul(f32x4.sub(light, inside), f32x4.splat(-(<f32>1 - MIDDLE)));
  return f32x4.mul(f32x4.add(cubic, beyond), f32x4.splat(CONTRAST));
}

/** Stores the linear light of Oklab (light, scale x a, scale x b); gives how far outside the worst channel lies. */
// @ts-ignore: decorator
@inline
function putOklab<P>(at: usize, plane: usize, light: v128, a: v128, b: v128, scale: v128): v128 {
  const sa = f32x4.mul(a, scale);
  const sb = f32x4.mul(b, scale);
  const l = cube(f32x4.add(light, dot3(0.3963377774, sa, 0.2158037573, sb, 0, sb)));
  const m = cube(f32x4.add(light, dot3(-0.1055613458, sa, -0.0638541728, sb, 0, sb)));
  const s = cube(f32x4.add(light, dot3(-0.0894841775, sa, -1.291485548, sb, 0, sb)));
  const red = redOf<P>(l, m, s);
  const green = greenOf<P>(l, m, s);
  const blue = blueOf<P>(l, m, s);
  v128.store(at, red);
  v128.store(at + plane, green);
  v128.store(at + 2 * plane, blue);
  return excess(red, green, blue);
}

/** A hue's place on the way round, 0..4 and 4 again: y / (|x| + |y|) in four straight pieces. */
// @ts-ignore: decorator
@inline
function roundOf(a: v128, b: v128): v128 {
  const one = f32x4.splat(1);
  const sum = f32x4.pmax(f32x4.add(f32x4.abs(a), f32x4.abs(b)), f32x4.splat(1e-9));
  const t = f32x4.div(b, sum);
  const right = v128.bitselect(t, f32x4.add(f32x4.splat(4), t), f32x4.ge(b, f32x4.splat(0)));
  const left = f32x4.sub(f32x4.add(one, one), t);
  return v128.bitselect(left, right, f32x4.lt(a, f32x4.splat(0)));
}

// @ts-ignore: decorator
@inline
function gradeIn<P>(row: usize, plane: usize, n: i32, grade: usize): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const half = f32x4.splat(0.5);
  const tolerance = f32x4.splat(TOLERANCE);
  const contrast = v128.load32_splat(grade);
  const vibrance = v128.load32_splat(grade, 4);
  const chroma = v128.load32_splat(grade, 8);
  const isGrey = load<f32>(grade, 36) != 0;
  const palest = f32x4.splat(PALE * PALE);
  for (let at = row, end = row + (<usize>n << 2); at < end; at += 16) {
    const r = v128.load(at);
    const g = v128.load(at + plane);
    const b = v128.load(at + 2 * plane);
    const l = longCone<P>(r, g, b);
    const m = middleCone<P>(r, g, b);
    const s = shortCone<P>(r, g, b);
    const before = lightnessOf(l, m, s);
    let oa = dot3(1.9779984951, l, -2.428592205, m, 0.4505937099, s);
    let ob = dot3(0.0259040371, l, 0.7827717662, m, -0.808675766, s);
    let light = f32x4.add(before, f32x4.mul(contrast, contrastOf(before)));
    // As strong a colour for its lightness as it was.
    let scale = f32x4.div(light, f32x4.pmax(before, f32x4.splat(1e-6)));
    const squared = f32x4.mul(f32x4.mul(scale, scale), f32x4.add(f32x4.mul(oa, oa), f32x4.mul(ob, ob)));
    const pale = f32x4.div(palest, f32x4.add(palest, squared));
    scale = f32x4.mul(f32x4.mul(scale, f32x4.add(one, f32x4.mul(vibrance, pale))), chroma);
    const inside = f32x4.pmin(one, f32x4.pmax(zero, light));
    const dark = f32x4.sub(one, inside);
    const shadows = f32x4.mul(dark, dark);
    const lights = f32x4.mul(inside, inside);
    const middle = f32x4.mul(f32x4.add(dark, dark), inside);
    oa = f32x4.add(f32x4.mul(oa, scale), dot3(load<f32>(grade, 12), shadows, load<f32>(grade, 20), middle, load<f32>(grade, 28), lights));
    ob = f32x4.add(f32x4.mul(ob, scale), dot3(load<f32>(grade, 16), shadows, load<f32>(grade, 24), middle, load<f32>(grade, 32), lights));
    if (isGrey) {
      const way = roundOf(oa, ob);
      let mix = zero;
      for (let piece = grade + 40, last = grade + 40 + 8 * 12; piece < last; piece += 12) {
        const from = v128.load32_splat(piece);
        const value = f32x4.add(v128.load32_splat(piece, 4), f32x4.mul(v128.load32_splat(piece, 8), f32x4.sub(way, from)));
        mix = v128.bitselect(value, mix, f32x4.ge(way, from));
      }
      const strength = f32x4.sqrt(f32x4.add(f32x4.mul(oa, oa), f32x4.mul(ob, ob)));
      light = f32x4.pmax(zero, f32x4.add(light, f32x4.mul(f32x4.mul(mix, strength), f32x4.splat(MIXED))));
      const grey = cube(light);
      v128.store(at, grey);
      v128.store(at + plane, grey);
      v128.store(at + 2 * plane, grey);
      continue;
    }
    const room = f32x4.pmax(f32x4.pmax(tolerance, excess(r, g, b)), f32x4.sub(cube(light), one));
    let fits = f32x4.le(putOklab<P>(at, plane, light, oa, ob, one), room);
    if (i32x4.all_true(fits)) continue;
    let low = v128.bitselect(one, zero, fits);
    let high = one;
    for (let i = 0; i < HALVINGS; i++) {
      const share = f32x4.mul(f32x4.add(low, high), half);
      fits = f32x4.le(putOklab<P>(at, plane, light, oa, ob, share), room);
      low = v128.bitselect(share, low, fits);
      high = v128.bitselect(high, share, fits);
    }
    putOklab<P>(at, plane, light, oa, ob, low);
  }
}

/**
 * Changes tone and colour of three linear planes in Oklab, in place. `grade` points to floats: 0 contrast, 1 vibrance,
 * 2 times the chroma, 3 to 8 shifts of a and b in the shadows, the middle and the lights, 9 whether it becomes black and
 * white, then 8 pieces of what the hues add to lightness there: where each begins on the way round (see `hueCoordinate`), what
 * it adds there, and its slope. What leaves the gamut keeps its hue and lightness, as in `saturateRow`.
 */
export function gradeRow(row: usize, plane: usize, n: i32, grade: usize): void {
  gradeIn<f32>(row, plane, n, grade);
}

/** The same in Display P3. */
export function gradeRowP3(row: usize, plane: usize, n: i32, grade: usize): void {
  gradeIn<i32>(row, plane, n, grade);
}

/** A value between the middles of four cells: `a` `b` above, `c` `d` below, as offsets from `at`. */
// @ts-ignore: decorator
@inline
function cellAt(at: usize, a: usize, b: usize, c: usize, d: usize, across: f32, down: f32): f32 {
  const upper = load<f32>(at + a) + across * (load<f32>(at + b) - load<f32>(at + a));
  const lower = load<f32>(at + c) + across * (load<f32>(at + d) - load<f32>(at + c));
  return upper + down * (lower - upper);
}

/** How light the surroundings are, slope x lightness + offset, read between the middles of cells; and what is made of it. */
// @ts-ignore: decorator
@unmanaged
class Surroundings {
  /** Rows of two planes, slope and offset; bytes from row to row, and from plane to plane. */
  cells: usize = 0;
  row: usize = 0;
  plane: usize = 0;
  columns: i32 = 0;
  rows: i32 = 0;
  /** What a pixel adds to the place of the one before, in cells. */
  dx: f32 = 0;
  dy: f32 = 0;
  amount: f32 = 0;
}

// @ts-ignore: decorator
@inline
function clarityIn<P>(row: usize, plane: usize, n: i32, x: f32, y: f32, block: usize): void {
  const around = changetype<Surroundings>(block);
  const cells = around.cells;
  const cellRow = around.row;
  const cellPlane = around.plane;
  const columns = around.columns;
  const rows = around.rows;
  const dx = around.dx;
  const dy = around.dy;
  const amount = around.amount;
  const right = <f32>(columns - 1);
  const bottom = <f32>(rows - 1);
  const by = f32x4.splat(amount);
  const least = f32x4.splat(1e-6);
  for (let p = 0; p < n; p += 4) {
    const at = row + (<usize>p << 2);
    let slope = f32x4.splat(0);
    let offset = slope;
    for (let lane = 0; lane < 4; lane++) {
      const across = min(right, max(<f32>0, x + <f32>(p + lane) * dx));
      const down = min(bottom, max(<f32>0, y + <f32>(p + lane) * dy));
      const i = <i32>across;
      const j = <i32>down;
      const a = <usize>j * cellRow + (<usize>i << 2);
      const b = i < columns - 1 ? a + 4 : a;
      const below: usize = j < rows - 1 ? cellRow : 0;
      const s = cellAt(cells, a, b, a + below, b + below, across - <f32>i, down - <f32>j);
      const o = cellAt(cells + cellPlane, a, b, a + below, b + below, across - <f32>i, down - <f32>j);
      slope = lane == 0 ? f32x4.replace_lane(slope, 0, s) : lane == 1 ? f32x4.replace_lane(slope, 1, s) : lane == 2 ? f32x4.replace_lane(slope, 2, s) : f32x4.replace_lane(slope, 3, s);
      offset = lane == 0 ? f32x4.replace_lane(offset, 0, o) : lane == 1 ? f32x4.replace_lane(offset, 1, o) : lane == 2 ? f32x4.replace_lane(offset, 2, o) : f32x4.replace_lane(offset, 3, o);
    }
    const r = v128.load(at);
    const g = v128.load(at + plane);
    const b = v128.load(at + 2 * plane);
    const l = longCone<P>(r, g, b);
    const m = middleCone<P>(r, g, b);
    const s = shortCone<P>(r, g, b);
    const light = f32x4.pmax(least, lightnessOf(l, m, s));
    const beside = f32x4.add(f32x4.mul(slope, light), offset);
    const moved = f32x4.pmax(f32x4.splat(0), f32x4.add(light, f32x4.mul(by, f32x4.sub(light, beside))));
    const scale = cube(f32x4.div(moved, light));
    v128.store(at, f32x4.mul(r, scale));
    v128.store(at + plane, f32x4.mul(g, scale));
    v128.store(at + 2 * plane, f32x4.mul(b, scale));
  }
}

/**
 * Moves the lightness of three linear planes away from that of its `Surroundings`, by `amount` times their difference, or
 * towards it. The first pixel lies at cell (x, y). All light of a pixel is scaled alike, so its hue stays, and its colour is
 * as strong for its lightness.
 */
export function clarityRow(row: usize, plane: usize, n: i32, x: f32, y: f32, block: usize): void {
  clarityIn<f32>(row, plane, n, x, y, block);
}

/** The same in Display P3. */
export function clarityRowP3(row: usize, plane: usize, n: i32, x: f32, y: f32, block: usize): void {
  clarityIn<i32>(row, plane, n, x, y, block);
}

/** All light times a factor. */
export function multiplyRow(row: usize, plane: usize, n: i32, factor: f32): void {
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
