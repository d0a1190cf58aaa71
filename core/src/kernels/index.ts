export { BLOCKS, BLOCK_BYTES, type BlockName, type BlockValues } from './blocks';

/**
 * The hot loops, compiled from `core/kernels` to WebAssembly SIMD. All take byte offsets into the memory the kernels
 * were given, those with many parameters that of a block of them (see `BLOCKS`); nothing is allocated inside, so any number of workers may share one memory.
 */
// prettier-ignore
export interface Kernels {
  decodeRow(source: number, channels: number, bytes: number, table: number, out: number, plane: number, n: number): void;
  encodeRow8(row: number, plane: number, keep: number, channels: number, out: number, n: number, px: number, py: number): void;
  encodeRow16(row: number, plane: number, keep: number, channels: number, out: number, n: number): void;
  mirrorRow(row: number, plane: number, planes: number, n: number, left: number, right: number): void;
  convolveColumns(rows: number, taps: number, count: number, plane: number, planes: number, out: number, outPlane: number, n: number): void;
  convolveColumnsSymmetric(rows: number, taps: number, pairs: number, plane: number, planes: number, out: number, outPlane: number, n: number): void;
  convolveRowSymmetric(row: number, plane: number, planes: number, taps: number, radius: number, out: number, outPlane: number, n: number): void;
  downsampleRow(row: number, plane: number, planes: number, halving: number, out: number, outPlane: number, n: number): void;
  resampleRow(row: number, plane: number, first: number, weights: number, count: number, out: number, outPlane: number, n: number): void;
  matchPatches(search: number, rounds: number, reach: number, dice: number): number;
  bestPatch(search: number, p: number): number;
  votePatches(search: number, weights: number, sums: number): void;
  rotateRow(rotation: number, x: number, y: number, n: number, out: number, outPlane: number): void;
  fillHazeRow(out: number, n: number, rest: number): void;
  bandRow(out: number, n: number, distances: number, start: number, step: number, band: number): void;
  ellipseDistanceRow(out: number, n: number, p0: number, pStep: number, q0: number, qStep: number): void;
  irisDistanceRow(out: number, n: number, p0: number, pStep: number, q0: number, qStep: number, rim: number): void;
  soundingsRow(out: number, n: number, x: number, step: number, y: number, list: number, count: number, softening: number): void;
  strokeCoverageRow(segment: number, cover: number, n: number, px: number, py: number): void;
  mergeStrokeRow(gain: number, lift: number, cover: number, n: number, mode: number): void;
  applyStrokesRow(field: number, gain: number, lift: number, cover: number, n: number, mode: number): void;
  applyKeepMaskRow(field: number, keep: number, stand: number, n: number): void;
  flagForegroundRow(haze: number, distances: number, n: number): void;
  clearForegroundFlags(haze: number, n: number): void;
  copyForegroundFlags(haze: number, base: number, n: number): void;
  copyHazeRow(haze: number, kept: number, n: number): number;
  levelRow(haze: number, out: number, n: number, scale: number, top: number, spans: number): void;
  interpolateLevelsRow(mix: number, n: number, left: number, out: number, plane: number): void;
  premultiplyRow(row: number, plane: number, planes: number, n: number, haze: number): void;
  normaliseRow(row: number, plane: number, planes: number, n: number, by: number): void;
  placeRow(placement: number, u: number, v: number, n: number, out: number, outPlane: number): void;
  clearBytes(at: number, bytes: number): void;
  copyPlanes(from: number, fromPlane: number, planes: number, out: number, outPlane: number, n: number): void;
  compositeRow(row: number, plane: number, n: number, overlay: number, haze: number, touched: number, cover: number): void;
  encodeStraightRow8(row: number, plane: number, cover: number, haze: number, out: number, n: number, px: number, py: number): void;
  encodeStraightRow16(row: number, plane: number, cover: number, out: number, n: number): void;
  sumSides(row: number, plane: number, n: number, haze: number, cell: number, cells: number, cellPlane: number): void;
  sideRow(haze: number, far: number, near: number, n: number, cells: number, any: number): void;
  groundRow(row: number, plane: number, n: number, haze: number, x: number, cells: number): void;
  nearRow(row: number, plane: number, n: number, haze: number, planes: number): void;
  nearCoverRow(row: number, plane: number, n: number, haze: number): void;
  dropProtectedRow(row: number, plane: number, n: number, haze: number): void;
  foregroundHazeRange(haze: number, n: number, range: number): void;
  scatterDiscs(level: number, start: number, end: number, count: number, out: number): void;
  accumulateRow(row: number, plane: number, n: number, more: number, morePlane: number, moreWeight: number, weight: number): void;
  coverRow(row: number, plane: number, n: number, cover: number): void;
  recolourClippedSpan(row: number, plane: number, n: number, colour: number, threshold: number, tint: number): void;
  packDiscRow(row: number, plane: number, n: number, haze: number, radius: number, threshold: number, more: number, nearOnly: number): void;
  prefilterDiscRow(row: number, plane: number, out: number, outPlane: number, n: number): void;
  unpackDiscRadiusRow(row: number, plane: number, n: number): void;
  discLevelRow(haze: number, out: number, n: number, radius: number, tops: number, count: number, spans: number): void;
  gatherDiscs(level: number, start: number, end: number, out: number): void;
  packStreakRow(row: number, plane: number, n: number, haze: number, keeps: number, out: number): void;
  prefilterPathRow(path: number, y: number, out: number): void;
  streakRow(path: number, x0: number, y: number, n: number, haze: number, out: number, plane: number): void;
  grainRow(row: number, plane: number, n: number, grain: number, px: number, py: number): void;
  matchRow(row: number, plane: number, n: number, haze: number, noise: number, px: number, py: number): void;
  saturateRow(row: number, plane: number, n: number, amount: number): void;
  saturateRowP3(row: number, plane: number, n: number, amount: number): void;
  vignetteRow(row: number, plane: number, n: number, x: number, y: number, vignette: number): void;
  matrixRow(row: number, plane: number, n: number, matrix: number): void;
  clarityRow(row: number, plane: number, n: number, x: number, y: number, surroundings: number): void;
  clarityRowP3(row: number, plane: number, n: number, x: number, y: number, surroundings: number): void;
  gradeRow(row: number, plane: number, n: number, grade: number): void;
  gradeRowP3(row: number, plane: number, n: number, grade: number): void;
  lut3dRow(row: number, plane: number, n: number, lattice: number, size: number, domain: number, share: number): void;
  lut1dRow(row: number, plane: number, n: number, curves: number, size: number, domain: number, share: number): void;
  multiplyRow(row: number, plane: number, n: number, factor: number): void;
  addRow(row: number, plane: number, n: number, share: number, sum: number, sumPlane: number): void;
  decodeYuvRow(luma: number, chroma: number, factors: number, out: number, plane: number, n: number): void;
  encodeLumaRow(row: number, plane: number, keep: number, factors: number, out: number, n: number, px: number, py: number): void;
  downsampleChromaRow(a: number, b: number, keep: number, out: number, n: number, before: number, top: number): number;
  hazeMapRow(haze: number, n: number, ramp: number, out: number, channels: number, bytes: number): void;
  haze16Row(haze: number, n: number, out: number): void;
}

/** Bits of what `copyHazeRow` gives: the haze is another than before; there is haze at all. */
export const HAZE_CHANGED = 1;
export const HAZE_THERE = 2;

export async function instantiateKernels(
  module: WebAssembly.Module,
  memory: WebAssembly.Memory,
): Promise<Kernels> {
  const abort = (): never => {
    throw new Error('A kernel stopped.');
  };
  const instance = await WebAssembly.instantiate(module, { env: { memory, abort } });
  return instance.exports as unknown as Kernels;
}
