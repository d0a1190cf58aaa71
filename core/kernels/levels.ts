// Every pixel takes its colour from the two blur levels that enclose its own, read from the pyramid where they lie.

/** What a run of pixels is mixed out of. */
// @ts-ignore: decorator
@unmanaged
class LevelMix {
  /** The blur level of each pixel, and what `levelRow` wrote of each 64. */
  level: usize = 0;
  spans: usize = 0;
  /**
   * Four words a level: address of its row, bytes between its planes, log2 of its scale, address of the B-spline weights of
   * that scale (three vectors a phase).
   */
  table: usize = 0;
  /** Planes of a level that go to the run: three, or four with a coverage. */
  planes: i32 = 0;
  /** Where the plane after these goes; 0 for nowhere. */
  weight: usize = 0;
}

const SEGMENT: i32 = 64;

// @ts-ignore: decorator
@inline
function put(at: usize, value: v128, first: bool): void {
  v128.store(at, first ? value : f32x4.add(v128.load(at), value));
}

/** Four pixels from the four samples at p of a row of half the size. */
// @ts-ignore: decorator
@inline
function halfSize(p: usize, wide: v128, middle: v128, narrow: v128): v128 {
  const a = v128.load(p);
  const left = i8x16.shuffle(a, a, 0, 1, 2, 3, 0, 1, 2, 3, 4, 5, 6, 7, 4, 5, 6, 7);
  const centre = i8x16.shuffle(a, a, 4, 5, 6, 7, 4, 5, 6, 7, 8, 9, 10, 11, 8, 9, 10, 11);
  const right = i8x16.shuffle(a, a, 8, 9, 10, 11, 8, 9, 10, 11, 12, 13, 14, 15, 12, 13, 14, 15);
  return f32x4.add(f32x4.add(f32x4.mul(wide, left), f32x4.mul(middle, centre)), f32x4.mul(narrow, right));
}

/** Four pixels that all read the three samples at p of a smaller row. */
// @ts-ignore: decorator
@inline
function smaller(p: usize, w0: v128, w1: v128, w2: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(w0, v128.load32_splat(p)), f32x4.mul(w1, v128.load32_splat(p, 4))),
    f32x4.mul(w2, v128.load32_splat(p, 8)),
  );
}

/**
 * Mixes n pixels out of levels (a `LevelMix`), the first of which stands at `left` (a multiple of 64) in its row: adds up,
 * over the levels k near a pixel's own, max(0, 1 - |level - k|) x the level's value there.
 */
