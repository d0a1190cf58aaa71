import type { Size } from '../../geometry/size';
import { Arena, type KernelContext } from '../../memory';

/** Pixels from the middle of a patch to its side; as the kernels have it. */
export const HALF = 3;
/** Floats of a pixel in the kernels: three colours, and how much it counts. */
const FLOATS = 4;

/** A picture with a hole, at one size. */
export interface MaskedImage extends Size {
  /** Three a pixel; in the hole what is thought of it so far. */
  colours: Float32Array;
  /** 1 in the hole. */
  hole: Uint8Array;
  /** How much a pixel counts in a comparison: less, the deeper it lies in the hole. */
  trust: Float32Array;
}

/** For each place whose patch reaches into the hole, the place whose patch is most like it, and how unlike. */
export interface Matches {
  /** Middles of the patches that reach into the hole, row by row. */
  places: Int32Array;
  /** Where the middle of the matching patch lies; -1 where there is no patch at all. */
  from: Int32Array;
  unlike: Float32Array;
}

/** 1 where a patch with its middle there lies inside the picture and reaches no hole. */
export function validPatchCentres({ width, height, hole }: MaskedImage): Uint8Array {
  const good = new Uint8Array(width * height);
  // Holes counted from the corner on: a patch has none where four sums say so.
  const sums = new Int32Array((width + 1) * (height + 1));
  const at = (x: number, y: number): number => sums[y * (width + 1) + x]!;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      sums[(y + 1) * (width + 1) + x + 1] = hole[y * width + x]! + at(x, y + 1) + at(x + 1, y) - at(x, y);
  for (let y = HALF; y < height - HALF; y++)
    for (let x = HALF; x < width - HALF; x++) {
      const [l, t, r, b] = [x - HALF, y - HALF, x + HALF + 1, y + HALF + 1];
      if (at(r, b) - at(l, b) - at(r, t) + at(l, t) === 0) good[y * width + x] = 1;
    }
  return good;
}

/** Middles of all patches that reach into the hole. */
export function holePatchCentres({ width, height, hole }: MaskedImage): Int32Array {
  const near = new Uint8Array(width * height);
  let count = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (hole[y * width + x] === 0) continue;
      const [top, bottom] = [Math.max(0, y - HALF), Math.min(height - 1, y + HALF)];
      const [left, right] = [Math.max(0, x - HALF), Math.min(width - 1, x + HALF)];
      for (let j = top; j <= bottom; j++) near.fill(1, j * width + left, j * width + right + 1);
    }
  for (const is of near) count += is;
  const places = new Int32Array(count);
  for (let i = 0, k = 0; i < near.length; i++) if (near[i] === 1) places[k++] = i;
  return places;
}

/** Addresses of what the kernels read and write of a picture of so many pixels, and the bytes of it all. */
function layout(pixels: number) {
  const arena = new Arena();
  return {
    image: arena.floats(FLOATS * pixels),
    sums: arena.floats(FLOATS * pixels),
    slot: arena.floats(pixels),
    places: arena.floats(pixels),
    from: arena.floats(pixels),
    unlike: arena.floats(pixels),
    good: arena.take(pixels),
    bytes: arena.bytes,
  };
}

/** The kernels over a picture with a hole, in memory of their own. */
export class Patches {
  private readonly at: Readonly<ReturnType<typeof layout>>;

  /** Bytes of memory that a picture of so many pixels needs. */
  static bytes(pixels: number): number {
    return layout(pixels).bytes;
  }

  /** @param use memory of at least `bytes`. @param good see `validPatchCentres`. */
  constructor(
    private readonly use: KernelContext,
    private readonly picture: MaskedImage,
    good: Uint8Array,
  ) {
    this.at = layout(picture.width * picture.height);
    use.heap.bytes.set(good, this.at.good);
    this.show();
  }

  /** Takes over what is thought of the picture now. */
  show(trust = this.picture.trust): void {
    const { colours } = this.picture;
    const image = this.use.heap.floatsAt(this.at.image, FLOATS * trust.length);
    for (let i = 0; i < trust.length; i++) {
      image[4 * i] = colours[3 * i]!;
      image[4 * i + 1] = colours[3 * i + 1]!;
      image[4 * i + 2] = colours[3 * i + 2]!;
      image[4 * i + 3] = trust[i]!;
    }
  }

  /** The good pixel whose patch is most like that of p, looked for among all; -1 where there is none. */
  best(p: number): number {
    return this.use.kernels.bestPatch(this.search(0), p);
  }

  /** Writes what the kernels read, with so many places. */
  private search(count: number): number {
    const { width, height } = this.picture;
    const { image, good, slot, places, from, unlike } = this.at;
    return this.use.parameters('PatchSearch', {
      image,
      width,
      height,
      good,
      slot,
      places,
      count,
      from,
      unlike,
    });
  }

  /**
   * Makes matches better in place: guesses spread from neighbour to neighbour, and each is tried against others ever
   * nearer to it (C. Barnes et al., "PatchMatch: a randomized correspondence algorithm for structural image editing",
   * SIGGRAPH 2009).
   * @param reach how far away others are tried at first, in pixels. @param dice not 0. @returns the dice, thrown.
   */
  match({ places, from, unlike }: Matches, rounds: number, reach: number, dice: number): number {
    const { heap, kernels } = this.use;
    const { width, height } = this.picture;
    const words = new Int32Array(heap.bytes.buffer);
    words.fill(-1, this.at.slot / 4, this.at.slot / 4 + width * height);
    places.forEach((p, i) => (words[this.at.slot / 4 + p] = i));
    words.set(places, this.at.places / 4);
    words.set(from, this.at.from / 4);
    const thrown = kernels.matchPatches(this.search(places.length), rounds, reach, dice);
    from.set(words.subarray(this.at.from / 4, this.at.from / 4 + from.length));
    unlike.set(heap.floatsAt(this.at.unlike, unlike.length));
    return thrown;
  }

  /**
   * What all matching patches say together of each pixel that they cover; the more alike and the nearer to the hole's
   * edge one is, the more it says (Y. Wexler, E. Shechtman, M. Irani, "Space-time completion of video", PAMI 2007).
   * @returns colours, where a patch says something; else those that were there.
   */
  vote({ places, from, unlike }: Matches): Float32Array {
    const { heap, kernels } = this.use;
    const { width, height, colours, trust } = this.picture;
    const known = unlike.filter((d) => d < 1e30).sort();
    // Three quarters of all are more alike than this.
    const usual = Math.max(1e-6, known[Math.floor(known.length * 0.75)] ?? 0);
    const words = new Int32Array(heap.bytes.buffer);
    words.set(places, this.at.places / 4);
    words.set(from, this.at.from / 4);
    const says = heap.floatsAt(this.at.unlike, places.length);
    places.forEach((p, i) => (says[i] = trust[p]! * Math.exp(-unlike[i]! / (2 * usual)) + 1e-9));
    heap.fillFloats(this.at.sums, FLOATS * width * height, 0);
    kernels.votePatches(this.search(places.length), this.at.unlike, this.at.sums);
    const sums = heap.floatsAt(this.at.sums, FLOATS * width * height);
    const made = Float32Array.from(colours);
    for (let a = 0; a < width * height; a++)
      if (sums[4 * a + 3]! > 0)
        for (let c = 0; c < 3; c++) made[a * 3 + c] = sums[4 * a + c]! / sums[4 * a + 3]!;
    return made;
  }
}
