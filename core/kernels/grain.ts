// Grain: noise that stays with the place in the picture and with a seed, added to coded values.
import { decode, encode, scramble } from './transfer';

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

/** What a bin's curve says at four coded values: straight between the middles of the bins. */
// @ts-ignore: decorator
@inline
function curveAt(curve: usize, value: v128): v128 {
  const place = f32x4.pmin(f32x4.pmax(f32x4.sub(f32x4.mul(value, f32x4.splat(<f32>BINS)), f32x4.splat(0.5)), f32x4.splat(0)), f32x4.splat(<f32>BINS - <f32>1.001));
  const bins = f32x4.floor(place);
  const whole = i32x4.trunc_sat_f32x4_s(bins);
  const share = f32x4.sub(place, bins);
  const a = curve + (<usize>i32x4.extract_lane(whole, 0) << 2);
  const b = curve + (<usize>i32x4.extract_lane(whole, 1) << 2);
  const c = curve + (<usize>i32x4.extract_lane(whole, 2) << 2);
  const d = curve + (<usize>i32x4.extract_lane(whole, 3) << 2);
  let low = v128.load32_zero(a);
  low = v128.load32_lane(b, low, 1);
  low = v128.load32_lane(c, low, 2);
  low = v128.load32_lane(d, low, 3);
  let high = v128.load32_zero(a, 4);
  high = v128.load32_lane(b, high, 1, 4);
  high = v128.load32_lane(c, high, 2, 4);
  high = v128.load32_lane(d, high, 3, 4);
  return f32x4.add(low, f32x4.mul(share, f32x4.sub(high, low)));
}

/** Linear light whose coded value is changed; what is brighter than white stays so much brighter. */
// @ts-ignore: decorator
@inline
function changed(linear: v128, coded: v128, by: v128): v128 {
  const to = f32x4.pmin(f32x4.add(coded, by), f32x4.splat(1.1));
  return f32x4.add(linear, f32x4.sub(decode(to), decode(coded)));
}

/**
 * Adds grain to n pixels of three planes of linear light, the same to each channel's coded value. `curve` is the
 * deviation of the source's own noise by brightness, 16 coded values; of it as much is put back as a blur took that
 * averaged a disc of haze x `radius` pixels (`power` 2) or a streak of twice that (1): all but 1 / sqrt(area). `more` is
 * added everywhere. Grains are `cell` pixels large; `rough` mixes in finer ones. (px, py) is the first pixel's place in the picture.
 */
export function grainRow(row: usize, plane: usize, n: i32, haze: usize, radius: f32, power: i32, curve: usize, more: f32, cell: f32, rough: f32, seed: i32, px: i32, py: i32): void {
  const one = f32x4.splat(1);
  const inverse = <f32>1 / cell;
  const finer = <f32>1 / max(cell * <f32>0.5, <f32>1);
  const level = f32x4.splat(<f32>1 / sqrt(<f32>1 + rough * rough));
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
    // Pixels that the blur averaged: a disc's area, or a streak's length.
    const reach = f32x4.mul(f32x4.pmax(v128.load(haze + at), f32x4.splat(0)), f32x4.splat(radius));
    const area = power == 2 ? f32x4.mul(f32x4.mul(reach, reach), f32x4.splat(3.14159265)) : f32x4.add(reach, reach);
    const lost = f32x4.sub(one, f32x4.div(one, f32x4.pmax(area, one)));
    const own = curveAt(curve, luma);
    const variance = f32x4.add(f32x4.mul(f32x4.mul(own, own), lost), f32x4.splat(more * more));
    let noise = cellNoise(px + x, py, inverse, seed);
    if (rough > 0) noise = f32x4.mul(level, f32x4.add(noise, f32x4.mul(f32x4.splat(rough), cellNoise(px + x, py, finer, seed + 7919))));
    const change = f32x4.mul(noise, f32x4.sqrt(variance));
    v128.store(to, changed(r, vr, change));
    v128.store(to + plane, changed(g, vg, change));
    v128.store(to + 2 * plane, changed(b, vb, change));
  }
}
