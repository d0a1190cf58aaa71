// Scenes of a textured thing that moves over textured ground, whose truth is known: what following is held against.
import { MotionTracker, type Grey, type Raster, makeRaster } from '../src/index';
import { type Similarity, invert, transformPoint } from '../src/geometry/similarity';

/** What is seen at a frame: how ground and thing lie, and what lies over them. */
export interface Moment {
  ground: Similarity;
  thing: Similarity;
  /** The left edge of a bar that passes before everything, in pixels; none where nothing is said. */
  bar?: number;
  /** Light is multiplied by this. */
  gain?: number;
}

export interface MovingScene {
  width: number;
  height: number;
  frames: number;
  /** Radius of the outline that is drawn around the thing, where that is not its own. */
  drawn?: number;
  /** Where the thing lies at frame 0, in pixels, and its radius. */
  middle: readonly [number, number];
  radius: number;
  at: (frame: number) => Moment;
  /** Standard deviation of the noise of each frame, in levels. */
  noise?: number;
  /** Radius of a box blur of the whole frame, by frame. */
  blur?: (frame: number) => number;
  /** The first and the last frame on which nothing of the thing can be seen. */
  hidden?: readonly [number, number];
}

export const BAR_WIDTH = 230;

/** Degrees, scale and shift about a place, as a similarity. */
export function about(
  [x, y]: readonly [number, number],
  degrees: number,
  scale: number,
  dx: number,
  dy: number,
): Similarity {
  const r = (degrees * Math.PI) / 180;
  const [a, b] = [scale * Math.cos(r), scale * Math.sin(r)];
  return { a, b, tx: x + dx - (a * x - b * y), ty: y + dy - (b * x + a * y) };
}

function randomOf(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const EDGE = 1024;
const textures = new Map<number, Float32Array>();

const eased = (t: number): number => t * t * (3 - 2 * t);

/** Noise of several sizes, from cells of 3 pixels to cells of 50, 1024 pixels square. */
function texture(seed: number): Float32Array {
  const known = textures.get(seed);
  if (known) return known;
  const random = randomOf(seed);
  const out = new Float32Array(EDGE * EDGE).fill(128);
  for (const [cell, strength] of [
    [3, 14],
    [7, 22],
    [17, 30],
    [50, 34],
  ] as const) {
    const side = Math.ceil(EDGE / cell) + 2;
    const knots = Float32Array.from({ length: side * side }, () => (random() * 2 - 1) * strength);
    for (let y = 0; y < EDGE; y++) {
      const iy = Math.floor(y / cell);
      const fy = eased(y / cell - iy);
      for (let x = 0; x < EDGE; x++) {
        const ix = Math.floor(x / cell);
        const fx = eased(x / cell - ix);
        const k = iy * side + ix;
        const above = knots[k]! * (1 - fx) + knots[k + 1]! * fx;
        const below = knots[k + side]! * (1 - fx) + knots[k + side + 1]! * fx;
        out[y * EDGE + x]! += above * (1 - fy) + below * fy;
      }
    }
  }
  textures.set(seed, out);
  return out;
}

/** Between the pixels of a texture, which goes on from the other side. */
function lightOf(values: Float32Array, x: number, y: number): number {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  const fx = x - ix;
  const fy = y - iy;
  const x0 = ix & (EDGE - 1);
  const x1 = (ix + 1) & (EDGE - 1);
  const y0 = (iy & (EDGE - 1)) * EDGE;
  const y1 = ((iy + 1) & (EDGE - 1)) * EDGE;
  const above = values[y0 + x0]! + fx * (values[y0 + x1]! - values[y0 + x0]!);
  const below = values[y1 + x0]! + fx * (values[y1 + x1]! - values[y1 + x0]!);
  return above + fy * (below - above);
}

/** A plane with detail at several sizes, as a function of a place. */
export const texturedPlane = (x: number, y: number): number => lightOf(texture(4), x, y);

/** A frame of a scene, as a decoder gives it: levels 0..255. */
export function sceneFrame(scene: MovingScene, frame: number): Grey {
  const { width, height, middle, radius, noise = 0 } = scene;
  const { ground, thing, bar, gain = 1 } = scene.at(frame);
  const [toGround, toThing] = [invert(ground), invert(thing)];
  const [under, over, before] = [texture(1), texture(2), texture(3)];
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (bar !== undefined && x >= bar && x < bar + BAR_WIDTH) {
        data[i] = gain * lightOf(before, x - bar, y);
        continue;
      }
      const u = toThing.a * x - toThing.b * y + toThing.tx;
      const v = toThing.b * x + toThing.a * y + toThing.ty;
      const out = Math.sqrt((u - middle[0]) ** 2 + (v - middle[1]) ** 2) - radius;
      const cover = Math.min(1, Math.max(0, 0.5 - out));
      let light = 0;
      if (cover < 1) {
        const p = toGround.a * x - toGround.b * y + toGround.tx;
        const q = toGround.b * x + toGround.a * y + toGround.ty;
        light = lightOf(under, p, q);
      }
      if (cover > 0) light += cover * (lightOf(over, u + 311, v + 177) - light);
      data[i] = light * gain;
    }
  const soft = scene.blur ? boxBlurred({ width, height, data }, scene.blur(frame)) : { width, height, data };
  const random = randomOf(frame * 77 + 5);
  for (let i = 0; i < soft.data.length; i++) {
    // Three even draws come near enough to a bell.
    const grain = noise > 0 ? noise * 2 * (random() + random() + random() - 1.5) : 0;
    soft.data[i] = Math.min(255, Math.max(0, Math.round(soft.data[i]! + grain)));
  }
  return soft;
}

