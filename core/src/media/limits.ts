import type { Size } from '../geometry/size';

/** The largest picture that is taken: beyond it, the picture and its blur no longer fit the memory of one page. */
export const LIMITS = { side: 20_000, megapixels: 120 } as const;

/** A sentence that says why a picture of this size is not taken, or null where it is. */
export function sizeProblem({ width, height }: Size): string | null {
  if (!(width >= 1 && height >= 1))
    return `It is ${width} x ${height} pixels: there is nothing in it to show.`;
  if (Math.max(width, height) > LIMITS.side || width * height > LIMITS.megapixels * 1e6) {
    return (
      `It is ${width} x ${height} pixels. Hazy Lens takes up to ${LIMITS.side} pixels on a side and ` +
      `${LIMITS.megapixels} megapixels, because the whole picture and its blur have to fit in memory. Make it smaller first.`
    );
  }
  return null;
}
