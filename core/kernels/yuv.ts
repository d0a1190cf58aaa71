// Planes of luma and halved chroma (4:2:0) to linear light and back. Chroma samples lie on every other pixel of a row,
// half-way between two rows, as MPEG-2 and its successors place them.

import { KeptPixels, decode, encode, rounded, scramble, triangle } from './transfer';

/** Factors of a matrix and range. */
// @ts-ignore: decorator
@unmanaged
class YuvFactors {
  lumaScale: f32 = 0;
  lumaOffset: f32 = 0;
  redOfCr: f32 = 0;
  greenOfCb: f32 = 0;
  greenOfCr: f32 = 0;
  blueOfCb: f32 = 0;
  /** Shares of red and blue in luma. */
  kr: f32 = 0;
  kb: f32 = 0;
  lumaSpan: f32 = 0;
  cbSpan: f32 = 0;
  crSpan: f32 = 0;
  /** The level of no colour. */
  middle: f32 = 0;
  /** The highest level: where it is above 255, levels that are written take two bytes. */
  top: f32 = 0;
}

/** The rows of chroma of a row of pixels. */
// @ts-ignore: decorator
@unmanaged
class ChromaRows {
  /** The first samples of the nearer row. */
  u: usize = 0;
  v: usize = 0;
  /** Bytes from them to those of the farther one. */
  far: i32 = 0;
  /** Samples that the row still has after the first. */
  left: i32 = 0;
}

/** Writes four levels, of one byte each, or of two where they are `wide`. */
// @ts-ignore: decorator
@inline
function store4(at: usize, level: v128, wide: bool): void {
  if (wide) v128.store64_lane(at, i16x8.narrow_i32x4_u(level, level), 0);
  else v128.store32_lane(at, i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_s(level, level), level), 0);
}

// @ts-ignore: decorator
@inline
function bytes4(at: usize): v128 {
  return f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(at))));
}

/** Four bytes, of which those behind the last repeat it. */
// @ts-ignore: decorator
@inline
function bytesBefore(at: usize, last: usize): v128 {
  const b = min(at + 1, last);
  const c = min(at + 2, last);
  return f32x4(<f32>load<u8>(min(at, last)), <f32>load<u8>(b), <f32>load<u8>(c), 0);
}

/** Chroma at four pixels, the first of which lies on a sample, less its middle. */
// @ts-ignore: decorator
@inline
function chromaAt(near: usize, far: usize, nearLast: usize, farLast: usize): v128 {
  const inside = near + 3 <= nearLast;
  const a = inside ? bytes4(near) : bytesBefore(near, nearLast);
  const b = inside ? bytes4(far) : bytesBefore(far, farLast);
  const c = f32x4.sub(f32x4.add(f32x4.mul(a, f32x4.splat(0.75)), f32x4.mul(b, f32x4.splat(0.25))), f32x4.splat(128));
  const here = i32x4.shuffle(c, c, 0, 0, 1, 1);
  const next = i32x4.shuffle(c, c, 0, 1, 1, 2);
  return f32x4.mul(f32x4.add(here, next), f32x4.splat(0.5));
}

/** n pixels from an even one on, of a row of luma and `ChromaRows`, by `YuvFactors`. */
export function decodeYuvRow(luma: usize, chroma: usize, factors: usize, out: usize, plane: usize, n: i32): void {
  const by = changetype<YuvFactors>(factors);
  const scale = f32x4.splat(by.lumaScale);
  const offset = f32x4.splat(by.lumaOffset);
  const rCr = f32x4.splat(by.redOfCr);
  const gCb = f32x4.splat(by.greenOfCb);
  const gCr = f32x4.splat(by.greenOfCr);
  const bCb = f32x4.splat(by.blueOfCb);
  const rows = changetype<ChromaRows>(chroma);
  const u = rows.u;
  const v = rows.v;
  const far = rows.far;
  const left = rows.left;
  const uLast = u + <usize>left;
  const vLast = v + <usize>left;
  // Rows have room for whole vectors behind their last pixel; the bytes of luma behind it are of no account.
  for (let x = 0; x < n; x += 4) {
    const k = <usize>(x >> 1);
    const y = f32x4.mul(f32x4.sub(bytes4(luma + <usize>x), offset), scale);
    const cb = chromaAt(u + k, u + k + far, uLast, uLast + far);
    const cr = chromaAt(v + k, v + k + far, vLast, vLast + far);
    const at = out + (<usize>x << 2);
    v128.store(at, decode(f32x4.add(y, f32x4.mul(rCr, cr))));
    v128.store(at + plane, decode(f32x4.add(y, f32x4.add(f32x4.mul(gCb, cb), f32x4.mul(gCr, cr)))));
    v128.store(at + 2 * plane, decode(f32x4.add(y, f32x4.mul(bCb, cb))));
  }
}