function boxBlurred({ width, height, data }: Grey, radius: number): Grey {
  if (radius < 1) return { width, height, data };
  const blurRows = (from: Float32Array, count: number, length: number, step: number, row: number) => {
    const out = new Float32Array(from.length);
    for (let r = 0; r < count; r++) {
      let sum = 0;
      const at = (i: number): number => from[r * row + Math.min(length - 1, Math.max(0, i)) * step]!;
      for (let i = -radius; i <= radius; i++) sum += at(i);
      for (let i = 0; i < length; i++) {
        out[r * row + i * step] = sum / (2 * radius + 1);
        sum += at(i + radius + 1) - at(i - radius);
      }
    }
    return out;
  };
  const across = blurRows(data, height, width, 1, width);
  return { width, height, data: blurRows(across, width, height, width, 1) };
}

const size = { width: 640, height: 360 };
const REST: Similarity = { a: 1, b: 0, tx: 0, ty: 0 };

/** A thing of radius 77 unless something else is said, in the left part of the frame. */
function scene(parts: Partial<MovingScene> & Pick<MovingScene, 'at'>): MovingScene {
  return { ...size, frames: 40, middle: [180, 180], radius: 77, ...parts };
}

const shifted = (dx: number, dy = 0): Similarity => ({ ...REST, tx: dx, ty: dy });

