import { fromLinear, toLinear } from '../pixels/transfer';

/** Bytes of `hazeRamp`. */
export const RAMP_BYTES = 4096;

const STOPS: readonly [number, readonly [number, number, number]][] = [
  [0, [17, 20, 27]],
  [0.3, [52, 58, 98]],
  [0.6, [124, 132, 208]],
  [0.82, [224, 186, 190]],
  [1, [255, 226, 194]],
];

/** The haze map's colours from clear (ink) through periwinkle to pale apricot: 1024 RGBA values. */
export function hazeRamp(): Uint8Array {
  const ramp = new Uint8Array(RAMP_BYTES);
  for (let i = 0; i < 1024; i++) {
    const h = i / 1023;
    const next = Math.max(
      1,
      STOPS.findIndex(([at]) => at >= h),
    );
    const [from, low] = STOPS[next - 1]!;
    const [to, high] = STOPS[next]!;
    const t = (h - from) / (to - from);
    const mixed = low.map((c, k) => {
      const light = toLinear(c / 255) * (1 - t) + toLinear(high[k]! / 255) * t;
      return Math.round(fromLinear(light) * 255);
    });
    ramp.set([...mixed, 255], i * 4);
  }
  return ramp;
}
