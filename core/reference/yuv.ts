import type { YuvFormat } from '../src/index';

/** Weights of red and blue in luma: ITU-R BT.601-7, BT.709-6, BT.2020-2. */
const WEIGHTS = { bt601: [0.299, 0.114], bt709: [0.2126, 0.0722], bt2020: [0.2627, 0.0593] } as const;

/** Levels of luma and chroma as encoded red, green and blue of 0..1, by the formulas of the recommendations. */
export function rgbOf({ matrix, range }: YuvFormat, y: number, u: number, v: number): number[] {
  const [kr, kb] = WEIGHTS[matrix];
  const luma = range === 'limited' ? (y - 16) / 219 : y / 255;
  const [cb, cr] = [u, v].map((level) => (level - 128) / (range === 'limited' ? 224 : 255)) as [
    number,
    number,
  ];
  const r = luma + 2 * (1 - kr) * cr;
  const b = luma + 2 * (1 - kb) * cb;
  return [r, (luma - kr * r - kb * b) / (1 - kr - kb), b];
}

/** And back, not rounded. */
export function yuvOf({ matrix, range }: YuvFormat, [r, g, b]: readonly number[]): number[] {
  const [kr, kb] = WEIGHTS[matrix];
  const luma = kr * r! + (1 - kr - kb) * g! + kb * b!;
  const chroma = [(b! - luma) / (2 * (1 - kb)), (r! - luma) / (2 * (1 - kr))];
  const [offset, span, reach] = range === 'limited' ? [16, 219, 224] : [0, 255, 255];
  return [luma * span + offset, ...chroma.map((c) => c * reach + 128)];
}

/** A sample of a plane of chroma as it is at a pixel: bilinear, samples on even columns and between pairs of rows. */
export function chromaAt(
  plane: ArrayLike<number>,
  width: number,
  height: number,
  x: number,
  y: number,
): number {
  const held = (value: number, size: number): number => Math.min(size - 1, Math.max(0, value));
  const at = (i: number, j: number): number => plane[held(j, height) * width + held(i, width)]!;
  const [cx, cy] = [x / 2, (y - 0.5) / 2];
  const [i, j] = [Math.floor(cx), Math.floor(cy)];
  const [fx, fy] = [cx - i, cy - j];
  const row = (k: number): number => at(i, k) * (1 - fx) + at(i + 1, k) * fx;
  return row(j) * (1 - fy) + row(j + 1) * fy;
}
