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
  private strength = 0;
  private keeps = 0;
  private source: Source | null = null;

  constructor(
    private readonly use: KernelContext,
    private readonly plan: StreakPlan,
    private readonly frame: BlurSetup,
    private readonly worker: number,
    private readonly pathOf: (look: BlurLook, region: Region) => Path,
  ) {}

  pass(i: number, wish: BlurRequest, source: Source, from: number, to: number): void {
    const { image, short, step } = this.plan;
    const { width, height } = this.frame.region;
    const { kind, a, b } = this.pathOf(wish.look, this.frame.region);
    for (let y = from; y < to; y++) {
      if (i === 0) this.pack(source, y, wish.keeps);
      else {
        const out = pixel16(short!, 0, y);
        const keeps = wish.keeps ? 1 : 0;
        this.use.kernels.prefilterPathRow(
          image.at,
          image.row,
          width,
          height,
          y,
          step,
          kind,
          a,
          b,
          out,
          keeps,
        );
      }
    }
  }

  private pack({ pixels, tables, planes }: Source, y: number, keeps: boolean): void {
    const { frame, plan, use } = this;
    const rows = plan.rows[this.worker]!;
    const run = { at: rows.at, planeBytes: rows.planeBytes, n: frame.region.width, x: 0, y };
    pixels.decode(use.kernels, tables, planes, run);
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

  begin({ look, strength, keeps }: BlurRequest, source: Source): void {
    this.path = this.pathOf(look, this.frame.region);
    [this.strength, this.keeps, this.source] = [strength, keeps ? 1 : 0, source];
  }

  fill(run: Run, haze: number): void {
    const { image, short, step } = this.plan;
    const { width, height } = this.frame.region;
    const { kind, a, b } = this.path;
    // What is clear stays as it came, to the last bit.
    const { pixels, tables, planes } = this.source!;
    pixels.decode(this.use.kernels, tables, planes, run);
    this.use.kernels.streakRow(
      image.at,
      short?.at ?? image.at,
      image.row,
      width,
      height,
      run.x,
      run.y,
      run.n,
      haze,
      this.strength,
      step,
      kind,
      a,
      b,
      run.at,
      run.planeBytes,
      this.keeps,
    );
  }
}
