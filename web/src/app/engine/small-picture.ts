import { scaledSize, sheetOf } from '@hazy-lens/core';
import type { Exporter, ExportSource } from './export';

const [WIDTH, HEIGHT] = [432, 288];

/** A finished picture made small for a shelf: it fills the small one, what stands over is cut off. */
export async function smallPicture(exporter: Exporter, source: ExportSource): Promise<Blob> {
  const sheet = sheetOf(source.recipe, source.picture);
  const scale = Math.min(1, Math.max(WIDTH / sheet.width, HEIGHT / sheet.height));
  const size = scaledSize(sheet, scale);
  const pixels = await exporter.pixels(source, size);
  const small = new OffscreenCanvas(WIDTH, HEIGHT);
  const [left, top] = [Math.round((WIDTH - size.width) / 2), Math.round((HEIGHT - size.height) / 2)];
  small.getContext('2d')!.putImageData(pixels, left, top);
  return small.convertToBlob({ type: 'image/webp', quality: 0.85 });
}
