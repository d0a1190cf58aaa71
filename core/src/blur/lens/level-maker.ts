import { reflect } from '../../geometry/size';
import { type KernelContext, MARGIN, type Rows, marginAfter, padded, rowAddress } from '../../memory';
import type { BlurRequest, BlurSetup, Source } from '../blur';
import type { LensRows } from './lens-rows';
import { HALVING, LENS_PLANES } from './levels';
import type { LensPlan, LensScratch } from './plan';

/** Makes the levels of a picture: lens rows, halved again and again. */
export class LevelMaker {
  constructor(
    private readonly use: KernelContext,
    private readonly plan: LensPlan,
    private readonly frame: BlurSetup,
    private readonly own: LensScratch,
    private readonly rows: LensRows,
  ) {}

  /** Makes rows from..to of level i + 1, from the picture or from the level above. */
  make(i: number, wish: BlurRequest, source: Source, from: number, to: number): void {
    const { plan, own, frame } = this;
    const { kernels } = this.use;
    const target = plan.levels[i]!;
    const above = i === 0 ? null : plan.levels[i - 1]!;
    const height = above ? above.count : frame.region.height;
    const held = new Int32Array(own.ring.count).fill(-1);
    const halvedRow = (y: number): number => {
      const row = reflect(y, height);
      const slot = row % own.ring.count;
      const out = rowAddress(own.ring, slot);
      if (held[slot] === row) return out;
      held[slot] = row;
      const wide = above ?? this.readExtended(wish, source, row);
      // As many samples beyond the ends as halving reads.
      const start = (above ? rowAddress(above, row) : wide.at) - 4 * MARGIN;
      const { admitted } = own;
      kernels.prefilterDiscRow(
        start,
        wide.planeBytes,
        admitted.at - 4 * MARGIN,
        admitted.planeBytes,
        wide.width + 2 * MARGIN,
      );
      const halving = this.use.parameters('Halving', {
        taps: plan.halving,
        half: HALVING.length,
        split: own.split,
      });
      kernels.downsampleRow(
        admitted.at,
        admitted.planeBytes,
        LENS_PLANES,
        halving,
        out,
        own.ring.planeBytes,
        target.width,
      );
      return out;
    };
    this.use.heap.setFloats(own.weights, HALVING);
    for (let y = from; y < to; y++) {
      for (const r of HALVING.keys()) {
        this.point(2 * r, halvedRow(2 * y - r));
        this.point(2 * r + 1, halvedRow(2 * y + 1 + r));
      }
      const out = rowAddress(target, y);
      kernels.convolveColumnsSymmetric(
        own.discs.rows,
        own.weights,
        HALVING.length,
        own.ring.planeBytes,
        LENS_PLANES,
        out,
        target.planeBytes,
        padded(target.width),
      );
      kernels.unpackDiscRadiusRow(out, target.planeBytes, target.width);
      this.rows.mirror(out, target, target.width, target.margin, marginAfter(target));
    }
  }

  /** Row y of the picture, weighed, and mirrored to the extended width. */
  private readExtended(wish: BlurRequest, source: Source, y: number): Rows {
    const { decoded } = this.own;
    const { width } = this.frame.region;
    this.rows.read(wish, source, decoded.at, decoded.planeBytes, 0, width, y);
    this.rows.mirror(decoded.at, decoded, width, MARGIN, decoded.width - width + marginAfter(decoded));
    return decoded;
  }

  private point(i: number, row: number): void {
    this.use.heap.setInt32(this.own.discs.rows + 4 * i, row);
  }
}
