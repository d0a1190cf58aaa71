import { sampleRow } from '../../geometry/raster';
import { type Arena, type Rows, padded } from '../../memory';
import { type KeepMask, combineMask } from '../keep-mask';
import type { FieldStrip } from './field-strip';

export interface KeepRowsPlan {
  /** What the mattes make of the haze before them: what they take, and what they put in its place. */
  keep: Rows;
  stand: Rows;
  /** A row of one matte. */
  sampled: number;
}

export function planKeepRows(n: number, rows: number, arena: Arena): KeepRowsPlan {
  return { keep: arena.rows(n, rows, 1), stand: arena.rows(n, rows, 1), sampled: arena.floats(padded(n)) };
}

/** Keeps subjects clear, or lets them stand as hazy as the ground at their foot. The mattes joined are kept. */
export class KeepRows {
  private key = '';

  constructor(
    private readonly strip: FieldStrip,
    private readonly plan: KeepRowsPlan,
  ) {}

  forget(): void {
    this.key = '';
  }

  fill(masks: readonly KeepMask[]): void {
    if (masks.length === 0) return;
    const { strip, plan } = this;
    const key = masks.map(({ raster, combine, haze }) => `${raster.id} ${combine} ${haze}`).join();
    if (this.key !== key) {
      for (const y of strip.rows()) this.join(masks, y);
      this.key = key;
    }
    for (const y of strip.rows())
      strip.use.kernels.applyKeepMaskRow(
        strip.row(y),
        strip.line(plan.keep, y),
        strip.line(plan.stand, y),
        strip.width,
      );
  }

  private join(masks: readonly KeepMask[], y: number): void {
    const { strip, plan } = this;
    const { heap, region } = strip;
    // Fill the last SIMD vector too: padding must hold valid haze.
    const n = padded(strip.width);
    const keep = heap.floatsAt(strip.line(plan.keep, y), n);
    const own = heap.floatsAt(plan.sampled, n);
    const stand = heap.floatsAt(strip.line(plan.stand, y), n).fill(0);
    const sample = (one: KeepMask, out: Float32Array): void =>
      sampleRow(one.raster, region.picture, region.x, region.y + y, 1, 0, out);
    const [first, ...others] = masks.filter(({ haze }) => haze === undefined);
    if (first?.combine === 'add') sample(first, keep);
    else keep.fill(0);
    for (const one of others) {
      sample(one, own);
      for (let i = 0; i < n; i++) keep[i] = combineMask(one.combine, keep[i]!, own[i]!);
    }
    for (const one of masks) {
      if (one.haze === undefined) continue;
      sample(one, own);
      for (let i = 0; i < n; i++) {
        const left = 1 - own[i]!;
        keep[i] = 1 - (1 - keep[i]!) * left;
        stand[i] = stand[i]! * left + one.haze * own[i]!;
      }
    }
  }
}
