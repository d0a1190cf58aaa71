// Bytes to linear light and back. (pmin and pmax are single instructions, min and max are not.) A row is three planes (red, green, blue) of floats.

/** Four linear values, looked up for the samples at four places. */
// @ts-ignore: decorator
@inline
function lookUp(table: usize, a: usize, b: usize, c: usize, d: usize, deep: bool): v128 {
  const i = deep ? <usize>load<u16>(a) : <usize>load<u8>(a);
  const j = deep ? <usize>load<u16>(b) : <usize>load<u8>(b);
  const k = deep ? <usize>load<u16>(c) : <usize>load<u8>(c);
  const l = deep ? <usize>load<u16>(d) : <usize>load<u8>(d);
  let v = v128.load32_zero(table + (i << 2));
  v = v128.load32_lane(table + (j << 2), v, 1);
  v = v128.load32_lane(table + (k << 2), v, 2);
  return v128.load32_lane(table + (l << 2), v, 3);
}

// @ts-ignore: decorator
@inline
function decodeSamples(source: usize, step: usize, table: usize, out: usize, plane: usize, n: i32, deep: bool): void {
  const size: usize = deep ? 2 : 1;
  const end = out + (<usize>(n & ~3) << 2);
  for (; out < end; out += 16) {
    const b = source + step;
    const c = b + step;
    const d = c + step;
    v128.store(out, lookUp(table, source, b, c, d, deep));
    v128.store(out + plane, lookUp(table, source + size, b + size, c + size, d + size, deep));
    v128.store(out + 2 * plane, lookUp(table, source + 2 * size, b + 2 * size, c + 2 * size, d + 2 * size, deep));
    source = d + step;
  }
  for (let x = n & 3; x > 0; x--, source += step, out += 4) {
    for (let k: usize = 0; k < 3; k++) {
      const at = source + k * size;
      const sample = deep ? <usize>load<u16>(at) : <usize>load<u8>(at);
      store<f32>(out + k * plane, load<f32>(table + (sample << 2)));
    }
  }
}

/** 8- or 16-bit samples, `channels` a pixel, through a table of linear values into three planes. */
export function decodeRow(source: usize, channels: i32, bytes: i32, table: usize, out: usize, plane: usize, n: i32): void {
  const step = <usize>(channels * bytes);
  if (bytes == 1) decodeSamples(source, step, table, out, plane, n, false);
  else decodeSamples(source, step, table, out, plane, n, true);
}

/** The sRGB curve (IEC 61966-2-1) of linear values in 0..1; x^(1/2.4) as a polynomial in x^(1/4), error below 1e-5. */
// @ts-ignore: decorator
@inline
export function encode(linear: v128): v128 {
  const x = f32x4.pmin(f32x4.pmax(f32x4.splat(0), linear), f32x4.splat(1));
  const s = f32x4.sqrt(f32x4.sqrt(x));
  let p = f32x4.splat(-0.06315541533);
  p = f32x4.add(f32x4.mul(p, s), f32x4.splat(0.2702006321));
  p = f32x4.add(f32x4.mul(p, s), f32x4.splat(-0.5426996954));
  p = f32x4.add(f32x4.mul(p, s), f32x4.splat(1.187577485));
  p = f32x4.add(f32x4.mul(p, s), f32x4.splat(0.1541253916));
  p = f32x4.add(f32x4.mul(p, s), f32x4.splat(-0.006053621288));
  const curve = f32x4.sub(f32x4.mul(p, f32x4.splat(1.055)), f32x4.splat(0.055));
  return v128.bitselect(f32x4.mul(x, f32x4.splat(12.92)), curve, f32x4.le(x, f32x4.splat(0.0031308)));
}

/** The sRGB curve backwards for values from below 0 to 1.1; ((v + 0.055) / 1.055)^2.4 as a polynomial, error below 4e-6. */
// @ts-ignore: decorator
@inline
export function decode(v: v128): v128 {
  let p = f32x4.splat(0.0474188729);
  p = f32x4.add(f32x4.mul(p, v), f32x4.splat(-0.2278719429));
  p = f32x4.add(f32x4.mul(p, v), f32x4.splat(0.4785016517));
  p = f32x4.add(f32x4.mul(p, v), f32x4.splat(-0.6198457429));
  p = f32x4.add(f32x4.mul(p, v), f32x4.splat(0.7895978955));
  p = f32x4.add(f32x4.mul(p, v), f32x4.splat(0.4968632997));
  p = f32x4.add(f32x4.mul(p, v), f32x4.splat(0.03446024675));
  p = f32x4.add(f32x4.mul(p, v), f32x4.splat(0.0008753787009));
  return v128.bitselect(f32x4.mul(v, f32x4.splat(1.0 / 12.92)), p, f32x4.le(v, f32x4.splat(0.04045)));
}

