import type { Size } from '../../geometry/size';
import type { KernelContext } from '../../memory';
import { bilinear } from '../../geometry/bilinear';
import { interpolateHole } from './membrane';
import {
  HALF,
  type MaskedImage,
  type Matches,
  Patches,
  validPatchCentres,
  holePatchCentres,
} from './patch-match';
import { fillByPriority } from './fill-by-priority';

/** The longest side of the hole at the size that is begun with, in pixels. */
const COARSEST_HOLE_PX = 12;
/** Larger holes are searched at reduced size; finer levels only refine. */
const MAX_SEARCHED_HOLE_PX = 200;
/** The hole at the size that a draft of a larger one is drawn up from, in pixels at least. */
const DRAFT_HOLE = 60;
/** Rounds of guessing and voting, from the smallest size to the largest. */
const ROUNDS = { smallest: 6, largest: 2 } as const;
/** How much less a pixel counts for each step into the hole. */
const LESS_TRUST = 1.25;
const MIN_TRUST = 0.02;
/** By steps, as far as it is more than the least. */
const TRUST = Array.from(
  { length: Math.ceil(-Math.log(MIN_TRUST) / Math.log(LESS_TRUST)) },
  (_, steps) => LESS_TRUST ** -steps,
);

type Untrusted = Omit<MaskedImage, 'trust'>;

/** Half the size each way; a pixel is a hole where one of its four is. */
function halved({ width, height, colours, hole }: Untrusted): Untrusted {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const small = { width: w, height: h, colours: new Float32Array(w * h * 3), hole: new Uint8Array(w * h) };
  for (let y = 0; y < h; y++) {
    const [upper, lower] = [2 * y * width, Math.min(2 * y + 1, height - 1) * width];
    for (let x = 0; x < w; x++) {
      const to = y * w + x;
      const [left, right] = [2 * x, Math.min(2 * x + 1, width - 1)];
      let known = 0;
      let [r, g, b] = [0, 0, 0];
      for (let k = 0; k < 4; k++) {
        const at = (k < 2 ? upper : lower) + (k % 2 === 0 ? left : right);
        if (hole[at] === 1) continue;
        known++;
        r += colours[at * 3]!;
        g += colours[at * 3 + 1]!;
        b += colours[at * 3 + 2]!;
      }
      if (known < 4) small.hole[to] = 1;
      if (known === 0) continue;
      small.colours[to * 3] = r / known;
      small.colours[to * 3 + 1] = g / known;
      small.colours[to * 3 + 2] = b / known;
    }
  }
  return small;
}

/** Steps from the hole's edge, made into trust. */
function withTrust(image: Untrusted): MaskedImage {
  const { width, height, hole } = image;
  const depth = new Float32Array(width * height);
  const most = width + height;
  // Two passes of steps along rows and columns (A. Rosenfeld, J. Pfaltz, 1966).
  for (let at = 0; at < depth.length; at++)
    if (hole[at] === 1)
      depth[at] =
        1 + Math.min(at % width > 0 ? depth[at - 1]! : most, at >= width ? depth[at - width]! : most);
  for (let at = depth.length - 1; at >= 0; at--)
    if (hole[at] === 1) {
      const right = at % width < width - 1 ? depth[at + 1]! : most;
      const below = at + width < depth.length ? depth[at + width]! : most;
      depth[at] = Math.min(depth[at]!, 1 + right, 1 + below);
    }
  return { ...image, trust: depth.map((steps) => TRUST[steps] ?? MIN_TRUST) };
}

