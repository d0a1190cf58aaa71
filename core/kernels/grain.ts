// Grain: noise that stays with the place in the picture and with a seed, added to coded values.
import { decode, encode, scramble } from './transfer';

/** Grain that is added. */
// @ts-ignore: decorator
@unmanaged
class Grain {
  /** Deviation, in coded values. */
  more: f32 = 0;
  /** Pixels along a grain, and how much of finer ones is mixed in. */
  cell: f32 = 0;
  rough: f32 = 0;
  seed: i32 = 0;
}

/** Noise that a blur took. */
// @ts-ignore: decorator
@unmanaged
class LostNoise {
  /** The blur averaged a disc of haze x `radius` pixels (`power` 2), or a streak of twice that (1). */
  radius: f32 = 0;
  power: i32 = 0;
  /** The noise, see `noiseTable`. */
  table: usize = 0;
  /** Room for three rows of n + 8 floats. */
  room: usize = 0;
  seed: i32 = 0;
}

const BINS: i32 = 16;

/** Noise of a lattice point, with a mean of 0 and a deviation of 1: four bytes of a hash added up. */
// @ts-ignore: decorator
@inline
function latticeNoise(x: v128, y: i32, seed: i32): v128 {
  const h = scramble(v128.xor(i32x4.mul(x, i32x4.splat(0x9e3779b1)), i32x4.splat(y * 0x2c1b3c6d + seed)));
  const mask = i32x4.splat(0xff);
  const low = i32x4.add(v128.and(h, mask), v128.and(i32x4.shr_u(h, 8), mask));
  const high = i32x4.add(v128.and(i32x4.shr_u(h, 16), mask), i32x4.shr_u(h, 24));
  const sum = f32x4.convert_i32x4_s(i32x4.add(low, high));
  // Four numbers, each as likely as any other of 0..255: their sum deviates by 147.8 from its mean of 510.
  return f32x4.mul(f32x4.sub(sum, f32x4.splat(510)), f32x4.splat(1.0 / 147.8));
}

/** Noise in cells of so many pixels, at four pixels from x on: between lattice points, but as strong at every place. */
// @ts-ignore: decorator
@inline
function cellNoise(x: i32, y: i32, inverse: f32, seed: i32): v128 {
  const columns = f32x4.mul(f32x4.convert_i32x4_s(i32x4.add(i32x4.splat(x), i32x4(0, 1, 2, 3))), f32x4.splat(inverse));
  const place = <f32>y * inverse;
  const top = <i32>floor(place);
  const one = f32x4.splat(1);
  const right = f32x4.sub(columns, f32x4.floor(columns));
  const left = f32x4.sub(one, right);
  const below = f32x4.splat(place - <f32>top);
  const above = f32x4.sub(one, below);
  const x0 = i32x4.trunc_sat_f32x4_s(f32x4.floor(columns));
  const x1 = i32x4.add(x0, i32x4.splat(1));
  const upper = f32x4.add(f32x4.mul(left, latticeNoise(x0, top, seed)), f32x4.mul(right, latticeNoise(x1, top, seed)));
  const lower = f32x4.add(f32x4.mul(left, latticeNoise(x0, top + 1, seed)), f32x4.mul(right, latticeNoise(x1, top + 1, seed)));
  const across = f32x4.add(f32x4.mul(left, left), f32x4.mul(right, right));
  const down = f32x4.add(f32x4.mul(above, above), f32x4.mul(below, below));
  const sum = f32x4.add(f32x4.mul(above, upper), f32x4.mul(below, lower));
  return f32x4.div(sum, f32x4.sqrt(f32x4.mul(across, down)));
}

/** Linear light whose coded value is changed; what is brighter than white stays so much brighter. */
// @ts-ignore: decorator
@inline
function changed(linear: v128, coded: v128, by: v128): v128 {
  const to = f32x4.pmin(f32x4.add(coded, by), f32x4.splat(1.1));
  return f32x4.add(linear, f32x4.sub(decode(to), decode(coded)));
}

