// A picture with a coverage where it lies on another one: samples are four 16-bit numbers, premultiplied linear light and the
// coverage, 65535 is 1.

/** How the places of a row's pixels lie in an image, and the weights that its samples are read by. */
// @ts-ignore: decorator
@unmanaged
class Placement {
  /** The first sample that any tap reads at (0, 0), and bytes from row to row. */
  image: usize = 0;
  row: usize = 0;
  /** What a pixel adds to the place of the one before, in samples. */
  du: f32 = 0;
  dv: f32 = 0;
  /** `taps` floats for each of `phases` + 1 phases between samples. */
  weights: usize = 0;
  taps: i32 = 0;
  phases: f32 = 0;
  /** Room for 16 bytes a sample of a row, for images that are not turned. */
  line: usize = 0;
}

// @ts-ignore: decorator
@inline
function sampleAt(at: usize): v128 {
  return f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(v128.load64_zero(at)));
}

// @ts-ignore: decorator
@inline
function weighed(sample: v128, weight: usize): v128 {
  return f32x4.mul(sample, v128.load32_splat(weight));
}

/** So many samples, `step` bytes apart, by their weights. */
// @ts-ignore: decorator
@inline
function sumOf(at: usize, step: usize, weights: usize, taps: i32): v128 {
  // By far the most pixels take four.
  if (taps == 4) {
    const first = f32x4.add(weighed(sampleAt(at), weights), weighed(sampleAt(at + step), weights + 4));
    return f32x4.add(first, f32x4.add(weighed(sampleAt(at + 2 * step), weights + 8), weighed(sampleAt(at + 3 * step), weights + 12)));
  }
  let sum = f32x4.splat(0);
  for (let k = 0; k < taps; k++, at += step) sum = f32x4.add(sum, weighed(sampleAt(at), weights + (<usize>k << 2)));
  return sum;
}

/** The same of samples that were added up already, as floats. */
// @ts-ignore: decorator
@inline
function sumAlong(at: usize, weights: usize, taps: i32): v128 {
  if (taps == 4) {
    const first = f32x4.add(weighed(v128.load(at), weights), weighed(v128.load(at, 16), weights + 4));
    return f32x4.add(first, f32x4.add(weighed(v128.load(at, 32), weights + 8), weighed(v128.load(at, 48), weights + 12)));
  }
  let sum = f32x4.splat(0);
  for (let k = 0; k < taps; k++, at += 16) sum = f32x4.add(sum, weighed(v128.load(at), weights + (<usize>k << 2)));
  return sum;
}

/** A pixel to its planes: a sharp kernel swings over, so light is held between none and the coverage. */
// @ts-ignore: decorator
@inline
function put(sum: v128, out: usize, plane: usize): void {
  const zero = f32x4.splat(0);
  const light = f32x4.mul(sum, f32x4.splat(1.0 / 65535.0));
  const share = f32x4.pmin(f32x4.splat(1), f32x4.pmax(zero, i32x4.shuffle(light, light, 3, 3, 3, 3)));
  const held = f32x4.pmin(share, f32x4.pmax(zero, light));
  store<f32>(out, f32x4.extract_lane(held, 0));
  store<f32>(out + plane, f32x4.extract_lane(held, 1));
  store<f32>(out + 2 * plane, f32x4.extract_lane(held, 2));
  store<f32>(out + 3 * plane, f32x4.extract_lane(held, 3));
}

/** n pixels at places (u + i du, v + i dv) of a `Placement`, counted in samples, to four planes of floats. */
export function placeRow(block: usize, u: f32, v: f32, n: i32, out: usize, outPlane: usize): void {
  const placement = changetype<Placement>(block);
  const image = placement.image;
  const row = placement.row;
  const du = placement.du;
  const dv = placement.dv;
  const weights = placement.weights;
  const taps = placement.taps;
  const phases = placement.phases;
  const line = placement.line;
  const bytes = <usize>taps << 2;
  if (dv == 0) {
    // All pixels lie between the same rows: these are added up once.
    const cy = floor(v);
    const down = weights + <usize>nearest((v - cy) * phases) * bytes;
    const end = u + <f32>(n - 1) * du;
    const from = <i32>floor(min(u, end));
    const to = <i32>floor(max(u, end)) + taps + 1;
    const top = image + <usize>(<isize>(<i32>cy) * <isize>row);
    let to16 = line;
    for (let c = from; c < to; c++, to16 += 16) v128.store(to16, sumOf(top + <usize>(<isize>c << 3), row, down, taps));
    for (let i = 0; i < n; i++, out += 4) {
      const px = u + <f32>i * du;
      const cx = floor(px);
      const across = weights + <usize>nearest((px - cx) * phases) * bytes;
      put(sumAlong(line + (<usize>(<i32>cx - from) << 4), across, taps), out, outPlane);
    }
    return;
  }
  for (let i = 0; i < n; i++, out += 4) {
    const px = u + <f32>i * du;
    const py = v + <f32>i * dv;
    const cx = floor(px);
    const cy = floor(py);
    const across = weights + <usize>nearest((px - cx) * phases) * bytes;
    const down = weights + <usize>nearest((py - cy) * phases) * bytes;
    let at = image + <usize>(<isize>(<i32>cy) * <isize>row) + <usize>(<isize>(<i32>cx) << 3);
    let sum = f32x4.splat(0);
    for (let j: usize = 0; j < bytes; j += 4, at += row)
      sum = f32x4.add(sum, weighed(sumOf(at, 8, across, taps), down + j));
    put(sum, out, outPlane);
  }
}
