import { BLENDED, type FrameShare, type Threads } from '@hazy-lens/core';
import type { Material } from '../material';
import { Picture } from '../picture';

/**
 * The picture that frames of footage are averaged to. A single one is given as it is, unless `always` the format of
 * averages is wanted.
 */
export async function blendedPicture(
  material: Material,
  shares: readonly FrameShare[],
  { runners, module }: Threads,
  always = false,
): Promise<Picture> {
  if (shares.length === 1 && !always) return material.frame(shares[0]!.frame);
  const pictures = await Promise.all(shares.map(({ frame }) => material.frame(frame)));
  const { width, height } = material;
  const target = new SharedArrayBuffer(width * height * BLENDED.channels * BLENDED.bytes);
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
            pixels: picture.pixelsAsTheyLie,
            share: shares[k]!.share,
          })),
          target,
          rows: [bound(i), bound(i + 1)],
        },
      }),
    ),
  );
  const id = pictures.map((picture, k) => `${picture.id}*${shares[k]!.share.toFixed(4)}`).join('+');
  return Picture.ofFrame({ pixels: target, width, height, format: BLENDED }, id);
}
