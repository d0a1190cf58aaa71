import { BLEND_FORMAT, type FrameWeight, type Threads } from '@hazy-lens/core';
import type { BufferPool } from '../buffer-pool';
import { type Loan, type MediaSource, onLoan } from '../media-source';
import { Picture } from '../picture';

/**
 * The picture that frames of footage are averaged to, on loan. A single one is given as it is, unless `always` the format
 * of averages is wanted.
 * @param free memory that an average may lie in, and goes back to.
 */
export async function blendedPicture(
  material: MediaSource,
  shares: readonly FrameWeight[],
  { runners, module }: Threads,
  free: BufferPool,
  always = false,
): Promise<Loan> {
  if (shares.length === 1 && !always) return material.borrow(shares[0]!.frame);
  const asked = shares.map(({ frame }) => material.borrow(frame));
  try {
    const pictures = (await Promise.all(asked)).map(({ picture }) => picture);
    const { width, height } = material;
    const target = free.take(width * height * BLEND_FORMAT.channels * BLEND_FORMAT.bytes);
    const compiled = await module;
    const bound = (i: number): number => Math.round((height * i) / runners.length);
    await Promise.all(
      runners.map((run, i) =>
        run({
          kind: 'blend',
          module: compiled,
          blend: {
            format: pictures[0]!.format,
            size: { width, height },
            sources: pictures.map((picture, k) => ({
              pixels: picture.rawPixels,
              share: shares[k]!.share,
            })),
            target,
            rows: [bound(i), bound(i + 1)],
          },
        }),
      ),
    );
    const id = pictures.map((picture, k) => `${picture.id}*${shares[k]!.share.toFixed(4)}`).join('+');
    const picture = Picture.ofFrame({ pixels: target, width, height, format: BLEND_FORMAT }, id);
    return onLoan(picture, () => picture.releaseTo(free));
  } finally {
    for (const loan of asked)
      loan.then(
        ({ giveBack }) => giveBack(),
        () => undefined,
      );
  }
}
