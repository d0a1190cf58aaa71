import type { Region } from '../../geometry/size';
import { type Heap, type KernelContext, type Rows, rowAddress } from '../../memory';

/** The strip of a region whose haze is being made: what all parts of the field speak of. */
export class FieldStrip {
  readonly heap: Heap;
  from = -1;
  to = -1;

  /** @param haze of the whole region, one plane. */
  constructor(
    readonly use: KernelContext,
    readonly haze: Rows,
    readonly region: Region,
  ) {
    this.heap = use.heap;
  }

  get width(): number {
    return this.region.width;
  }

  /** Address of the haze of row y of the region. */
  row(y: number): number {
    return rowAddress(this.haze, y);
  }

  /** Address of row y in a plane of the strip's own. */
  line(plane: Rows, y: number): number {
    return rowAddress(plane, y - this.from);
  }

  *rows(): Generator<number> {
    for (let y = this.from; y < this.to; y++) yield y;
  }

  /** Floats that the strip takes of a plane of its own. */
  floatsOf(plane: Rows): number {
    return ((this.to - this.from) * plane.rowBytes) / 4;
  }
}
