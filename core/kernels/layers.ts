// Light that has a coverage: three planes of premultiplied linear light, and a row that says how much of each pixel there is.

import { encode, rounded, ditheredLevel, ditherOf } from './transfer';

/** Copies n samples of so many planes from one row to another; `fromPlane` 0 copies the same plane again and again. */
export function copyPlanes(from: usize, fromPlane: usize, planes: i32, out: usize, outPlane: usize, n: i32): void {
  for (let k = 0; k < planes; k++) memory.copy(out + <usize>k * outPlane, from + <usize>k * fromPlane, <usize>n << 2);
}

/** Nothing in so many bytes. */
export function clearBytes(at: usize, bytes: usize): void {
  memory.fill(at, 0, bytes);
}

/**
 * Lays a row of premultiplied light (its fourth plane the coverage) over a row: L = k o c + (1 - o a) L, with the opacity o
 * and a factor k for the light alone. `touched` gets the greater of haze and coverage, and the haze as it is where nothing
 * is laid; `cover`, where it is not 0, is how much there is of the row below.
 */
export function compositeRow(row: usize, plane: usize, n: i32, over: usize, overPlane: usize, opacity: f32, factor: f32, haze: usize, touched: usize, cover: usize): void {
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

/**
 * Linear planes, not premultiplied, to 8- or 16-bit sRGB with the coverage as a straight fourth channel. 8 bits are dithered
 * as opaque ones are, but where `haze` is 0; what is not there at all is black.
 */
export function encodeStraightRow(row: usize, plane: usize, cover: usize, haze: usize, out: usize, bytes: i32, n: i32, px: i32, py: i32): void {
  const top: f32 = bytes == 1 ? 255 : 65535;
  const scale = f32x4.splat(top);
  for (let x = 0; x < n; x += 4) {
    const at = <usize>x << 2;
    const red = v128.load(row + at);
    const green = v128.load(row + plane + at);
    const blue = v128.load(row + 2 * plane + at);
    let r = rounded(f32x4.mul(encode(red), scale), top);
    let g = rounded(f32x4.mul(encode(green), scale), top);
    let b = rounded(f32x4.mul(encode(blue), scale), top);
    const clear = f32x4.eq(v128.load(haze + at), f32x4.splat(0));
    if (bytes == 1 && !i32x4.all_true(clear)) {
      const grey = v128.and(f32x4.eq(red, green), f32x4.eq(green, blue));
      const noise = ditherOf(px + x, py, 0);
      r = v128.bitselect(r, ditheredLevel(red, noise), clear);
      g = v128.bitselect(g, ditheredLevel(green, v128.bitselect(noise, ditherOf(px + x, py, 1), grey)), clear);
      b = v128.bitselect(b, ditheredLevel(blue, v128.bitselect(noise, ditherOf(px + x, py, 2), grey)), clear);
    }
    const a = rounded(f32x4.mul(v128.load(cover + at), scale), top);
    const there = i32x4.ne(a, i32x4.splat(0));
    r = v128.and(r, there);
    g = v128.and(g, there);
    b = v128.and(b, there);
    for (let k = 0; k < min(n - x, 4); k++) {
      if (bytes == 1) store<i32>(out, lane(r, k) | (lane(g, k) << 8) | (lane(b, k) << 16) | (lane(a, k) << 24));
      else {
        store<i32>(out, lane(r, k) | (lane(g, k) << 16));
        store<i32>(out, lane(b, k) | (lane(a, k) << 16), 4);
      }
      out += <usize>(4 * bytes);
    }
  }
}
