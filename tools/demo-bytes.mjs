// Copies buffers from the generator page into Node.
import sharp from 'sharp';

const STEP = 24_000_000;

/** The first bytes of what was developed. */
export async function takeBytes(page, what, length) {
  const parts = [];
  for (let from = 0; from < length; from += STEP) {
    const to = Math.min(length, from + STEP);
    const part = await page.evaluate(([w, a, b]) => window.take(w, a, b), [what, from, to]);
    parts.push(Buffer.from(part, 'base64'));
  }
  return Buffer.concat(parts);
}

/** The depth that was developed, as a 16-bit grey PNG. */
export async function takeDepth(page, width, height, file) {
  const bytes = await takeBytes(page, 'depth', width * height * 4);
  const depth = Uint16Array.from({ length: width * height }, (_, i) => bytes[i * 4] * 256 + bytes[i * 4 + 1]);
  await sharp(depth, { raw: { width, height, channels: 1 } })
    .flip()
    .toColourspace('grey16')
    .png({ compressionLevel: 9 })
    .toFile(file);
}