export const SCENES: Readonly<Record<string, MovingScene>> = {
  'slow over ground': scene({ frames: 50, at: (i) => ({ ground: REST, thing: shifted(2.5 * i) }) }),
  'against a pan': scene({
    frames: 35,
    middle: [320, 180],
    at: (i) => ({ ground: shifted(-3 * i), thing: shifted(1.4 * i, -0.3 * i) }),
  }),
  'turning and growing': scene({
    frames: 45,
    at: (i) => ({ ground: REST, thing: about([180, 180], 2 * i, 1.004 ** i, 2 * i, 0.4 * i) }),
  }),
  'fast start 6': scene({ radius: 100, at: (i) => ({ ground: REST, thing: shifted(6 * i) }) }),
  'fast start 8': scene({ radius: 100, frames: 32, at: (i) => ({ ground: REST, thing: shifted(8 * i) }) }),
  'pan of 16': scene({ radius: 0, middle: [420, 180], frames: 20, at: (i) => ({ ground: shifted(-16 * i), thing: REST }) }), // prettier-ignore
  'small and quick': scene({ radius: 22, at: (i) => ({ ground: shifted(0.5 * i), thing: shifted(5 * i, 2 * Math.sin(i / 4) * 4) }) }), // prettier-ignore
  'a bar passes': scene({
    frames: 55,
    middle: [300, 180],
    at: (i) => ({ ground: REST, thing: shifted(1.2 * i), bar: 660 - 12 * i }),
    hidden: [34, 38],
  }),
  'leaves and comes back': scene({
    frames: 75,
    at: (i) => ({ ground: REST, thing: shifted(600 - Math.abs(600 - 12 * i)) }),
    hidden: [45, 55],
  }),
  'noise and flicker': scene({
    noise: 8,
    at: (i) => ({ ground: REST, thing: shifted(2 * i, i), gain: 0.8 + 0.2 * Math.sin(i * 1.7) }),
  }),
  'drawn too wide': scene({
    radius: 60,
    drawn: 100,
    at: (i) => ({ ground: shifted(0.2 * i), thing: shifted(2.2 * i, 0.5 * i) }),
  }),
  'hides for good': scene({
    middle: [300, 180],
    radius: 60,
    frames: 40,
    at: (i) => ({ ground: REST, thing: shifted(i), bar: Math.max(220, 660 - 14 * i) }),
    hidden: [31, 39],
  }),
  'out of focus': scene({
    at: (i) => ({ ground: REST, thing: shifted(2.2 * i) }),
    blur: (i) => Math.round(i / 10),
  }),
};

/** What a person would draw around the thing at frame 0. */
export function discRaster({ width, height, middle }: MovingScene, radius: number): Raster {
  const samples = Uint16Array.from({ length: width * height }, (_, i) =>
    Math.hypot((i % width) - middle[0], Math.floor(i / width) - middle[1]) <= radius ? 65535 : 0,
  );
  return makeRaster('thing', width, height, samples);
}

/** Less sure than this, following asks to be looked at. */
const SURE = 0.5;

/** How following did: errors of the middle in pixels where it says it is sure, and when it told what. */
export interface Outcome {
  meanPx: number;
  mostPx: number;
  /** Share of the frames on which the thing can be seen and following is sure. */
  sure: number;
  /** Frames after it was hidden until that was told, and after it came back until it was found; null where never. */
  toldAfter: number | null;
  foundAfter: number | null;
}

/** Follows the thing of a scene, or the ground where it has none, and holds that against the truth. */
export function followedThrough(scene: MovingScene): Outcome {
  const { middle, hidden } = scene;
  const radius = (scene.drawn ?? scene.radius) || 77;
  const [x, y] = middle;
  const box = { left: x - radius, right: x + radius, top: y - radius, bottom: y + radius };
  const outline = discRaster(scene, radius);
  const follower = new MotionTracker(sceneFrame(scene, 0), { at: middle, box, outline });
  const errors: number[] = [];
  let [seen, toldAt, foundAt]: [number, number | null, number | null] = [0, null, null];
  for (let i = 1; i < scene.frames; i++) {
    const step = follower.next(sceneFrame(scene, i));
    const { ground, thing } = scene.at(i);
    const [u, v] = transformPoint(scene.radius ? thing : ground, middle);
    const isHidden = hidden !== undefined && i >= hidden[0] && i <= hidden[1];
    const isSure = step.isSeen && step.confidence >= SURE;
    if (!isHidden) seen++;
    if (isSure)
      errors.push(
        Math.hypot(transformPoint(step.motion, middle)[0] - u, transformPoint(step.motion, middle)[1] - v),
      );
    if (hidden && !isSure && toldAt === null && i >= hidden[0] - 6) toldAt = i;
    if (hidden && isSure && foundAt === null && i > hidden[1]) foundAt = i;
  }
  return {
    meanPx: errors.reduce((a, b) => a + b, 0) / Math.max(1, errors.length),
    mostPx: errors.reduce((a, b) => Math.max(a, b), 0),
    sure: errors.length / seen,
    toldAfter: hidden && toldAt !== null ? toldAt - hidden[0] : null,
    foundAfter: hidden && foundAt !== null ? foundAt - hidden[1] - 1 : null,
  };
}
