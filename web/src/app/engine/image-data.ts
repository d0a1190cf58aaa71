/**
 * Pixels for a canvas, RGBA. Where they are of sRGB nothing is said of that: not every browser can be told.
 * @param pixels null for transparent black.
 */
export function imageDataOf(
  pixels: Uint8ClampedArray<ArrayBuffer> | null,
  width: number,
  height: number,
  colorSpace: PredefinedColorSpace | undefined,
): ImageData {
  const told: [ImageDataSettings?] = colorSpace === 'display-p3' ? [{ colorSpace }] : [];
  return pixels ? new ImageData(pixels, width, height, ...told) : new ImageData(width, height, ...told);
}