// @ts-ignore: decorator
@inline
export function scramble(h: v128): v128 {
  h = v128.xor(h, i32x4.shr_u(h, 16));
  h = i32x4.mul(h, i32x4.splat(0x7feb352d));
  h = v128.xor(h, i32x4.shr_u(h, 15));
  h = i32x4.mul(h, i32x4.splat(0x846ca68b));
  return v128.xor(h, i32x4.shr_u(h, 16));
}

/** Triangular noise in -1..1 from two bytes of a hash: dither that leaves no step and no pattern behind. */
// @ts-ignore: decorator
@inline
export function triangle(h: v128, shift: i32): v128 {
  const mask = i32x4.splat(0xff);
  const sum = i32x4.add(v128.and(i32x4.shr_u(h, shift), mask), v128.and(i32x4.shr_u(h, shift + 8), mask));
  return f32x4.sub(f32x4.mul(f32x4.convert_i32x4_s(sum), f32x4.splat(1.0 / 255.0)), f32x4.splat(1));
}

/** The whole number nearest to each value, which is held in 0..top. */
// @ts-ignore: decorator
@inline
export function rounded(level: v128, top: f32): v128 {
  const held = f32x4.pmin(f32x4.pmax(f32x4.splat(0), level), f32x4.splat(top));
  // Beside 2^23 a float has no room for fractions: adding it rounds to the nearest whole number.
  return v128.and(f32x4.add(held, f32x4.splat(8388608)), i32x4.splat(0x7fffff));
}

/**
 * With noise of one level, which shrinks in the half level before black and white: so nothing is cut off at the ends,
 * the mean stays, and what is black or white has no speckles.
 */
// @ts-ignore: decorator
@inline
export function ditheredLevel(linear: v128, noise: v128): v128 {
  const level = f32x4.mul(encode(linear), f32x4.splat(255));
  const room = f32x4.pmin(level, f32x4.sub(f32x4.splat(255), level));
  const share = f32x4.pmin(f32x4.add(room, room), f32x4.splat(1));
  return rounded(f32x4.add(level, f32x4.mul(noise, share)), 255);
}

/** What the noise of the four pixels from (px, py) on comes from: it stays with the place. */
// @ts-ignore: decorator
@inline
function ditherSeed(px: i32, py: i32): v128 {
  const seed = i32x4.splat(py * 0x2c1b3c6d + 0x297a2d39);
  return scramble(v128.xor(seed, i32x4.mul(i32x4.add(i32x4.splat(px), i32x4(0, 1, 2, 3)), i32x4.splat(0x9e3779b1))));
}

// @ts-ignore: decorator
@inline
function reseeded(seed: v128): v128 {
  return i32x4.mul(v128.xor(seed, i32x4.shr_u(seed, 13)), i32x4.splat(0x85ebca77));
}

/** The noise of the four pixels from (px, py) on for red (0), green (1) or blue (2). */
// @ts-ignore: decorator
@inline
export function ditherOf(px: i32, py: i32, channel: i32): v128 {
  const seed = ditherSeed(px, py);
  return channel == 0 ? triangle(seed, 0) : channel == 1 ? triangle(seed, 16) : triangle(reseeded(seed), 16);
}

/** Where pixels without haze take the bytes of the source as they are. */
// @ts-ignore: decorator
@unmanaged
export class KeptPixels {
  /** The haze of each pixel; of halved chroma that of a row of them, and of the row below. */
  haze: usize = 0;
  below: usize = 0;
  source: usize = 0;
}

/**
 * Linear planes to dithered 8-bit sRGB. `keep` is 0 or a `KeptPixels`. (px, py) is the first pixel's place in the picture:
 * the dither stays with the picture, not the strip.
 */