/**
 * Adds `Grain` to n pixels of three planes of linear light, the same to each channel's coded value. (px, py) is the first
 * pixel's place in the picture.
 */
export function grainRow(row: usize, plane: usize, n: i32, block: usize, px: i32, py: i32): void {
  const grain = changetype<Grain>(block);
  const more = grain.more;
  const cell = grain.cell;
  const rough = grain.rough;
  const seed = grain.seed;
  const inverse = <f32>1 / cell;
  const finer = <f32>1 / max(cell * <f32>0.5, <f32>1);
  const level = f32x4.splat(more / sqrt(<f32>1 + rough * rough));
  for (let x = 0; x < n; x += 4) {
    const to = row + (<usize>x << 2);
    let noise = cellNoise(px + x, py, inverse, seed);
    if (rough > 0) noise = f32x4.add(noise, f32x4.mul(f32x4.splat(rough), cellNoise(px + x, py, finer, seed + 7919)));
    const change = f32x4.mul(level, noise);
    for (let k: usize = 0; k < 3; k++) {
      const linear = v128.load(to + k * plane);
      v128.store(to + k * plane, changed(linear, encode(linear), change));
    }
  }
}

/**
 * A row of noise whose neighbours are alike: n + 2 samples from px - 2 on, summed down by three taps, then n across by three
 * in place: sample x of them is noise of pixel px + x.
 */
// @ts-ignore: decorator
@inline
function likeNoise(out: usize, n: i32, taps: usize, seed: i32, px: i32, py: i32): void {
  const down = taps + 12;
  const lone = load<f32>(down, 4) == 0 && load<f32>(down, 8) == 0;
  for (let x = 0; x < n + 2; x += 4) {
    const columns = i32x4.add(i32x4.splat(px - 2 + x), i32x4(0, 1, 2, 3));
    let sum = f32x4.mul(v128.load32_splat(down), latticeNoise(columns, py, seed));
    if (!lone) {
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(down, 4), latticeNoise(columns, py - 1, seed)));
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(down, 8), latticeNoise(columns, py - 2, seed)));
    }
    v128.store(out + (<usize>x << 2), sum);
  }
  const first = v128.load32_splat(taps);
  const second = v128.load32_splat(taps, 4);
  const third = v128.load32_splat(taps, 8);
  for (let x = 0; x < n; x += 4) {
    const at = out + (<usize>x << 2);
    const one = f32x4.mul(first, v128.load(at, 8));
    const two = f32x4.mul(second, v128.load(at, 4));
    v128.store(at, f32x4.add(one, f32x4.add(two, f32x4.mul(third, v128.load(at)))));
  }
}

/** Noise of one pixel in red, green and blue: three independent numbers times the root of its brightness's covariance. */
// @ts-ignore: decorator
@inline
function colouredNoise(table: usize, bin: i32, share: f32, one: f32, two: f32, three: f32): v128 {
  const at = table + <usize>bin * 48;
  const part = f32x4.splat(share);
  let sum = f32x4.splat(0);
  for (let k: usize = 0; k < 3; k++) {
    const low = v128.load(at + 16 * k);
    const column = f32x4.add(low, f32x4.mul(part, f32x4.sub(v128.load(at + 16 * k, 48), low)));
    sum = f32x4.add(sum, f32x4.mul(f32x4.splat(k == 0 ? one : k == 1 ? two : three), column));
  }
  return sum;
}

