// Colours looked up in a table: a lattice of red, green and blue, or a curve for each.
import { decode, encode } from './transfer';

/** Linear light as a coded value in steps of a table, held within it. */
// @ts-ignore: decorator
@inline
function inSteps(linear: v128, domain: usize, channel: usize, top: f32): v128 {
  const from = v128.load32_splat(domain + (channel << 2));
  const rate = v128.load32_splat(domain + 12 + (channel << 2));
  const steps = f32x4.mul(f32x4.sub(encode(linear), from), rate);
  return f32x4.pmin(f32x4.pmax(f32x4.splat(0), steps), f32x4.splat(top));
}

/** Takes linear light a share of the way to what a table says, which is coded. */
// @ts-ignore: decorator
@inline
function put(at: usize, linear: v128, coded: v128, share: v128): void {
  v128.store(at, f32x4.add(linear, f32x4.mul(share, f32x4.sub(decode(coded), linear))));
}

/** The colour at a place of a lattice, between the four nodes of the tetrahedron that it lies in. */
// @ts-ignore: decorator
@inline
function latticeAt(lattice: usize, size: i32, x: f32, y: f32, z: f32): v128 {
  const i = min(<i32>x, size - 2);
  const j = min(<i32>y, size - 2);
  const k = min(<i32>z, size - 2);
  const fx = x - <f32>i;
  const fy = y - <f32>j;
  const fz = z - <f32>k;
  const toY = <usize>size << 4;
  const toZ = toY * <usize>size;
  const node = lattice + (<usize>i << 4) + <usize>j * toY + <usize>k * toZ;
  const all = toZ + toY + 16;
  const most = max(fx, max(fy, fz));
  const least = min(fx, min(fy, fz));
  const middle = fx + fy + fz - most - least;
  // From black to white of the cell: first along the axis that lies furthest, last along the one that lies least far.
  const first: usize = most == fx ? 16 : most == fy ? toY : toZ;
  const last: usize = least == fz ? toZ : least == fy ? toY : 16;
  let colour = f32x4.mul(v128.load(node), f32x4.splat(1 - most));
  colour = f32x4.add(colour, f32x4.mul(v128.load(node + first), f32x4.splat(most - middle)));
  colour = f32x4.add(colour, f32x4.mul(v128.load(node + all - last), f32x4.splat(middle - least)));
  return f32x4.add(colour, f32x4.mul(v128.load(node + all), f32x4.splat(least)));
}

/**
 * Takes three linear planes a share of the way to what a lattice says, in place; tetrahedral interpolation of coded values
 * (J. Sakamoto, H. Itooka, US 4275413, 1981). A node is four floats: red, green, blue, nothing; `size` of them each way,
 * red going fastest. `domain` points to six floats: the coded values at the first node, and the steps for a value of 1.
 */
export function lut3dRow(row: usize, plane: usize, n: i32, lattice: usize, size: i32, domain: usize, share: f32): void {
  const top = <f32>(size - 1);
  const by = f32x4.splat(share);
  for (let at = row, end = row + (<usize>n << 2); at < end; at += 16) {
    const r = v128.load(at);
    const g = v128.load(at + plane);
    const b = v128.load(at + 2 * plane);
    const x = inSteps(r, domain, 0, top);
    const y = inSteps(g, domain, 1, top);
    const z = inSteps(b, domain, 2, top);
    const c0 = latticeAt(lattice, size, f32x4.extract_lane(x, 0), f32x4.extract_lane(y, 0), f32x4.extract_lane(z, 0));
    const c1 = latticeAt(lattice, size, f32x4.extract_lane(x, 1), f32x4.extract_lane(y, 1), f32x4.extract_lane(z, 1));
    const c2 = latticeAt(lattice, size, f32x4.extract_lane(x, 2), f32x4.extract_lane(y, 2), f32x4.extract_lane(z, 2));
    const c3 = latticeAt(lattice, size, f32x4.extract_lane(x, 3), f32x4.extract_lane(y, 3), f32x4.extract_lane(z, 3));
    const low01 = v128.shuffle<f32>(c0, c1, 0, 4, 1, 5);
    const low23 = v128.shuffle<f32>(c2, c3, 0, 4, 1, 5);
    const blue01 = v128.shuffle<f32>(c0, c1, 2, 6, 3, 7);
    const blue23 = v128.shuffle<f32>(c2, c3, 2, 6, 3, 7);
    put(at, r, v128.shuffle<f32>(low01, low23, 0, 1, 4, 5), by);
    put(at + plane, g, v128.shuffle<f32>(low01, low23, 2, 3, 6, 7), by);
    put(at + 2 * plane, b, v128.shuffle<f32>(blue01, blue23, 0, 1, 4, 5), by);
  }
}

// @ts-ignore: decorator
@inline
function curveAt(curve: usize, size: i32, x: f32): f32 {
  const i = min(<i32>x, size - 2);
  const at = curve + (<usize>i << 2);
  const a = load<f32>(at);
  return a + (x - <f32>i) * (load<f32>(at, 4) - a);
}

/** As lut3dRow, with a curve of `size` floats for each channel, one after the other; between them in a straight line. */
export function lut1dRow(row: usize, plane: usize, n: i32, curves: usize, size: i32, domain: usize, share: f32): void {
  const top = <f32>(size - 1);
  const by = f32x4.splat(share);
  for (let channel: usize = 0; channel < 3; channel++) {
    const curve = curves + channel * (<usize>size << 2);
    const from = row + channel * plane;
    for (let at = from, end = from + (<usize>n << 2); at < end; at += 16) {
      const linear = v128.load(at);
      const x = inSteps(linear, domain, channel, top);
      let coded = f32x4.splat(curveAt(curve, size, f32x4.extract_lane(x, 0)));
      coded = f32x4.replace_lane(coded, 1, curveAt(curve, size, f32x4.extract_lane(x, 1)));
      coded = f32x4.replace_lane(coded, 2, curveAt(curve, size, f32x4.extract_lane(x, 2)));
      coded = f32x4.replace_lane(coded, 3, curveAt(curve, size, f32x4.extract_lane(x, 3)));
      put(at, linear, coded, by);
    }
  }
}
