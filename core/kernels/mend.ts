// Matching patches around a hole. Pixels are four floats: red, green, blue, and how much the pixel counts.

/** A picture with a hole, and what is found for it; see `core/src/tidy/mend/patch-match`. */
// @ts-ignore: decorator
@unmanaged
class PatchSearch {
  image: usize = 0;
  width: i32 = 0;
  height: i32 = 0;
  /** A byte a pixel: 1 where a patch may be taken from. */
  good: usize = 0;
  /** A word a pixel: which of the `count` places it is, or -1. */
  slot: usize = 0;
  /** Pixels at the middle of the patches that reach into the hole. */
  places: usize = 0;
  count: i32 = 0;
  /** Of each place, the pixel at the middle of the patch that is most like it or -1, and how unlike that is. */
  from: usize = 0;
  unlike: usize = 0;
}

const HALF: i32 = 3;
const FAR: f32 = 3.4e38;

/** How unlike the patches around pixels p and q are: the mean square difference by trust; more than `most` is enough. */
function difference(image: usize, width: i32, height: i32, p: i32, q: i32, most: f32): f32 {
  const px = p % width;
  const py = p / width;
  // Beyond the picture there is nothing to compare.
  const left = max(-HALF, -px);
  const right = min(HALF, width - 1 - px);
  const top = max(-HALF, -py);
  const bottom = min(HALF, height - 1 - py);
  const bound = most * 49;
  let sum: f32 = 0;
  let weight: f32 = 0;
  for (let dy = top; dy <= bottom; dy++) {
    let a = image + (<usize>(p + dy * width + left) << 4);
    let b = image + (<usize>(q + dy * width + left) << 4);
    let row = f32x4.splat(0);
    for (let dx = left; dx <= right; dx++) {
      const d = f32x4.sub(v128.load(a), v128.load(b));
      row = f32x4.add(row, f32x4.mul(f32x4.mul(d, d), v128.load32_splat(a, 12)));
      weight += load<f32>(a, 12);
      a += 16;
      b += 16;
    }
    sum += f32x4.extract_lane(row, 0) + f32x4.extract_lane(row, 1) + f32x4.extract_lane(row, 2);
    if (sum > bound) return FAR;
  }
  return weight > 0 ? sum / weight : 0;
}

/** Makes the matches of a `PatchSearch` better: `from` and `unlike`. Returns the dice's state. */
export function matchPatches(block: usize, rounds: i32, reach: i32, dice: i32): i32 {
  const search = changetype<PatchSearch>(block);
  const image = search.image;
  const width = search.width;
  const height = search.height;
  const good = search.good;
  const slot = search.slot;
  const places = search.places;
  const count = search.count;
  const from = search.from;
  const unlike = search.unlike;
  const pixels = width * height;
  for (let i = 0; i < count; i++) {
    const q = load<i32>(from + (<usize>i << 2));
    store<f32>(unlike + (<usize>i << 2), q >= 0 ? difference(image, width, height, load<i32>(places + (<usize>i << 2)), q, FAR) : FAR);
  }
  for (let round = 0; round < rounds; round++) {
    const step = (round & 1) == 0 ? 1 : -1;
    for (let k = 0; k < count; k++) {
      const i = <usize>(step == 1 ? k : count - 1 - k) << 2;
      const p = load<i32>(places + i);
      const x = p % width;
      let best = load<i32>(from + i);
      let least = load<f32>(unlike + i);
      // What the two neighbours that came before have found, moved on by a pixel.
      for (let way = 0; way < 2; way++) {
        const by = way == 0 ? step : step * width;
        const n = p - by;
        if (n < 0 || n >= pixels || (way == 0 && (x - step < 0 || x - step >= width))) continue;
        const s = load<i32>(slot + (<usize>n << 2));
        if (s < 0) continue;
        const known = load<i32>(from + (<usize>s << 2));
        if (known < 0) continue;
        const q = known + by;
        if (q < 0 || q >= pixels || q == best || load<u8>(good + q) == 0) continue;
        const d = difference(image, width, height, p, q, least);
        if (d < least) {
          least = d;
          best = q;
        }
      }
      for (let r = reach; r >= 1; r >>= 1) {
        const q = best >= 0 ? best : p;
        dice ^= dice << 13;
        dice ^= dice >>> 17;
        dice ^= dice << 5;
        const qx = (q % width) + <i32>(<u32>dice % <u32>(2 * r + 1)) - r;
        dice ^= dice << 13;
        dice ^= dice >>> 17;
        dice ^= dice << 5;
        const qy = q / width + <i32>(<u32>dice % <u32>(2 * r + 1)) - r;
        if (qx < 0 || qx >= width || qy < 0 || qy >= height) continue;
        const at = qy * width + qx;
        if (at == best || load<u8>(good + at) == 0) continue;
        const d = difference(image, width, height, p, at, least);
        if (d < least) {
          least = d;
          best = at;
        }
      }
      store<i32>(from + i, best);
      store<f32>(unlike + i, least);
    }
  }
  return dice;
}

/** The pixel, among those that are good, whose patch is most like that of p; pixels that count for nothing are left out. */
export function bestPatch(block: usize, p: i32): i32 {
  const search = changetype<PatchSearch>(block);
  const image = search.image;
  const width = search.width;
  const height = search.height;
  const good = search.good;
  let best = -1;
  let least = FAR;
  for (let q = 0, end = width * height; q < end; q++) {
    if (load<u8>(good + q) == 0) continue;
    const d = difference(image, width, height, p, q, least);
    if (d < least) {
      least = d;
      best = q;
    }
  }
  return best;
}

/** Adds to sums (four floats a pixel: colours by weight, and weight) what the matches say of the pixels they cover, by a weight each. */
export function votePatches(block: usize, weights: usize, sums: usize): void {
  const search = changetype<PatchSearch>(block);
  const image = search.image;
  const width = search.width;
  const height = search.height;
  const places = search.places;
  const count = search.count;
  const from = search.from;
  for (let i: usize = 0, end = <usize>count << 2; i < end; i += 4) {
    const q = load<i32>(from + i);
    if (q < 0) continue;
    const p = load<i32>(places + i);
    const px = p % width;
    const py = p / width;
    const weight = v128.load32_splat(weights + i);
    const left = max(-HALF, -px);
    const right = min(HALF, width - 1 - px);
    for (let dy = max(-HALF, -py), bottom = min(HALF, height - 1 - py); dy <= bottom; dy++) {
      let to = sums + (<usize>(p + dy * width + left) << 4);
      let at = image + (<usize>(q + dy * width + left) << 4);
      for (let dx = left; dx <= right; dx++) {
        const colour = f32x4.replace_lane(v128.load(at), 3, 1);
        v128.store(to, f32x4.add(v128.load(to), f32x4.mul(colour, weight)));
        to += 16;
        at += 16;
      }
    }
  }
}
