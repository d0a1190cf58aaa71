import { product } from '../colour/primaries';
import { type Triple, times } from '../colour/oklab';
import { fromLinear } from '../pixels/transfer';
import { type Columns, P3_COLUMNS, PROFILE_HEADER, SRGB_COLUMNS } from './profiles';

/*
 * Reads colour profiles of three primaries and a curve for each (ICC.1:2022, 8.3.3), and takes pictures of such colours to
 * those of Display P3.
 */

const TAGS = ['rXYZ', 'gXYZ', 'bXYZ'] as const;
const CURVES = ['rTRC', 'gTRC', 'bTRC'] as const;

interface RgbProfile {
  columns: Columns;
  /** Linear light of a coded value, 0..1 each. */
  curves: readonly ((x: number) => number)[];
}

/** How far numbers may lie from those of Display P3. */
const TOLERANCE = 0.003;
/** A primary that has less than this of another one of sRGB lies outside of that. */
const OUTSIDE = -0.02;
/** Steps of the table that codes light, by its square root: half a level of 16 bits at most. */
const STEPS = 65535;

/** True for a profile of the colours of Display P3, whatever it calls itself: its pixels can be taken as they are. */
export function isP3Profile(profile: Uint8Array): boolean {
  const read = rgbProfile(profile);
  if (!read) return false;
  const isNear = (a: number, b: number): boolean => Math.abs(a - b) < TOLERANCE;
  return (
    TAGS.every((tag) => read.columns[tag].every((value, i) => isNear(value, P3_COLUMNS[tag][i]!))) &&
    read.curves.every((curve) => [0.02, 0.25, 0.5, 0.75].every((x) => isNear(curve(x), srgbCurve(x))))
  );
}

const srgbCurve = (x: number): number => (x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4);

/** Takes samples to Display P3, in place: 8 or 16 bits, interleaved by `channels`, the fourth of which stays. */
export type ToDisplayP3 = (samples: Uint8Array | Uint16Array, channels: 3 | 4) => void;

/**
 * What takes a picture with a profile to Display P3: colours that this has not become the nearest by channel. Null for
 * profiles that have no colour beyond sRGB, or are of another kind: their pictures become sRGB.
 */
export function toDisplayP3(profile: Uint8Array): ToDisplayP3 | null {
  if (isP3Profile(profile)) return () => undefined;
  const read = rgbProfile(profile);
  if (!read || !isBeyondSrgb(read.columns)) return null;
  const matrix = product(inverse(matrixOf(P3_COLUMNS)), matrixOf(read.columns));
  const tables = new Map<number, Tables>();
  return (samples, channels) => {
    const top = samples instanceof Uint16Array ? 65535 : 255;
    const known = tables.get(top) ?? tablesOf(top, read.curves);
    tables.set(top, known);
    convert(samples, channels, matrix, known);
  };
}

/** Light of every sample of each channel, and the sample for the square root of light, in `STEPS`. */
interface Tables {
  linear: readonly Float32Array[];
  coded: Uint16Array;
}

function tablesOf(top: number, curves: RgbProfile['curves']): Tables {
  return {
    linear: curves.map((curve) => Float32Array.from({ length: top + 1 }, (_, i) => curve(i / top))),
    coded: Uint16Array.from({ length: STEPS + 1 }, (_, i) => Math.round(top * fromLinear((i / STEPS) ** 2))),
  };
}

function convert(
  samples: Uint8Array | Uint16Array,
  channels: 3 | 4,
  matrix: readonly number[],
  { linear, coded }: Tables,
): void {
  const [red, green, blue] = linear as [Float32Array, Float32Array, Float32Array];
  const [a, b, c, d, e, f, g, h, i] = matrix as unknown as Nine;
  const place = (light: number): number =>
    light <= 0 ? 0 : light >= 1 ? STEPS : (STEPS * Math.sqrt(light) + 0.5) | 0;
  for (let at = 0; at < samples.length; at += channels) {
    const x = red[samples[at]!]!;
    const y = green[samples[at + 1]!]!;
    const z = blue[samples[at + 2]!]!;
    samples[at] = coded[place(a * x + b * y + c * z)]!;
    samples[at + 1] = coded[place(d * x + e * y + f * z)]!;
    samples[at + 2] = coded[place(g * x + h * y + i * z)]!;
  }
}

type Nine = readonly [number, number, number, number, number, number, number, number, number];

/** True for primaries of which one lies outside of sRGB. */
function isBeyondSrgb(columns: Columns): boolean {
  const toSrgb = inverse(matrixOf(SRGB_COLUMNS));
  return TAGS.some((tag) => times(toSrgb, columns[tag] as Triple).some((value) => value < OUTSIDE));
}

/** Columns as a matrix, row by row. */
const matrixOf = (columns: Columns): number[] =>
  [0, 1, 2].flatMap((row) => TAGS.map((tag) => columns[tag][row]!));

