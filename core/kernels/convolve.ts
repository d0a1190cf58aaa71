// Separable filters over rows of floats. A row of three planes has a margin on both sides of each plane.

/** Where sample i of a picture lies that is mirrored at both edges (… c b a | a b c …). */
// @ts-ignore: decorator
@inline
function reflect(i: i32, n: i32): i32 {
  const period = 2 * n;
  let k = i % period;
  if (k < 0) k += period;
  return k < n ? k : period - 1 - k;
}

/** Fills `left` samples before and `right` samples after the n samples of each of the three planes. */
export function mirrorRow(row: usize, plane: usize, n: i32, left: i32, right: i32): void {
  for (let c = 0; c < 3; c++) {
    for (let i = 1; i <= left; i++) store<f32>(row - (<usize>i << 2), load<f32>(row + (<usize>reflect(-i, n) << 2)));
    for (let i = n; i < n + right; i++) store<f32>(row + (<usize>i << 2), load<f32>(row + (<usize>reflect(i, n) << 2)));
    row += plane;
  }
}

/** out = sum of taps[k] x row k, over n floats (a multiple of 8); `rows` holds pointers. */
export function weighRows(rows: usize, taps: usize, count: i32, out: usize, n: i32): void {
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 32) {
    let a = f32x4.splat(0);
    let b = f32x4.splat(0);
    for (let k: usize = 0; k < <usize>count; k++) {
      const weight = v128.load32_splat(taps + (k << 2));
      const from = <usize>load<u32>(rows + (k << 2)) + x;
      a = f32x4.add(a, f32x4.mul(weight, v128.load(from)));
      b = f32x4.add(b, f32x4.mul(weight, v128.load(from, 16)));
    }
    v128.store(out + x, a);
    v128.store(out + x, b, 16);
  }
}

/** Symmetric filter along each plane of a row: taps[0] in the middle, taps[r] at distance r. */
export function blurRow(row: usize, plane: usize, taps: usize, radius: i32, out: usize, outPlane: usize, n: i32): void {
  for (let c = 0; c < 3; c++) {
    for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) {
      let sum = f32x4.mul(v128.load32_splat(taps), v128.load(row + x));
      for (let r: usize = 1; r <= <usize>radius; r++) {
        const pair = f32x4.add(v128.load(row + x - (r << 2)), v128.load(row + x + (r << 2)));
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(taps + (r << 2)), pair));
      }
      v128.store(out + x, sum);
    }
    row += plane;
    out += outPlane;
  }
}

/** Filters with an even symmetric kernel (taps[r] at distance r + 1/2) and keeps every second place: n samples out. */
export function halveRow(row: usize, plane: usize, taps: usize, half: i32, out: usize, outPlane: usize, n: i32): void {
  for (let c = 0; c < 3; c++) {
    for (let x: i32 = 0; x < n; x += 4) {
      const from = row + (<usize>x << 3);
      let sum = f32x4.splat(0);
      for (let r: usize = 0; r < <usize>half; r++) {
        const before = from - (r << 2);
        const after = from + ((r + 1) << 2);
        const even = f32x4.add(
          i8x16.shuffle(v128.load(before), v128.load(before, 16), 0, 1, 2, 3, 8, 9, 10, 11, 16, 17, 18, 19, 24, 25, 26, 27),
          i8x16.shuffle(v128.load(after), v128.load(after, 16), 0, 1, 2, 3, 8, 9, 10, 11, 16, 17, 18, 19, 24, 25, 26, 27),
        );
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(taps + (r << 2)), even));
      }
      v128.store(out + (<usize>x << 2), sum);
    }
    row += plane;
    out += outPlane;
  }
}

/** out[x] = sum of weights[x][k] x row[first[x] + k]: one row resized to n samples, `count` weights each. */
export function resampleRow(row: usize, plane: usize, first: usize, weights: usize, count: i32, out: usize, outPlane: usize, n: i32): void {
  for (let c = 0; c < 3; c++) {
    let w = weights;
    for (let x: usize = 0; x < <usize>n; x++) {
      const from = row + (<isize>load<i32>(first + (x << 2)) << 2);
      let sum: f32 = 0;
      for (let k: usize = 0; k < <usize>count; k++) {
        sum += load<f32>(w) * load<f32>(from + (k << 2));
        w += 4;
      }
      store<f32>(out + (x << 2), sum);
    }
    row += plane;
    out += outPlane;
  }
}