export function interpolateLevelsRow(block: usize, n: i32, left: i32, out: usize, plane: usize): void {
  const mix = changetype<LevelMix>(block);
  const level = mix.level;
  let spans = mix.spans;
  const table = mix.table;
  const planes = mix.planes;
  const weight = mix.weight;
  const covered = planes == 4;
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  for (let x0: i32 = 0; x0 < n; x0 += SEGMENT) {
    const x1 = min(x0 + SEGMENT, n);
    const from = load<i32>(spans);
    const to = load<i32>(spans, 4);
    spans += 8;
    for (let k = from; k <= to; k++) {
      const entry = table + (<usize>k << 4);
      const row = <usize>load<u32>(entry);
      const rowPlane = <usize>load<u32>(entry, 4);
      const shift = load<i32>(entry, 8);
      const weights = <usize>load<u32>(entry, 12);
      const own = f32x4.splat(<f32>k);
      const first = k == from;
      const row1 = row + rowPlane;
      const row2 = row1 + rowPlane;
      const row3 = row2 + rowPlane;
      const rowLast = row + <usize>planes * rowPlane;
      for (let i = x0; i < x1; i += 4) {
        const at = <usize>i << 2;
        const x = left + i;
        const w = f32x4.pmax(zero, f32x4.sub(one, f32x4.abs(f32x4.sub(v128.load(level + at), own))));
        const to0 = out + at;
        const to1 = to0 + plane;
        const to2 = to1 + plane;
        const to3 = to2 + plane;
        if (shift == 0) {
          const here = <usize>x << 2;
          put(to0, f32x4.mul(w, v128.load(row + here)), first);
          put(to1, f32x4.mul(w, v128.load(row1 + here)), first);
          put(to2, f32x4.mul(w, v128.load(row2 + here)), first);
          if (covered) put(to3, f32x4.mul(w, v128.load(row3 + here)), first);
          if (weight) put(weight + at, f32x4.mul(w, v128.load(rowLast + here)), first);
        } else if (shift == 1) {
          // Output 2i reads i - 1, i, i + 1 with the fractions -1/4, 2i + 1 the same with +1/4.
          const wide = f32x4.mul(w, v128.load(weights));
          const middle = f32x4.mul(w, f32x4.splat(0.6875));
          const narrow = f32x4.mul(w, v128.load(weights, 16));
          const from4 = (<usize>x << 1) - 4;
          put(to0, halfSize(row + from4, wide, middle, narrow), first);
          put(to1, halfSize(row1 + from4, wide, middle, narrow), first);
          put(to2, halfSize(row2 + from4, wide, middle, narrow), first);
          if (covered) put(to3, halfSize(row3 + from4, wide, middle, narrow), first);
          if (weight) put(weight + at, halfSize(rowLast + from4, wide, middle, narrow), first);
        } else {
          const phase = weights + <usize>(((x >> 2) & ((1 << (shift - 2)) - 1)) * 48);
          const w0 = f32x4.mul(w, v128.load(phase));
          const w1 = f32x4.mul(w, v128.load(phase, 16));
          const w2 = f32x4.mul(w, v128.load(phase, 32));
          const from4 = (<usize>(x >> shift) << 2) - 4;
          put(to0, smaller(row + from4, w0, w1, w2), first);
          put(to1, smaller(row1 + from4, w0, w1, w2), first);
          put(to2, smaller(row2 + from4, w0, w1, w2), first);
          if (covered) put(to3, smaller(row3 + from4, w0, w1, w2), first);
          if (weight) put(weight + at, smaller(rowLast + from4, w0, w1, w2), first);
        }
      }
    }
  }
}

/** How much of the haze a pixel needs for its light to spread in full. */
const FULL_SPREAD: f32 = 1.0 / 8.0;
/** What is clear spreads so little that it shows only where there is nothing else. */
const MIN_SPREAD: f32 = 1.0 / 4096.0;

/** How far a pixel's light spreads by its haze, where what is kept clear must not: 0..1. */
// @ts-ignore: decorator
@inline
export function spreadOf(haze: f32): f32 {
  return min(max(haze * (1 / FULL_SPREAD), MIN_SPREAD), <f32>1);
}

/** So many planes times how far their light spreads, and that in the plane after them. */
export function premultiplyRow(row: usize, plane: usize, planes: i32, n: i32, haze: usize): void {
  for (let at = row, end = row + (<usize>n << 2); at < end; at += 16, haze += 16) {
    const grown = f32x4.mul(v128.load(haze), f32x4.splat(1 / FULL_SPREAD));
    const share = f32x4.pmin(f32x4.pmax(grown, f32x4.splat(MIN_SPREAD)), f32x4.splat(1));
    let to = at;
    for (let k = 0; k < planes; k++, to += plane) v128.store(to, f32x4.mul(v128.load(to), share));
    v128.store(to, share);
  }
}

/** So many planes divided by a row. */
export function normaliseRow(row: usize, plane: usize, planes: i32, n: i32, by: usize): void {
  for (let at = row, end = row + (<usize>n << 2); at < end; at += 16, by += 16) {
    const whole = f32x4.div(f32x4.splat(1), f32x4.pmax(v128.load(by), f32x4.splat(1e-9)));
    let to = at;
    for (let k = 0; k < planes; k++, to += plane) v128.store(to, f32x4.mul(v128.load(to), whole));
  }
}
