/** Linear light of an sRGB value, both 0..1 (IEC 61966-2-1). */
export function toLinear(value: number): number {
  return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4;
}

/** sRGB value of linear light, both 0..1 (IEC 61966-2-1). */
export function fromLinear(light: number): number {
  return light <= 0.0031308 ? light * 12.92 : 1.055 * light ** (1 / 2.4) - 0.055;
}

/** The table of `shownBytes` that was made last. */
let shown: { gain: number; table: Uint8Array } | null = null;

/**
 * 16-bit samples as 8 bits each, as they are shown. @param gain times how much light they are, see `DevelopedRaw`; what is
 * brighter than white then is white.
 */
export function shownBytes(samples: Uint16Array, gain = 1): Uint8Array {
  if (shown?.gain !== gain) {
    const table = Uint8Array.from({ length: 65536 }, (_, i) =>
      Math.round(gain === 1 ? i / 257 : 255 * fromLinear(Math.min(1, gain * toLinear(i / 65535)))),
    );
    shown = { gain, table };
  }
  const { table } = shown;
  const high = new Uint8Array(samples.length);
  for (let i = 0; i < high.length; i++) high[i] = table[samples[i]!]!;
  return high;
}

/** Linear light of every 8-bit (bytes = 1) or 16-bit (bytes = 2) sample. */
export function linearTable(bytes: 1 | 2): Float32Array {
  const top = bytes === 1 ? 255 : 65535;
  return Float32Array.from({ length: top + 1 }, (_, i) => toLinear(i / top));
}
