// Every pixel takes its colour from the two blur levels that enclose its own, read from the pyramid where they lie.

const SEGMENT: i32 = 64;

// @ts-ignore: decorator
@inline
function put(at: usize, value: v128, first: bool): void {
  v128.store(at, first ? value : f32x4.add(v128.load(at), value));
}

/**
 * `level` holds the blur level of each of n pixels. `table` has four words a level: pointer to its row, bytes between
 * its planes, log2 of its scale, pointer to the B-spline weights of that scale (three vectors a phase).
 * Adds up, over the levels k near a pixel's own, max(0, 1 - |level - k|) x the level's value there.
 */
export function mixRow(level: usize, n: i32, table: usize, out: usize, plane: usize): void {
  const one = f32x4.splat(1);
  for (let x0: i32 = 0; x0 < n; x0 += SEGMENT) {
    const x1 = min(x0 + SEGMENT, n);
    let low = v128.load(level + (<usize>x0 << 2));
    let high = low;
    for (let x = x0 + 4; x < x1; x += 4) {
      const v = v128.load(level + (<usize>x << 2));
      low = f32x4.min(low, v);
      high = f32x4.max(high, v);
    }
    const from = <i32>floor(min(min(f32x4.extract_lane(low, 0), f32x4.extract_lane(low, 1)), min(f32x4.extract_lane(low, 2), f32x4.extract_lane(low, 3))));
    const to = <i32>ceil(max(max(f32x4.extract_lane(high, 0), f32x4.extract_lane(high, 1)), max(f32x4.extract_lane(high, 2), f32x4.extract_lane(high, 3))));
    for (let k = from; k <= to; k++) {
      const entry = table + (<usize>k << 4);
      const row = <usize>load<u32>(entry);
      const rowPlane = <usize>load<u32>(entry, 4);
      const shift = load<i32>(entry, 8);
      const weights = <usize>load<u32>(entry, 12);
      const own = f32x4.splat(<f32>k);
      const first = k == from;
      for (let x = x0; x < x1; x += 4) {
        const at = <usize>x << 2;
        const w = f32x4.max(f32x4.splat(0), f32x4.sub(one, f32x4.abs(f32x4.sub(v128.load(level + at), own))));
        if (shift == 0) {
          for (let c: usize = 0; c < 3; c++) put(out + c * plane + at, f32x4.mul(w, v128.load(row + c * rowPlane + at)), first);
        } else if (shift == 1) {
          // Output 2i reads i - 1, i, i + 1 with the fractions -1/4, 2i + 1 the same with +1/4.
          const wide = v128.load(weights);
          const middle = f32x4.splat(0.6875);
          const narrow = v128.load(weights, 16);
          for (let c: usize = 0; c < 3; c++) {
            const p = row + c * rowPlane + (<usize>x << 1);
            const a = v128.load(p - 4);
            const b = v128.load32_zero(p + 12);
            const left = i8x16.shuffle(a, b, 0, 1, 2, 3, 0, 1, 2, 3, 4, 5, 6, 7, 4, 5, 6, 7);
            const centre = i8x16.shuffle(a, b, 4, 5, 6, 7, 4, 5, 6, 7, 8, 9, 10, 11, 8, 9, 10, 11);
            const right = i8x16.shuffle(a, b, 8, 9, 10, 11, 8, 9, 10, 11, 12, 13, 14, 15, 12, 13, 14, 15);
            const value = f32x4.add(f32x4.add(f32x4.mul(wide, left), f32x4.mul(middle, centre)), f32x4.mul(narrow, right));
            put(out + c * plane + at, f32x4.mul(w, value), first);
          }
        } else {
          const phase = weights + <usize>(((x >> 2) & ((1 << (shift - 2)) - 1)) * 48);
          const w0 = f32x4.mul(w, v128.load(phase));
          const w1 = f32x4.mul(w, v128.load(phase, 16));
          const w2 = f32x4.mul(w, v128.load(phase, 32));
          for (let c: usize = 0; c < 3; c++) {
            const p = row + c * rowPlane + (<usize>(x >> shift) << 2);
            const value = f32x4.add(
              f32x4.add(f32x4.mul(w0, v128.load32_splat(p - 4)), f32x4.mul(w1, v128.load32_splat(p))),
              f32x4.mul(w2, v128.load32_splat(p + 4)),
            );
            put(out + c * plane + at, value, first);
          }
        }
      }
    }
  }
}