function inverse([a, b, c, d, e, f, g, h, i]: readonly number[]): number[] {
  const cofactors = [
    [e! * i! - f! * h!, c! * h! - b! * i!, b! * f! - c! * e!],
    [f! * g! - d! * i!, a! * i! - c! * g!, c! * d! - a! * f!],
    [d! * h! - e! * g!, b! * g! - a! * h!, a! * e! - b! * d!],
  ].flat();
  const determinant = a! * cofactors[0]! + b! * cofactors[3]! + c! * cofactors[6]!;
  return cofactors.map((value) => value / determinant);
}

/** The primaries and curves of a profile; null for one of another kind, or damaged. */
function rgbProfile(profile: Uint8Array): RgbProfile | null {
  try {
    if (nameAt(profile, 16) !== 'RGB ') return null;
    const tags = tagsOf(profile);
    // Tables that profiles may have beside go before primaries.
    if (tags.has('A2B0') || ![...TAGS, ...CURVES].every((tag) => tags.has(tag))) return null;
    const column = (tag: string): number[] =>
      [0, 1, 2].map((i) => fixedAt(profile, tags.get(tag)! + 8 + 4 * i));
    const curves = CURVES.map((tag) => curveAt(profile, tags.get(tag)!)).filter((curve) => curve !== null);
    if (curves.length < CURVES.length) return null;
    const [rXYZ, gXYZ, bXYZ] = TAGS.map(column) as [number[], number[], number[]];
    const isFlat = Math.abs(determinantOf([...rXYZ, ...gXYZ, ...bXYZ])) < 1e-4;
    return isFlat ? null : { columns: { rXYZ, gXYZ, bXYZ }, curves };
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

const determinantOf = ([a, b, c, d, e, f, g, h, i]: readonly number[]): number =>
  a! * (e! * i! - f! * h!) - b! * (d! * i! - f! * g!) + c! * (d! * h! - e! * g!);

const viewOf = ({ buffer, byteOffset, byteLength }: Uint8Array): DataView =>
  new DataView(buffer, byteOffset, byteLength);
const fixedAt = (profile: Uint8Array, at: number): number => viewOf(profile).getInt32(at) / 65536;
const nameAt = (profile: Uint8Array, at: number): string =>
  String.fromCharCode(...profile.subarray(at, at + 4));

/** Where each tag's data lies. */
function tagsOf(profile: Uint8Array): Map<string, number> {
  const view = viewOf(profile);
  const count = Math.min(100, view.getUint32(PROFILE_HEADER));
  return new Map(
    Array.from({ length: count }, (_, i) => {
      const entry = PROFILE_HEADER + 4 + 12 * i;
      return [nameAt(profile, entry), view.getUint32(entry + 4)];
    }),
  );
}

const held = (value: number): number => (value >= 0 ? Math.min(1, value) : 0);

/** A curve (10.6 `curveType`, 10.18 `parametricCurveType`); null for another kind. */
function curveAt(profile: Uint8Array, at: number): ((x: number) => number) | null {
  const view = viewOf(profile);
  const kind = nameAt(profile, at);
  if (kind === 'para') return parametric(profile, at);
  if (kind !== 'curv') return null;
  const count = view.getUint32(at + 8);
  if (count === 0) return (x) => x;
  if (count === 1) {
    const gamma = view.getUint16(at + 12) / 256;
    return (x) => x ** gamma;
  }
  // What lies beyond the end is told now, not while a picture is read.
  view.getUint16(at + 12 + 2 * (count - 1));
  return (x) => {
    const place = x * (count - 1);
    const i = Math.min(count - 2, Math.floor(place));
    const [low, high] = [view.getUint16(at + 12 + 2 * i), view.getUint16(at + 14 + 2 * i)];
    return (low + (place - i) * (high - low)) / 65535;
  };
}

function parametric(profile: Uint8Array, at: number): ((x: number) => number) | null {
  const kind = viewOf(profile).getUint16(at + 8);
  const counts = [1, 3, 4, 5, 7];
  if (kind >= counts.length) return null;
  const [gamma, a = 1, b = 0, c = 0, d = 0, e = 0, f = 0] = Array.from({ length: counts[kind]! }, (_, i) =>
    fixedAt(profile, at + 12 + 4 * i),
  );
  const power = (x: number): number => Math.max(0, a * x + b) ** gamma!;
  // In order: a power; one above a foot of 0; one above a foot of c; a straight foot; and one with steps.
  if (kind === 0) return (x) => held(x ** gamma!);
  if (kind === 1) return (x) => held(x >= -b / a ? power(x) : 0);
  if (kind === 2) return (x) => held(x >= -b / a ? power(x) + c : c);
  return (x) => held(x >= d ? power(x) + e : c * x + f);
}
