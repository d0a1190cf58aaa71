// Separable filters over rows of floats. A row has so many planes, each with a margin on both sides.

/** Where sample i of a picture lies that is mirrored at both edges (… c b a | a b c …). */
// @ts-ignore: decorator
@inline
function reflect(i: i32, n: i32): i32 {
  // A division costs more than all the rest, and few margins are wider than their picture.
  let k = i < 0 ? -1 - i : i;
  if (k >= 2 * n) k %= 2 * n;
  return k < n ? k : 2 * n - 1 - k;
}

/** Fills `left` samples before and `right` samples after the n samples of each plane. */
export function mirrorRow(row: usize, plane: usize, planes: i32, n: i32, left: i32, right: i32): void {
  for (let c = 0; c < planes; c++) {
    for (let i = 1; i <= left; i++) store<f32>(row - (<usize>i << 2), load<f32>(row + (<usize>reflect(-i, n) << 2)));
    for (let i = n; i < n + right; i++) store<f32>(row + (<usize>i << 2), load<f32>(row + (<usize>reflect(i, n) << 2)));
    row += plane;
  }
}

/** out = sum of taps[k] x row k over n floats (a multiple of 8) of each plane; `rows` holds pointers. */
export function convolveColumns(rows: usize, taps: usize, count: i32, plane: usize, planes: i32, out: usize, outPlane: usize, n: i32): void {
  for (let c: usize = 0; c < <usize>planes; c++) {
    for (let x: usize = c * plane, to = out, end = out + (<usize>n << 2); to < end; x += 32, to += 32) {
      let a = f32x4.splat(0);
      let b = f32x4.splat(0);
      for (let k: usize = 0; k < <usize>count; k++) {
        const weight = v128.load32_splat(taps + (k << 2));
        const from = <usize>load<u32>(rows + (k << 2)) + x;
        a = f32x4.add(a, f32x4.mul(weight, v128.load(from)));
        b = f32x4.add(b, f32x4.mul(weight, v128.load(from, 16)));
      }
      v128.store(to, a);
      v128.store(to, b, 16);
    }
    out += outPlane;
  }
}

/**
 * As convolveColumns, for a kernel that is the same both ways: taps[k] weighs the rows 2k and 2k + 1 of the list together. A
 * kernel with a middle has its row twice at the start of the list, and half its tap.
 */
export function convolveColumnsSymmetric(rows: usize, taps: usize, pairs: i32, plane: usize, planes: i32, out: usize, outPlane: usize, n: i32): void {
  for (let c: usize = 0; c < <usize>planes; c++) {
    for (let x: usize = c * plane, to = out, end = out + (<usize>n << 2); to < end; x += 32, to += 32) {
      let a = f32x4.splat(0);
      let b = f32x4.splat(0);
      for (let k: usize = 0; k < <usize>pairs; k++) {
        const weight = v128.load32_splat(taps + (k << 2));
        const before = <usize>load<u32>(rows + (k << 3)) + x;
        const after = <usize>load<u32>(rows + (k << 3), 4) + x;
        a = f32x4.add(a, f32x4.mul(weight, f32x4.add(v128.load(before), v128.load(after))));
        b = f32x4.add(b, f32x4.mul(weight, f32x4.add(v128.load(before, 16), v128.load(after, 16))));
      }
      v128.store(to, a);
      v128.store(to, b, 16);
    }
    out += outPlane;
  }
}

/** Symmetric filter along each plane of a row: taps[0] in the middle, taps[r] at distance r. */
export function convolveRowSymmetric(row: usize, plane: usize, planes: i32, taps: usize, radius: i32, out: usize, outPlane: usize, n: i32): void {
  for (let c = 0; c < planes; c++) {
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

/** A filter that halves rows. */
// @ts-ignore: decorator
@unmanaged
class Halving {
  /** An even symmetric kernel: taps[r] at distance r + 1/2, r < half. */
  taps: usize = 0;
  half: i32 = 0;
  /** Room for a row's even samples and its odd ones after them: apart, they are read without shuffling. */
  split: usize = 0;
}

/** Filters a row of so many planes by a `Halving` and keeps every second place: n samples out. */
export function downsampleRow(row: usize, plane: usize, planes: i32, block: usize, out: usize, outPlane: usize, n: i32): void {
  const halving = changetype<Halving>(block);
  const taps = halving.taps;
  const half = halving.half;
  const split = halving.split;
  const reach = 4 * ((half + 4) >> 2);
  const room = <usize>(n + 2 * reach + 4) << 2;
  const evens = split + (<usize>reach << 2);
  const odds = evens + room;
  for (let c = 0; c < planes; c++) {
    for (let x = -reach; x < n + reach; x += 4) {
      const from = row + (<isize>x << 3);
      const a = v128.load(from);
      const b = v128.load(from, 16);
      v128.store(evens + (<isize>x << 2), i8x16.shuffle(a, b, 0, 1, 2, 3, 8, 9, 10, 11, 16, 17, 18, 19, 24, 25, 26, 27));
      v128.store(odds + (<isize>x << 2), i8x16.shuffle(a, b, 4, 5, 6, 7, 12, 13, 14, 15, 20, 21, 22, 23, 28, 29, 30, 31));
    }
    for (let x: i32 = 0; x < n; x += 4) {
      const even = evens + (<usize>x << 2);
      const odd = odds + (<usize>x << 2);
      let sum = f32x4.splat(0);
      for (let r: usize = 0; r < <usize>half; r += 2) {
        // At distance r + 1/2 lie 2x - r and 2x + 1 + r: for an even r an even and an odd sample, for an odd r the reverse.
        const by = r << 1;
        const pair = f32x4.add(v128.load(even - by), v128.load(odd + by));
        const next = f32x4.add(v128.load(odd - by - 4), v128.load(even + by + 4));
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(taps + (r << 2)), pair));
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(taps + (r << 2), 4), next));
      }
      v128.store(out + (<usize>x << 2), sum);
    }
    row += plane;
    out += outPlane;
  }
}

/** out[x] = sum of weights[x][k] x row[first[x] + k]: three planes resized to n samples, `count` weights each, a multiple of four. */
export function resampleRow(row: usize, plane: usize, first: usize, weights: usize, count: i32, out: usize, outPlane: usize, n: i32): void {
  for (const end = out + (<usize>n << 2); out < end; out += 4, first += 4) {
    let from = row + (<isize>load<i32>(first) << 2);
    let a = f32x4.splat(0);
    let b = a;
    let c = a;
    for (const last = from + (<usize>count << 2); from < last; from += 16, weights += 16) {
      const weight = v128.load(weights);
      a = f32x4.add(a, f32x4.mul(weight, v128.load(from)));
      b = f32x4.add(b, f32x4.mul(weight, v128.load(from + plane)));
      c = f32x4.add(c, f32x4.mul(weight, v128.load(from + 2 * plane)));
    }
    // The four lanes of each are added up side by side.
    const two = f32x4.add(i32x4.shuffle(a, b, 0, 1, 4, 5), i32x4.shuffle(a, b, 2, 3, 6, 7));
    const third = f32x4.add(c, i32x4.shuffle(c, c, 2, 3, 2, 3));
    const sums = f32x4.add(i32x4.shuffle(two, third, 0, 2, 4, 4), i32x4.shuffle(two, third, 1, 3, 5, 5));
    v128.store32_lane(out, sums, 0);
    v128.store32_lane(out + outPlane, sums, 1);
    v128.store32_lane(out + 2 * outPlane, sums, 2);
  }
}