function longestSide({ width, height, hole }: Untrusted): number {
  let [left, right, top, bottom] = [width, -1, height, -1];
  for (let at = 0; at < hole.length; at++) {
    if (hole[at] === 0) continue;
    const [x, y] = [at % width, Math.floor(at / width)];
    [left, right] = [Math.min(left, x), Math.max(right, x)];
    [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
  }
  return Math.max(right - left, bottom - top) + 1;
}

/** Where each patch may come from at twice the size: from where its half-size one came from. */
function doubled(
  { width }: Size,
  good: Uint8Array,
  places: Int32Array,
  { image: small, matches }: { image: Size; matches: Matches },
): Int32Array {
  const known = new Int32Array(small.width * small.height).fill(-1);
  matches.places.forEach((p, i) => (known[p] = matches.from[i]!));
  return places.map((p) => {
    const [x, y] = [p % width, Math.floor(p / width)];
    const q = known[(y >> 1) * small.width + (x >> 1)]!;
    if (q < 0) return -1;
    const at = (2 * Math.floor(q / small.width) + (y & 1)) * width + 2 * (q % small.width) + (x & 1);
    return good[at] === 1 ? at : -1;
  });
}

/** Bytes of memory that filling needs. */
export function fillBytes({ width, height }: Size): number {
  return Patches.bytes(width * height);
}

/**
 * Fills a hole out of what surrounds it, with texture and edges carried on: at a small size from the edge inwards (see
 * `fillByPriority`), and then from size to size every patch at the hole takes the surrounding patch that is most like it, and
 * all that cover a pixel vote on it; what is left of a seam is closed in gradients (P. Pérez, M. Gangnet, A. Blake,
 * "Poisson image editing", SIGGRAPH 2003). The same each time.
 * @param use memory of at least `fillBytes`. @param colours three a pixel. @param hole 1 where it is to be filled.
 * @param onDraft hears of a large hole what it will be like, soon.
 * @returns colours, filled.
 */
export function inpaint(
  use: KernelContext,
  colours: Float32Array,
  hole: Uint8Array,
  size: Size,
  onProgress: (done: number) => void = () => undefined,
  onDraft: (colours: Float32Array) => void = () => undefined,
): Float32Array {
  const { width, height } = size;
  const whole = { width, height, colours: colours.slice(), hole };
  const sizes: Untrusted[] = [whole];
  while (longestSide(sizes[0]!) > COARSEST_HOLE_PX && Math.min(sizes[0]!.width, sizes[0]!.height) > 6 * HALF)
    sizes.unshift(halved(sizes[0]!));
  let dice = 0x2545f491;
  let before: { image: MaskedImage; matches: Matches } | null = null;
  const drafted =
    longestSide(whole) > MAX_SEARCHED_HOLE_PX
      ? sizes.findIndex((image) => longestSide(image) >= DRAFT_HOLE)
      : -1;
  for (const [level, untrusted] of sizes.entries()) {
    const image = withTrust(untrusted);
    const isWhole = untrusted === whole;
    const good = validPatchCentres(image);
    // Where there is nothing to take from, what surrounds it is drawn smoothly together.
    if (!good.includes(1)) {
      interpolateHole(image.colours, image.hole, image, 3);
      continue;
    }
    const patches = new Patches(use, image, good);
    const places = holePatchCentres(image);
    const matches: Matches = {
      places,
      from: before ? doubled(image, good, places, before) : new Int32Array(places.length).fill(-1),
      unlike: new Float32Array(places.length),
    };
    if (before) copyInto(image, patches.vote(matches));
    else fillByPriority(image, patches);
    patches.show();
    const isLarge = longestSide(image) > MAX_SEARCHED_HOLE_PX;
    const longEdge = Math.max(image.width, image.height);
    const share = sizes.length > 1 ? level / (sizes.length - 1) : 1;
    const rounds = isLarge ? 1 : Math.round(ROUNDS.smallest + (ROUNDS.largest - ROUNDS.smallest) * share);
    const reach = before ? Math.max(8, longEdge >> level) : longEdge;
    for (let round = 0; round < rounds; round++) {
      dice = patches.match(matches, before ? 1 : 3, reach, dice);
      const made = patches.vote(matches);
      if (isWhole && round === rounds - 1) blendBoundary(made, colours, image);
      copyInto(image, made);
      patches.show();
      // The last sizes take nearly all of the time.
      onProgress((4 ** level * ((round + 1) / rounds)) / 4 ** (sizes.length - 1));
    }
    if (level === drafted && !isWhole) onDraft(enlarged(image, whole));
    before = { image, matches };
  }
  return whole.colours;
}

/** Only what is in the hole is thought of; around it stands what was there. */
function copyInto({ colours, hole }: MaskedImage, made: Float32Array): void {
  for (let at = 0; at < hole.length; at++)
    if (hole[at] === 1) for (let c = 0; c < 3; c++) colours[at * 3 + c] = made[at * 3 + c]!;
}

/** A picture with its hole as a smaller one of it has it, drawn up. */
function enlarged(small: MaskedImage, whole: Untrusted): Float32Array {
  const colours = whole.colours.slice();
  const [fx, fy] = [small.width / whole.width, small.height / whole.height];
  for (let at = 0; at < whole.hole.length; at++) {
    if (whole.hole[at] === 0) continue;
    const x = Math.max(0, ((at % whole.width) + 0.5) * fx - 0.5);
    const y = Math.max(0, (Math.floor(at / whole.width) + 0.5) * fy - 0.5);
    for (let c = 0; c < 3; c++) colours[at * 3 + c] = bilinear(small.colours, small, 3, c, x, y);
  }
  return colours;
}

/** A larger difference is an object edge, not a brightness offset. */
const MAX_OFF = 0.06;

/** Adds to what was voted, in the hole, what it is off by around it. */
function blendBoundary(made: Float32Array, came: Float32Array, { hole, width, height }: MaskedImage): void {
  const off = new Float32Array(made.length);
  const open = Uint8Array.from(hole);
  for (let at = 0; at < hole.length; at++) {
    if (hole[at] === 1) continue;
    for (let c = 0; c < 3; c++) {
      off[at * 3 + c] = came[at * 3 + c]! - made[at * 3 + c]!;
      if (Math.abs(off[at * 3 + c]!) > MAX_OFF) open[at] = 1;
    }
  }
  interpolateHole(off, open, { width, height }, 3);
  for (let i = 0; i < made.length; i++) made[i]! += off[i]!;
}
