// The haze field, a row at a time. Rows are padded to whole vectors.

export function startField(out: usize, n: i32, rest: f32): void {
  for (let x: usize = 0, end = (<usize>n) << 2; x < end; x += 16) v128.store(out + x, f32x4.splat(rest));
}

/**
 * One planar band over a row. `band` points to floats:
 * 0 signed distance at x = 0, 1 its step per pixel, 2 near clear, 3 near 1/falloff, 4 near haze,
 * 5 far clear, 6 far 1/falloff, 7 far haze, 8 inverted (0 or 1), 9 haze mode (0 or 1), 10 number of profile pieces,
 * then five floats a piece: start, and the cubic's four coefficients in u - start.
 */
export function planarRow(out: usize, n: i32, band: usize): void {
  const start = v128.load32_splat(band);
  const step = v128.load32_splat(band, 4);
  const inverted = load<f32>(band, 32) != 0;
  const hazes = load<f32>(band, 36) != 0;
  const pieces = <i32>load<f32>(band, 40);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  for (let x: i32 = 0; x < n; x += 4) {
    const column = f32x4.add(f32x4.splat(<f32>x), f32x4(0, 1, 2, 3));
    const s = f32x4.add(start, f32x4.mul(column, step));
    const near = f32x4.ge(s, zero);
    const clear = v128.bitselect(v128.load32_splat(band, 8), v128.load32_splat(band, 20), near);
    const rate = v128.bitselect(v128.load32_splat(band, 12), v128.load32_splat(band, 24), near);
    const haze = v128.bitselect(v128.load32_splat(band, 16), v128.load32_splat(band, 28), near);
    const u = f32x4.min(f32x4.max(f32x4.mul(f32x4.sub(f32x4.abs(s), clear), rate), zero), one);
    let p = zero;
    for (let k = 0; k < pieces; k++) {
      const piece = band + 44 + <usize>(k * 20);
      const from = v128.load32_splat(piece);
      const d = f32x4.sub(u, from);
      let q = v128.load32_splat(piece, 16);
      q = f32x4.add(f32x4.mul(q, d), v128.load32_splat(piece, 12));
      q = f32x4.add(f32x4.mul(q, d), v128.load32_splat(piece, 8));
      q = f32x4.add(f32x4.mul(q, d), v128.load32_splat(piece, 4));
      p = v128.bitselect(q, p, f32x4.ge(u, from));
    }
    let h = f32x4.mul(haze, f32x4.min(f32x4.max(p, zero), one));
    if (inverted) h = f32x4.sub(haze, h);
    const at = out + ((<usize>x) << 2);
    const field = v128.load(at);
    v128.store(at, hazes ? f32x4.max(field, h) : f32x4.min(field, h));
  }
}

/**
 * Haze to blur level, in place: variance v = (haze x scale)^2 in units of the first level's.
 * Below 1 the level is v itself; above, 1 + log2 v made of straight pieces, which is how a float's bits read as a
 * number. So between two levels the weight is linear in the variance.
 */
export function levelRow(row: usize, n: i32, scale: f32): void {
  const one = f32x4.splat(1);
  for (let x: usize = 0, end = (<usize>n) << 2; x < end; x += 16) {
    const sigma = f32x4.mul(v128.load(row + x), f32x4.splat(scale));
    const v = f32x4.mul(sigma, sigma);
    const steps = f32x4.convert_i32x4_s(i32x4.sub(v, i32x4.splat(0x3f800000)));
    const above = f32x4.add(one, f32x4.mul(steps, f32x4.splat(1.0 / 8388608.0)));
    v128.store(row + x, v128.bitselect(v, above, f32x4.lt(v, one)));
  }
}

/** Haze to RGBA pixels through a ramp of 1024 colours. */
export function hazeMapRow(row: usize, n: i32, ramp: usize, out: usize): void {
  for (let x: usize = 0; x < <usize>n; x++) {
    const h = min(max(load<f32>(row + (x << 2)), <f32>0), <f32>1);
    store<u32>(out + (x << 2), load<u32>(ramp + ((<usize>(h * 1023 + 0.5)) << 2)));
  }
}
