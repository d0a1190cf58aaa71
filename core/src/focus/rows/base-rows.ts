import { diagonal } from '../../geometry/size';
import { sampleRow } from '../../geometry/raster';
import type { Arena, Rows } from '../../memory';
import { depthSign, packDepth } from '../depth-map';
import type { ResolvedFocus } from '../field';
import { SOUNDING_SOFTENING, packSoundings } from '../soundings';
import type { BandRows } from './band-rows';
import type { FieldStrip } from './field-strip';

const MAX_SOUNDINGS = 500;

export interface BaseRowsPlan {
  /** The field before the bands, where it is not the same everywhere. */
  base: Rows;
  soundings: number;
}

export function planBaseRows(n: number, rows: number, arena: Arena): BaseRowsPlan {
  return { base: arena.rows(n, rows, 1), soundings: arena.floats(3 * MAX_SOUNDINGS) };
}

/** The field before the bands: even, through soundings, or by a depth map. What of it is costly is kept. */
export class BaseRows {
  private key = '';

  constructor(
    private readonly strip: FieldStrip,
    private readonly plan: BaseRowsPlan,
    private readonly bands: BandRows,
  ) {}

  forget(): void {
    this.key = '';
  }

  fill(look: ResolvedFocus): void {
    const { strip, plan } = this;
    const { soundings, depth } = look;
    if (soundings.length === 0 && !depth) return this.fillEven(look.rest);
    const key = JSON.stringify([soundings, depth && [depth.how, depth.map.id]]);
    const [first, bytes] = [strip.row(strip.from), 4 * strip.floatsOf(plan.base)];
    if (key === this.key) return strip.heap.copy(first, plan.base.at, bytes);
    if (soundings.length > 0) this.fillSoundings(look);
    else this.fillEven(0);
    if (depth) this.layDepth(depth);
    strip.heap.copy(plan.base.at, first, bytes);
    this.key = key;
  }

  /** Marks what is near by a depth map again, after all that was laid over it. */
  flagForeground(): void {
    const { strip, plan } = this;
    for (const y of strip.rows())
      strip.use.kernels.copyForegroundFlags(strip.row(y), strip.line(plan.base, y), strip.width);
  }

  private fillEven(haze: number): void {
    const { strip } = this;
    for (const y of strip.rows()) strip.use.kernels.fillHazeRow(strip.row(y), strip.width, haze);
  }

  private fillSoundings({ soundings }: ResolvedFocus): void {
    const { strip, plan } = this;
    const { region } = strip;
    const d = diagonal(region.picture);
    strip.heap.setFloats(plan.soundings, packSoundings(soundings, region.picture));
    for (const y of strip.rows())
      strip.use.kernels.soundingsRow(
        strip.row(y),
        strip.width,
        (region.x + 0.5) / d,
        1 / d,
        (region.y + y + 0.5) / d,
        plan.soundings,
        soundings.length,
        SOUNDING_SOFTENING,
      );
  }

  private layDepth({ how, map }: NonNullable<ResolvedFocus['depth']>): void {
    const { strip, bands } = this;
    const { region, use } = strip;
    const sign = depthSign(how);
    const { distances } = bands;
    bands.layRows(
      packDepth(how),
      (y) => sampleRow(map, region.picture, region.x, region.y + y, sign, -sign * how.focus, distances),
      // Inside out the nearer is not the hazier: then nothing lies over anything.
      (y, at) =>
        how.invert
          ? use.kernels.clearForegroundFlags(strip.row(y), strip.width)
          : use.kernels.flagForegroundRow(strip.row(y), at, strip.width),
    );
  }
}