export function encodeRow8(row: usize, plane: usize, keep: usize, channels: i32, out: usize, n: i32, px: i32, py: i32): void {
  const neutral = keep != 0;
  const haze: usize = neutral ? changetype<KeptPixels>(keep).haze : 0;
  let source: usize = neutral ? changetype<KeptPixels>(keep).source : 0;
  const wide = channels == 4;
  for (let x = 0; x < n; x += 4) {
    const at = <usize>x << 2;
    const clear = neutral ? f32x4.eq(v128.load(haze + at), f32x4.splat(0)) : i32x4.splat(0);
    const left = n - x;
    let pixels: v128;
    if (neutral && i32x4.all_true(clear)) {
      const count = <usize>(min(left, 4) * channels);
      memory.copy(out, source, count);
      source += count;
      out += count;
      continue;
    }
    const h = ditherSeed(px + x, py);
    const h2 = reseeded(h);
    const red = v128.load(row + at);
    const green = v128.load(row + plane + at);
    const blue = v128.load(row + 2 * plane + at);
    // Greys stay grey: all three channels take the same noise.
    const grey = v128.and(f32x4.eq(red, green), f32x4.eq(green, blue));
    const noise = triangle(h, 0);
    const r = ditheredLevel(red, noise);
    const g = ditheredLevel(green, v128.bitselect(noise, triangle(h, 16), grey));
    const b = ditheredLevel(blue, v128.bitselect(noise, triangle(h2, 16), grey));
    pixels = v128.or(v128.or(r, i32x4.shl(g, 8)), v128.or(i32x4.shl(b, 16), i32x4.splat(0xff000000)));
    if (wide) {
      if (left >= 4) {
        if (neutral) pixels = v128.bitselect(v128.load(source), pixels, clear);
        v128.store(out, pixels);
        out += 16;
        source += 16;
        continue;
      }
    } else if (left >= 4 && !(neutral && v128.any_true(clear))) {
      const packed = i8x16.shuffle(pixels, pixels, 0, 1, 2, 4, 5, 6, 8, 9, 10, 12, 13, 14, 0, 0, 0, 0);
      v128.store64_lane(out, packed, 0);
      v128.store32_lane(out, packed, 2, 8);
      out += 12;
      source += 12;
      continue;
    }
    for (let k = 0; k < min(left, 4); k++) {
      if (neutral && load<f32>(haze + at + (<usize>k << 2)) == 0) memory.copy(out, source, channels);
      else {
        const word = k == 0 ? i32x4.extract_lane(pixels, 0) : k == 1 ? i32x4.extract_lane(pixels, 1) : k == 2 ? i32x4.extract_lane(pixels, 2) : i32x4.extract_lane(pixels, 3);
        store<u8>(out, <u8>word);
        store<u8>(out, <u8>(word >> 8), 1);
        store<u8>(out, <u8>(word >> 16), 2);
        if (wide) store<u8>(out, 255, 3);
      }
      out += channels;
      source += channels;
    }
  }
}

// @ts-ignore: decorator
@inline
function store16(out: usize, word: i32): void {
  store<u16>(out, <u16>word);
}

/** As encodeRow8, to 16 bits a sample; 16 bits need no dither. */
export function encodeRow16(row: usize, plane: usize, keep: usize, channels: i32, out: usize, n: i32): void {
  const neutral = keep != 0;
  const haze: usize = neutral ? changetype<KeptPixels>(keep).haze : 0;
  let source: usize = neutral ? changetype<KeptPixels>(keep).source : 0;
  const step = <usize>(channels * 2);
  for (let x = 0; x < n; x += 4) {
    const at = <usize>x << 2;
    const r = rounded(f32x4.mul(encode(v128.load(row + at)), f32x4.splat(65535)), 65535);
    const g = rounded(f32x4.mul(encode(v128.load(row + plane + at)), f32x4.splat(65535)), 65535);
    const b = rounded(f32x4.mul(encode(v128.load(row + 2 * plane + at)), f32x4.splat(65535)), 65535);
    for (let k = 0; k < min(n - x, 4); k++) {
      if (neutral && load<f32>(haze + at + (<usize>k << 2)) == 0) memory.copy(out, source, step);
      else {
        store16(out, k == 0 ? i32x4.extract_lane(r, 0) : k == 1 ? i32x4.extract_lane(r, 1) : k == 2 ? i32x4.extract_lane(r, 2) : i32x4.extract_lane(r, 3));
        store16(out + 2, k == 0 ? i32x4.extract_lane(g, 0) : k == 1 ? i32x4.extract_lane(g, 1) : k == 2 ? i32x4.extract_lane(g, 2) : i32x4.extract_lane(g, 3));
        store16(out + 4, k == 0 ? i32x4.extract_lane(b, 0) : k == 1 ? i32x4.extract_lane(b, 1) : k == 2 ? i32x4.extract_lane(b, 2) : i32x4.extract_lane(b, 3));
        if (channels == 4) store16(out + 6, 65535);
      }
      out += step;
      source += step;
    }
  }
}