/**
 * Linear planes to luma, with noise of half a level; green and blue of the row become the chroma of each pixel for
 * `downsampleChromaRow`. `keep` is 0 or a `KeptPixels`, whose source has levels of bytes as well.
 */
export function encodeLumaRow(row: usize, plane: usize, keep: usize, factors: usize, out: usize, n: i32, px: i32, py: i32): void {
  const by = changetype<YuvFactors>(factors);
  const haze: usize = keep ? changetype<KeptPixels>(keep).haze : 0;
  const source: usize = keep ? changetype<KeptPixels>(keep).source : 0;
  const kr = f32x4.splat(by.kr);
  const kb = f32x4.splat(by.kb);
  const kg = f32x4.sub(f32x4.sub(f32x4.splat(1), kr), kb);
  const span = f32x4.splat(by.lumaSpan);
  const offset = f32x4.splat(by.lumaOffset);
  const cbSpan = f32x4.splat(by.cbSpan);
  const crSpan = f32x4.splat(by.crSpan);
  const middle = f32x4.splat(by.middle);
  const top = by.top;
  const wide = top > 255;
  const rowSeed = i32x4.splat(py * 0x2c1b3c6d + 0x297a2d39);
  for (let x = 0; x < n; x += 4) {
    const at = row + (<usize>x << 2);
    const r = encode(v128.load(at));
    const g = encode(v128.load(at + plane));
    const b = encode(v128.load(at + 2 * plane));
    const y = f32x4.add(f32x4.add(f32x4.mul(kr, r), f32x4.mul(kg, g)), f32x4.mul(kb, b));
    v128.store(at + plane, f32x4.add(f32x4.mul(f32x4.sub(b, y), cbSpan), middle));
    v128.store(at + 2 * plane, f32x4.add(f32x4.mul(f32x4.sub(r, y), crSpan), middle));
    const h = scramble(v128.xor(rowSeed, i32x4.mul(i32x4.add(i32x4.splat(px + x), i32x4(0, 1, 2, 3)), i32x4.splat(0x9e3779b1))));
    // Black and white stay free of speckles.
    const room = f32x4.pmin(f32x4.splat(1), f32x4.mul(f32x4.pmin(y, f32x4.sub(f32x4.splat(1), y)), f32x4.splat(top)));
    const noise = f32x4.mul(f32x4.mul(triangle(h, 0), f32x4.splat(0.5)), f32x4.pmax(f32x4.splat(0), room));
    const level = rounded(f32x4.add(f32x4.add(f32x4.mul(y, span), offset), noise), top);
    if (haze == 0 && n - x >= 4) {
      store4(out + (<usize>x << <usize>wide), level, wide);
      continue;
    }
    if (wide) {
      for (let k = 0; k < min(n - x, 4); k++) store<u16>(out + (<usize>(x + k) << 1), <u16>laneOf(level, k));
      continue;
    }
    const packed = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_s(level, level), level);
    const word = i32x4.extract_lane(packed, 0);
    for (let k = 0; k < min(n - x, 4); k++) {
      const to = <usize>(x + k);
      if (haze != 0 && load<f32>(haze + (to << 2)) == 0) store<u8>(out + to, load<u8>(source + to));
      else store<u8>(out + to, <u8>(word >> (k << 3)));
    }
  }
}

