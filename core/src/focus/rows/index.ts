import type { Region } from '../../geometry/size';
import type { Arena, KernelContext, Rows } from '../../memory';
import { bandPack } from '../bands';
import type { ResolvedFocus } from '../field';
import { BandRows, type BandRowsPlan, planBandRows } from './band-rows';
import { BaseRows, type BaseRowsPlan, planBaseRows } from './base-rows';
import { FieldStrip } from './field-strip';
import { KeepRows, type KeepRowsPlan, planKeepRows } from './keep-rows';
import { StrokeRows, type StrokeRowsPlan, planStrokeRows } from './stroke-rows';

/** What a strip's field is made with, in the kernels' memory: rows of one plane, and scratch. */
export interface FieldPlan {
  base: BaseRowsPlan;
  bands: BandRowsPlan;
  strokes: StrokeRowsPlan;
  keep: KeepRowsPlan;
}

/** Lays out a field of so many rows of n pixels. */
export function planField(n: number, rows: number, arena: Arena): FieldPlan {
  return {
    base: planBaseRows(n, rows, arena),
    bands: planBandRows(n, arena),
    strokes: planStrokeRows(n, rows, arena),
    keep: planKeepRows(n, rows, arena),
  };
}

/**
 * Fills rows of a region with haze, by the kernels: all workers fill the same plane. What a strip needed for its soundings,
 * depth map, strokes and mattes is kept: while only bands move, only bands are computed.
 */
export class FieldRows {
  private readonly strip: FieldStrip;
  private readonly base: BaseRows;
  private readonly bands: BandRows;
  private readonly strokes: StrokeRows;
  private readonly keep: KeepRows;

  constructor(use: KernelContext, plan: FieldPlan, haze: Rows, region: Region) {
    this.strip = new FieldStrip(use, haze, region);
    this.bands = new BandRows(this.strip, plan.bands);
    this.base = new BaseRows(this.strip, plan.base, this.bands);
    this.strokes = new StrokeRows(this.strip, plan.strokes);
    this.keep = new KeepRows(this.strip, plan.keep);
  }

  /** Computes the haze of rows from..to of the region. */
  fill(look: ResolvedFocus, from: number, to: number): void {
    const { strip, base, bands, strokes, keep } = this;
    if (from !== strip.from || to !== strip.to) {
      [strip.from, strip.to] = [from, to];
      for (const part of [base, strokes, keep]) part.forget();
    }
    base.fill(look);
    for (const band of look.bands) bands.lay(bandPack(band, strip.region));
    strokes.fill(look.strokes);
    keep.fill(look.keep);
    if (look.depth) base.flagForeground();
  }
}
