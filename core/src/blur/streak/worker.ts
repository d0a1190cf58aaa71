import type { Region } from '../../geometry/size';
import { type Run, type KernelContext, rowAddress } from '../../memory';
import type { BlurSetup, BlurLook, BlurRequest, BlurWorker, Source } from '../blur';
import { type Path, type StreakPlan, pixel16 } from './plan';

/**
 * One worker's share of a blur along paths. The passes make the picture in linear light, and of it means over a short
 * piece of each path: long paths are then averaged out of few of those.
 */
export class StreakWorker implements BlurWorker {
  private path: Path = { kind: 0, a: 1, b: 0 };
  private wish: BlurRequest | null = null;
  private source: Source | null = null;

  constructor(
    private readonly use: KernelContext,
    private readonly plan: StreakPlan,
    private readonly frame: BlurSetup,
    private readonly worker: number,
    private readonly pathOf: (look: BlurLook, region: Region) => Path,
  ) {}

  pass(i: number, wish: BlurRequest, source: Source, from: number, to: number): void {
    const { short } = this.plan;
    const path = this.pathOf(wish.look, this.frame.region);
    for (let y = from; y < to; y++) {
      if (i === 0) this.pack(source, y, wish.keeps);
      else this.use.kernels.prefilterPathRow(this.pathBlock(path, wish), y, pixel16(short!, 0, y));
    }
  }

  /** Writes what the kernels read of the paths. */
  private pathBlock({ kind, a, b }: Path, { keeps, strength }: BlurRequest): number {
    const { image, short, step } = this.plan;
    const { width, height } = this.frame.region;
    return this.use.parameters('StreakPath', {
      image: image.at,
      short: short?.at ?? image.at,
      row: image.row,
      width,
      height,
      step,
      kind,
      a,
      b,
      keeps: keeps ? 1 : 0,
      scale: strength,
    });
  }

  private pack({ pixels, tables, planes }: Source, y: number, keeps: boolean): void {
    const { frame, plan, use } = this;
    const rows = plan.rows[this.worker]!;
    const run = { at: rows.at, planeBytes: rows.planeBytes, n: frame.region.width, x: 0, y };
    pixels.decode(use, tables, planes, run);
    const haze = rowAddress(frame.haze, y);
    use.kernels.packStreakRow(
      rows.at,
      rows.planeBytes,
      run.n,
      haze,
      keeps ? 1 : 0,
      pixel16(plan.image, 0, y),
    );
  }

  begin(wish: BlurRequest, source: Source): void {
    this.path = this.pathOf(wish.look, this.frame.region);
    [this.wish, this.source] = [wish, source];
  }

  fill(run: Run, haze: number): void {
    // What is clear stays as it came, to the last bit.
    const { pixels, tables, planes } = this.source!;
    pixels.decode(this.use, tables, planes, run);
    const path = this.pathBlock(this.path, this.wish!);
    this.use.kernels.streakRow(path, run.x, run.y, run.n, haze, run.at, run.planeBytes);
  }
}
