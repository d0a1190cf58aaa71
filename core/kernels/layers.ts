// Light that has a coverage: three planes of premultiplied linear light, and a row that says how much of each pixel there is.

import { encode, rounded, ditheredLevel, ditherOf } from './transfer';

/** A row of premultiplied light that is laid over another: three planes, and its coverage in a fourth. */
// @ts-ignore: decorator
@unmanaged
class Overlay {
  row: usize = 0;
  plane: usize = 0;
  opacity: f32 = 0;
  /** What its light alone is multiplied by. */
  factor: f32 = 0;
}

/** Copies n samples of so many planes from one row to another; `fromPlane` 0 copies the same plane again and again. */
export function copyPlanes(from: usize, fromPlane: usize, planes: i32, out: usize, outPlane: usize, n: i32): void {
  for (let k = 0; k < planes; k++) memory.copy(out + <usize>k * outPlane, from + <usize>k * fromPlane, <usize>n << 2);
}

/** Nothing in so many bytes. */
export function clearBytes(at: usize, bytes: usize): void {
  memory.fill(at, 0, bytes);
}

/**
 * Lays an `Overlay` of light c and coverage a over a row: L = k o c + (1 - o a) L, with its opacity o and factor k. `touched`
 * gets the greater of haze and coverage, and the haze as it is where nothing is laid; `cover`, where it is not 0, is how
 * much there is of the row below.
 */
export function compositeRow(row: usize, plane: usize, n: i32, block: usize, haze: usize, touched: usize, cover: usize): void {
  const overlay = changetype<Overlay>(block);
  const over = overlay.row;
  const overPlane = overlay.plane;
  const opacity = overlay.opacity;
  const factor = overlay.factor;
  const share = f32x4.splat(opacity);
  const light = f32x4.splat(opacity * factor);
  const one = f32x4.splat(1);
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) {
    const at = row + x;
    const from = over + x;
    const own = f32x4.mul(share, v128.load(from + 3 * overPlane));
    const left = f32x4.sub(one, own);
    v128.store(at, f32x4.add(f32x4.mul(light, v128.load(from)), f32x4.mul(left, v128.load(at))));
    v128.store(at + plane, f32x4.add(f32x4.mul(light, v128.load(from + overPlane)), f32x4.mul(left, v128.load(at + plane))));
    v128.store(at + 2 * plane, f32x4.add(f32x4.mul(light, v128.load(from + 2 * overPlane)), f32x4.mul(left, v128.load(at + 2 * plane))));
    const was = v128.load(haze + x);
    v128.store(touched + x, v128.bitselect(f32x4.pmax(was, own), was, f32x4.gt(own, f32x4.splat(0))));
    if (cover) v128.store(cover + x, f32x4.add(own, f32x4.mul(left, v128.load(cover + x))));
  }
}

// @ts-ignore: decorator
@inline
function lane(v: v128, k: i32): i32 {
  return k == 0 ? i32x4.extract_lane(v, 0) : k == 1 ? i32x4.extract_lane(v, 1) : k == 2 ? i32x4.extract_lane(v, 2) : i32x4.extract_lane(v, 3);
}

/** The level of each of four linear values, up to `top`. */
// @ts-ignore: decorator
@inline
function levelOf(linear: v128, top: f32): v128 {
  return rounded(f32x4.mul(encode(linear), f32x4.splat(top)), top);
}

/**
 * Linear planes, not premultiplied, to 8-bit sRGB with the coverage as a straight fourth channel; dithered as opaque ones
 * are, but where `haze` is 0. What is not there at all is black.
 */
export function encodeStraightRow8(row: usize, plane: usize, cover: usize, haze: usize, out: usize, n: i32, px: i32, py: i32): void {
  for (let x = 0; x < n; x += 4) {
    const at = <usize>x << 2;
    const red = v128.load(row + at);
    const green = v128.load(row + plane + at);
    const blue = v128.load(row + 2 * plane + at);
    let r = levelOf(red, 255);
    let g = levelOf(green, 255);
    let b = levelOf(blue, 255);
    const clear = f32x4.eq(v128.load(haze + at), f32x4.splat(0));
    if (!i32x4.all_true(clear)) {
      const grey = v128.and(f32x4.eq(red, green), f32x4.eq(green, blue));
      const noise = ditherOf(px + x, py, 0);
      r = v128.bitselect(r, ditheredLevel(red, noise), clear);
      g = v128.bitselect(g, ditheredLevel(green, v128.bitselect(noise, ditherOf(px + x, py, 1), grey)), clear);
      b = v128.bitselect(b, ditheredLevel(blue, v128.bitselect(noise, ditherOf(px + x, py, 2), grey)), clear);
    }
    const a = rounded(f32x4.mul(v128.load(cover + at), f32x4.splat(255)), 255);
    const light = v128.or(r, v128.or(i32x4.shl(g, 8), i32x4.shl(b, 16)));
    const pixels = v128.or(v128.and(light, i32x4.ne(a, i32x4.splat(0))), i32x4.shl(a, 24));
    for (let k = 0; k < min(n - x, 4); k++, out += 4) store<i32>(out, lane(pixels, k));
  }
}

/** As `encodeStraightRow8`, to 16 bits a sample, which need no dither. */
export function encodeStraightRow16(row: usize, plane: usize, cover: usize, out: usize, n: i32): void {
  for (let x = 0; x < n; x += 4) {
    const at = <usize>x << 2;
    const a = rounded(f32x4.mul(v128.load(cover + at), f32x4.splat(65535)), 65535);
    const there = i32x4.ne(a, i32x4.splat(0));
    const r = v128.and(levelOf(v128.load(row + at), 65535), there);
    const g = v128.and(levelOf(v128.load(row + plane + at), 65535), there);
    const b = v128.and(levelOf(v128.load(row + 2 * plane + at), 65535), there);
    for (let k = 0; k < min(n - x, 4); k++, out += 8) {
      store<i32>(out, lane(r, k) | (lane(g, k) << 16));
      store<i32>(out, lane(b, k) | (lane(a, k) << 16), 4);
    }
  }
}
