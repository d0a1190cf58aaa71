// A turned picture: each pixel out of the six by six samples around its place, by a windowed sinc.

/** How the places of a row's pixels lie in an image of three planes, and the weights that its samples are read by. */
// @ts-ignore: decorator
@unmanaged
class Rotation {
  image: usize = 0;
  /** Bytes from row to row, and from plane to plane. */
  row: usize = 0;
  plane: usize = 0;
  /** What a pixel adds to the place of the one before, in samples. */
  dx: f32 = 0;
  dy: f32 = 0;
  weights: usize = 0;
}

/** Phases that the table of weights has, and the floats of each: six weights and two zeros. */
const PHASES: f32 = 256;
const PHASE_BYTES: usize = 32;

// @ts-ignore: decorator
@inline
function sumOf(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3);
}

/**
 * n pixels at places (x + i dx, y + i dy) of a `Rotation`, counted in samples, to three planes. Two samples before and three
 * after each place are read each way, and two more to the right that weigh nothing.
 */
export function rotateRow(block: usize, x: f32, y: f32, n: i32, out: usize, outPlane: usize): void {
  const rotation = changetype<Rotation>(block);
  const image = rotation.image;
  const row = rotation.row;
  const plane = rotation.plane;
  const dx = rotation.dx;
  const dy = rotation.dy;
  const weights = rotation.weights;
  for (let i = 0; i < n; i++) {
    const px = x + <f32>i * dx;
    const py = y + <f32>i * dy;
    const cx = floor(px);
    const cy = floor(py);
    const across = weights + <usize>nearest((px - cx) * PHASES) * PHASE_BYTES;
    const down = weights + <usize>nearest((py - cy) * PHASES) * PHASE_BYTES;
    const first = v128.load(across);
    const last = v128.load(across, 16);
    const corner = image + <usize>(<i32>cy - 2) * row + (<usize>(<i32>cx - 2) << 2);
    for (let c: usize = 0; c < 3; c++) {
      let from = corner + c * plane;
      let sum = f32x4.splat(0);
      for (let k: usize = 0; k < 6; k++) {
        const along = f32x4.add(f32x4.mul(v128.load(from), first), f32x4.mul(v128.load(from, 16), last));
        sum = f32x4.add(sum, f32x4.mul(along, v128.load32_splat(down + (k << 2))));
        from += row;
      }
      store<f32>(out + c * outPlane + (<usize>i << 2), sumOf(sum));
    }
  }
}
