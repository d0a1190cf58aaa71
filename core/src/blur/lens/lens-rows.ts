import { type KernelContext, type Rows, rowAddress, sampleAddress } from '../../memory';
import type { BlurRequest, BlurSetup, Source } from '../blur';
import { lampsIn } from './lamps';
import { LENS_PLANES } from './levels';
import type { LensPlan } from './plan';

/** Reads rows of a picture as lens rows: light times what it weighs, that weight, and the radius of each pixel's disc. */
export class LensRows {
  constructor(
    private readonly use: KernelContext,
    private readonly plan: LensPlan,
    private readonly frame: BlurSetup,
  ) {}

  /** Columns x.. of row y of a picture, as it is blurred. */
  read(
    { look, strength }: BlurRequest,
    { pixels, tables, planes }: Source,
    at: number,
    plane: number,
    x: number,
    n: number,
    y: number,
  ): void {
    const { kernels, heap } = this.use;
    const { threshold, stops, tint } = look.lens.highlights;
    pixels.decode(this.use, tables, planes, { at, planeBytes: plane, n, x, y });
    if (stops > 0 && tint > 0)
      lampsIn(heap, this.plan.lamps, x, n, y, (from, to, colour) =>
        kernels.recolourClippedSpan(sampleAddress(at, from - x), plane, to - from, colour, threshold, tint),
      );
    const haze = sampleAddress(rowAddress(this.frame.haze, y), x);
    kernels.packDiscRow(at, plane, n, haze, strength, threshold, 2 ** stops - 1, Number(this.frame.isNear));
  }

  /** Fills so many samples before the n of all planes of a row, and after them. */
  mirror(at: number, { planeBytes }: Rows, n: number, before: number, after: number): void {
    this.use.kernels.mirrorRow(at, planeBytes, LENS_PLANES, n, before, after);
  }
}
