import { scaledSize, cropOf } from '@hazy-lens/core';
import { encodeOnCanvas } from './canvas-encoder';
import type { Exporter, ExportSource } from './export';

const [WIDTH, HEIGHT] = [432, 288];
const QUALITY = 0.85;

/** A finished picture made small for a shelf: it fills the small one, what stands over is cut off. */
export async function renderThumbnail(exporter: Exporter, source: ExportSource): Promise<Blob> {
  const sheet = cropOf(source.recipe, source.picture);
  const scale = Math.min(1, Math.max(WIDTH / sheet.width, HEIGHT / sheet.height));
  const size = scaledSize(sheet, scale);
  const pixels = await exporter.pixels(source, size);
  return encodeOnCanvas('image/webp', pixels.data, size, QUALITY, { width: WIDTH, height: HEIGHT });
}
