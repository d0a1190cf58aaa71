/** Linear light of an sRGB value, both 0..1 (IEC 61966-2-1). */
export function toLinear(value: number): number {
  return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4;
}

/** sRGB value of linear light, both 0..1 (IEC 61966-2-1). */
export function fromLinear(light: number): number {
  return light <= 0.0031308 ? light * 12.92 : 1.055 * light ** (1 / 2.4) - 0.055;
}

/** Linear light of every 8-bit (bytes = 1) or 16-bit (bytes = 2) sample. */
export function linearTable(bytes: 1 | 2): Float32Array {
  const top = bytes === 1 ? 255 : 65535;
  return Float32Array.from({ length: top + 1 }, (_, i) => toLinear(i / top));
}
