import { describe, expect, it } from 'vitest';
import { brightnessOf, evenBrightness, evenTimes, flickerGains, fromLinear, lightGrid } from '../src/index';

/** Luma of a scene whose light is multiplied by `gain`; a bright thing crosses it. */
function luma(gain: number, frame: number): Uint8Array {
  const [width, height] = [160, 90];
  return Uint8Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    const isThing = Math.hypot(x - frame * 3, y - 40) < 12;
    const light = isThing ? 0.8 : 0.12 + 0.08 * Math.sin(x / 9) * Math.cos(y / 7);
    return Math.round(16 + 219 * fromLinear(Math.min(1, light * gain)));
  });
}

const times = evenTimes(60, 30);
const pump = (i: number): number => 1 + 0.15 * Math.sin(i * 1.9) + (i % 11 === 4 ? 0.12 : 0);
const measured = (gain: (i: number) => number): Float64Array =>
  brightnessOf(Array.from({ length: 60 }, (_, i) => lightGrid(luma(gain(i), i), 160, 90, true)));

describe('deflicker', () => {
  it('measures how bright frames are, whatever crosses them', () => {
    const stops = measured(pump);
    for (let i = 0; i < 60; i++) expect(stops[i]! - Math.log2(pump(i) / pump(0))).toBeCloseTo(0, 1);
  });

  it('takes pumping out and leaves slow change in', () => {
    const dusk = (i: number): number => 2 ** (-i / 60);
    const stops = measured((i) => pump(i) * dusk(i));
    const gains = flickerGains(stops, times, { amount: 1, window: 0.8 });
    const after = Array.from(gains, (gain, i) => Math.log2(gain * pump(i) * dusk(i)));
    const roughness = (list: number[]): number =>
      Math.sqrt(list.slice(1).reduce((sum, v, i) => sum + (v - list[i]!) ** 2, 0) / list.length);
    const before = Array.from({ length: 60 }, (_, i) => Math.log2(pump(i) * dusk(i)));
    expect(roughness(after.slice(8, 52))).toBeLessThan(0.2 * roughness(before.slice(8, 52)));
    expect(after[45]! - after[15]!).toBeCloseTo(-0.5, 1);
  });

  it('does nothing at amount 0, and nothing to what is even', () => {
    const stops = measured(() => 1);
    expect(new Set(flickerGains(measured(pump), times, { amount: 0, window: 1 }))).toEqual(new Set([1]));
    for (const gain of flickerGains(stops, times, { amount: 1, window: 1 })) expect(gain).toBeCloseTo(1, 2);
    expect(Array.from(evenBrightness(Float64Array.of(3), evenTimes(1, 30), 1))).toEqual([3]);
    // A steady slope is no pumping, at the ends neither.
    const slope = Float64Array.from({ length: 60 }, (_, i) => i / 10);
    evenBrightness(slope, times, 1).forEach((v, i) => expect(v).toBeCloseTo(i / 10, 6));
  });
});
