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
  const nearClear = v128.load32_splat(band, 8);
  const nearRate = v128.load32_splat(band, 12);
  const nearHaze = v128.load32_splat(band, 16);
  const farClear = v128.load32_splat(band, 20);
  const farRate = v128.load32_splat(band, 24);
  const farHaze = v128.load32_splat(band, 28);
  const inverted = load<f32>(band, 32) != 0;
  const hazes = load<f32>(band, 36) != 0;
  const pieces = <i32>load<f32>(band, 40);
  const c0 = v128.load32_splat(band, 48);
  const c1 = v128.load32_splat(band, 52);
  const c2 = v128.load32_splat(band, 56);
  const c3 = v128.load32_splat(band, 60);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  let column = f32x4(0, 1, 2, 3);
  for (let at = out, end = out + (<usize>n << 2); at < end; at += 16) {
    const s = f32x4.add(start, f32x4.mul(column, step));
    column = f32x4.add(column, f32x4.splat(4));
    const near = f32x4.ge(s, zero);
    const clear = v128.bitselect(nearClear, farClear, near);
    const rate = v128.bitselect(nearRate, farRate, near);
    const haze = v128.bitselect(nearHaze, farHaze, near);
    const u = f32x4.pmin(f32x4.pmax(f32x4.mul(f32x4.sub(f32x4.abs(s), clear), rate), zero), one);
    // The first piece starts at 0.
    let p = f32x4.add(c0, f32x4.mul(u, f32x4.add(c1, f32x4.mul(u, f32x4.add(c2, f32x4.mul(u, c3))))));
    for (let k = 1; k < pieces; k++) {
      const piece = band + 44 + <usize>(k * 20);
      const from = v128.load32_splat(piece);
      const d = f32x4.sub(u, from);
      let q = v128.load32_splat(piece, 16);
      q = f32x4.add(f32x4.mul(q, d), v128.load32_splat(piece, 12));
      q = f32x4.add(f32x4.mul(q, d), v128.load32_splat(piece, 8));
      q = f32x4.add(f32x4.mul(q, d), v128.load32_splat(piece, 4));
      p = v128.bitselect(q, p, f32x4.ge(u, from));
    }
    let h = f32x4.mul(haze, f32x4.pmin(f32x4.pmax(p, zero), one));
    if (inverted) h = f32x4.sub(haze, h);
    const field = v128.load(at);
    v128.store(at, hazes ? f32x4.pmax(field, h) : f32x4.pmin(field, h));
  }
}

/**
 * Haze to blur level, in place: variance v = (haze x scale)^2 in units of the first level's.
 * Below 1 the level is v itself; above, 1 + log2 v made of straight pieces, which is how a float's bits read as a
 * number. So between two levels the weight is linear in the variance. The least and greatest haze of the row go to
 * `range`.
 */
export function levelRow(row: usize, n: i32, scale: f32, range: usize): void {
  const one = f32x4.splat(1);
  let low = v128.load(row);
  let high = low;
  for (let x: usize = 0, end = (<usize>n) << 2; x < end; x += 16) {
    const haze = v128.load(row + x);
    low = f32x4.pmin(low, haze);
    high = f32x4.pmax(high, haze);
    const sigma = f32x4.mul(haze, f32x4.splat(scale));
    const v = f32x4.mul(sigma, sigma);
    const steps = f32x4.convert_i32x4_s(i32x4.sub(v, i32x4.splat(0x3f800000)));
    const above = f32x4.add(one, f32x4.mul(steps, f32x4.splat(1.0 / 8388608.0)));
    v128.store(row + x, v128.bitselect(v, above, f32x4.lt(v, one)));
  }
  store<f32>(range, min(min(f32x4.extract_lane(low, 0), f32x4.extract_lane(low, 1)), min(f32x4.extract_lane(low, 2), f32x4.extract_lane(low, 3))));
  store<f32>(range + 4, max(max(f32x4.extract_lane(high, 0), f32x4.extract_lane(high, 1)), max(f32x4.extract_lane(high, 2), f32x4.extract_lane(high, 3))));
}

/** Haze to RGBA pixels through a ramp of 1024 colours. */
export function hazeMapRow(row: usize, n: i32, ramp: usize, out: usize): void {
  for (let x: usize = 0; x < <usize>n; x++) {
    const h = min(max(load<f32>(row + (x << 2)), <f32>0), <f32>1);
    store<u32>(out + (x << 2), load<u32>(ramp + ((<usize>(h * 1023 + 0.5)) << 2)));
  }
}