/** Puts back the `LostNoise` of n pixels: all but spread / area of its variance. (px, py) is the first pixel's place in the picture. */
export function matchRow(row: usize, plane: usize, n: i32, haze: usize, block: usize, px: i32, py: i32): void {
  const noise = changetype<LostNoise>(block);
  const radius = noise.radius;
  const power = noise.power;
  const table = noise.table;
  const room = noise.room;
  const seed = noise.seed;
  const one = f32x4.splat(1);
  const taps = table + 17 * 48;
  const spread = v128.load32_splat(taps, 24);
  const first = room;
  const second = first + (<usize>(n + 8) << 2);
  const third = second + (<usize>(n + 8) << 2);
  likeNoise(first, n, taps, seed, px, py);
  likeNoise(second, n, taps, seed + 7919, px, py);
  likeNoise(third, n, taps, seed + 104729, px, py);
  for (let x = 0; x < n; x += 4) {
    const at = <usize>x << 2;
    const to = row + at;
    const r = v128.load(to);
    const g = v128.load(to + plane);
    const b = v128.load(to + 2 * plane);
    const vr = encode(r);
    const vg = encode(g);
    const vb = encode(b);
    const luma = f32x4.add(f32x4.add(f32x4.mul(vr, f32x4.splat(0.2126)), f32x4.mul(vg, f32x4.splat(0.7152))), f32x4.mul(vb, f32x4.splat(0.0722)));
    const place = f32x4.pmin(f32x4.pmax(f32x4.sub(f32x4.mul(luma, f32x4.splat(<f32>BINS)), f32x4.splat(0.5)), f32x4.splat(0)), f32x4.splat(<f32>BINS - <f32>0.001));
    const bins = f32x4.floor(place);
    const whole = i32x4.trunc_sat_f32x4_s(bins);
    const share = f32x4.sub(place, bins);
    const w1 = v128.load(first + at);
    const w2 = v128.load(second + at);
    const w3 = v128.load(third + at);
    const p0 = colouredNoise(table, i32x4.extract_lane(whole, 0), f32x4.extract_lane(share, 0), f32x4.extract_lane(w1, 0), f32x4.extract_lane(w2, 0), f32x4.extract_lane(w3, 0));
    const p1 = colouredNoise(table, i32x4.extract_lane(whole, 1), f32x4.extract_lane(share, 1), f32x4.extract_lane(w1, 1), f32x4.extract_lane(w2, 1), f32x4.extract_lane(w3, 1));
    const p2 = colouredNoise(table, i32x4.extract_lane(whole, 2), f32x4.extract_lane(share, 2), f32x4.extract_lane(w1, 2), f32x4.extract_lane(w2, 2), f32x4.extract_lane(w3, 2));
    const p3 = colouredNoise(table, i32x4.extract_lane(whole, 3), f32x4.extract_lane(share, 3), f32x4.extract_lane(w1, 3), f32x4.extract_lane(w2, 3), f32x4.extract_lane(w3, 3));
    // Pixels that the blur averaged: a disc's area, or a streak's length.
    const reach = f32x4.mul(f32x4.pmax(v128.load(haze + at), f32x4.splat(0)), f32x4.splat(radius));
    const area = power == 2 ? f32x4.mul(f32x4.mul(reach, reach), f32x4.splat(3.14159265)) : f32x4.add(reach, reach);
    const lost = f32x4.sqrt(f32x4.sub(one, f32x4.div(spread, f32x4.pmax(area, spread))));
    // Four pixels of three channels to three channels of four pixels.
    const rg01 = i32x4.shuffle(p0, p1, 0, 4, 1, 5);
    const rg23 = i32x4.shuffle(p2, p3, 0, 4, 1, 5);
    const nr = i32x4.shuffle(rg01, rg23, 0, 1, 4, 5);
    const ng = i32x4.shuffle(rg01, rg23, 2, 3, 6, 7);
    const nb = i32x4.shuffle(i32x4.shuffle(p0, p1, 2, 6, 2, 6), i32x4.shuffle(p2, p3, 2, 6, 2, 6), 0, 1, 4, 5);
    v128.store(to, changed(r, vr, f32x4.mul(lost, nr)));
    v128.store(to + plane, changed(g, vg, f32x4.mul(lost, ng)));
    v128.store(to + 2 * plane, changed(b, vb, f32x4.mul(lost, nb)));
  }
}