/** One of four whole numbers. */
// @ts-ignore: decorator
@inline
function laneOf(level: v128, k: i32): i32 {
  if (k == 0) return i32x4.extract_lane(level, 0);
  if (k == 1) return i32x4.extract_lane(level, 1);
  return k == 2 ? i32x4.extract_lane(level, 2) : i32x4.extract_lane(level, 3);
}

/** Whether any of eight pixels of a row is without haze. */
// @ts-ignore: decorator
@inline
function anyClear(haze: usize): bool {
  const zero = f32x4.splat(0);
  return v128.any_true(v128.or(f32x4.eq(v128.load(haze), zero), f32x4.eq(v128.load(haze, 16), zero)));
}

/**
 * One row of chroma out of two rows of pixels, weighed 1 2 1 along and evenly across: n pixels from an even one on. `a`
 * and `b` are the chroma of their pixels. `keep` is 0 or a `KeptPixels`: a sample whose pixels are all without haze takes the
 * byte of the source. `before` is the sum of both rows' chroma at the pixel before the first; no number where there is none, or
 * it is not known. `top` is the highest level, see `YuvFactors`. Gives the sum at the last pixel.
 */
export function downsampleChromaRow(a: usize, b: usize, keep: usize, out: usize, n: i32, before: f32, top: f32): f32 {
  const hazeA: usize = keep ? changetype<KeptPixels>(keep).haze : 0;
  const hazeB: usize = keep ? changetype<KeptPixels>(keep).below : 0;
  const source: usize = keep ? changetype<KeptPixels>(keep).source : 0;
  const wide = top > 255;
  // Beyond the edge lies the first pixel's like.
  const first = isNaN<f32>(before) ? load<f32>(a) + load<f32>(b) : before;
  let last = f32x4.splat(first);
  for (let x = 0; x < n; ) {
    const at = <usize>x << 2;
    if (n - x >= 8 && (hazeA == 0 || !(anyClear(hazeA + at) || anyClear(hazeB + at)))) {
      const front = f32x4.add(v128.load(a + at), v128.load(b + at));
      const second = f32x4.add(v128.load(a + at, 16), v128.load(b + at, 16));
      const evens = i32x4.shuffle(front, second, 0, 2, 4, 6);
      const odds = i32x4.shuffle(front, second, 1, 3, 5, 7);
      const around = f32x4.add(i32x4.shuffle(last, odds, 3, 4, 5, 6), odds);
      const level = rounded(f32x4.mul(f32x4.add(around, f32x4.add(evens, evens)), f32x4.splat(0.125)), top);
      store4(out + (<usize>(x >> 1) << <usize>wide), level, wide);
      last = odds;
      x += 8;
      continue;
    }
    joinSample(a, b, hazeA, hazeB, source, out, n, x, first, wide);
    last = f32x4.splat(load<f32>(a + at, 4) + load<f32>(b + at, 4));
    x += 2;
  }
  const end = <usize>(n - 1) << 2;
  return load<f32>(a + end) + load<f32>(b + end);
}

/** One sample of chroma of those that are not joined eight pixels at a time, see `downsampleChromaRow`. */
// @ts-ignore: decorator
@inline
function joinSample(a: usize, b: usize, hazeA: usize, hazeB: usize, source: usize, out: usize, n: i32, x: i32, first: f32, wide: bool): void {
  const at = <usize>x << 2;
  const k = <usize>(x >> 1);
  const next = x + 1 < n ? at + 4 : at;
  if (hazeA != 0 && load<f32>(hazeA + at) == 0 && load<f32>(hazeA + next) == 0 && load<f32>(hazeB + at) == 0 && load<f32>(hazeB + next) == 0) {
    store<u8>(out + k, load<u8>(source + k));
    return;
  }
  const last = x > 0 ? load<f32>(a + at - 4) + load<f32>(b + at - 4) : first;
  const sum = last + 2 * (load<f32>(a + at) + load<f32>(b + at)) + load<f32>(a + next) + load<f32>(b + next);
  if (wide) store<u16>(out + (k << 1), <u16>(sum * 0.125 + 0.5));
  else store<u8>(out + k, <u8>(sum * 0.125 + 0.5));
}
