import { type Arena, padded } from '../../memory';
import { type Affine, BAND_FLOATS, type PackedBand, RIM_FLOATS } from '../pack';
import type { FieldStrip } from './field-strip';

export interface BandRowsPlan {
  /** A row of distances. */
  distances: number;
  band: number;
  rim: number;
}

export function planBandRows(n: number, arena: Arena): BandRowsPlan {
  return {
    distances: arena.floats(padded(n)),
    band: arena.floats(BAND_FLOATS),
    rim: arena.floats(RIM_FLOATS),
  };
}

/** Lays bands over the haze that is there. */
export class BandRows {
  constructor(
    private readonly strip: FieldStrip,
    private readonly plan: BandRowsPlan,
  ) {}

  /** The row of distances that `layRows` reads. */
  get distances(): Float32Array {
    return this.strip.heap.floatsAt(this.plan.distances, padded(this.strip.width));
  }

  lay(pack: PackedBand): void {
    const { plan, strip } = this;
    const { kernels } = strip.use;
    const { measure } = pack;
    const along = (one: Affine, y: number): number => one.start + one.perRow * y;
    if (measure.kind === 'affine') {
      strip.heap.setFloats(plan.band, pack.parameters);
      for (const y of strip.rows())
        kernels.bandRow(strip.row(y), strip.width, 0, along(measure, y), measure.perColumn, plan.band);
      return;
    }
    const { p, q } = measure;
    if (measure.kind === 'iris') strip.heap.setFloats(plan.rim, measure.rim);
    this.layRows(pack, (y) => {
      const places = [along(p, y), p.perColumn, along(q, y), q.perColumn] as const;
      if (measure.kind === 'elliptical') kernels.ellipseDistanceRow(plan.distances, strip.width, ...places);
      else kernels.irisDistanceRow(plan.distances, strip.width, ...places, plan.rim);
    });
  }

  /** Lays a band whose distances are written row by row; `laid` gets their address when that is done. */
  layRows(
    { parameters }: PackedBand,
    measure: (y: number) => void,
    laid: (y: number, distances: number) => void = () => undefined,
  ): void {
    const { plan, strip } = this;
    strip.heap.setFloats(plan.band, parameters);
    for (const y of strip.rows()) {
      measure(y);
      strip.use.kernels.bandRow(strip.row(y), strip.width, plan.distances, 0, 0, plan.band);
      laid(y, plan.distances);
    }
  }
}
