import type { Blur, BlurSetup, BlurRequest, BlurWorker, Source } from '../blur/blur';
import type { PixelReader } from '../pixels/format';
import { type Arena, type Rows, type Run, type KernelContext, rowAddress, sampleAddress } from '../memory';
import { pullPush } from '../geometry/pull-push';

/*
 * Under a depth map a picture has two sides: what is nearer than the depth in focus, and what lies behind it. Each is blurred
 * by itself and the near one is laid over. Behind what is near the far side goes on inwards, and around it the near
 * side's haze goes on outwards, both as smoothly as can be: so neither stops at the outline of the other.
 */

/** Where the two sides lie; plain data. */
export interface SidesPlan {
  /** Pixels of a cell each way: a power of two. */
  cell: number;
  /** Of each cell seven planes: the far side's light, its haze and how many pixels are of it; the near side's haze and pixels. */
  cells: Rows;
  /** Haze of each side, all over the region. */
  far: Rows;
  near: Rows;
  /** A word for each tile, row by row: 1 where something in it is near; and one for all of them. */
  tiles: { at: number; across: number; down: number };
  isAnyNear: number;
  /** The near side's blur, and that of its coverage where the kind of blur does not take it along. */
  frame: BlurSetup;
  coverFrame: BlurSetup;
  blurPlan: unknown;
  coverPlan: unknown;
  workers: SidesRoom[];
}

interface SidesRoom {
  decoded: Rows;
  /** The near side of the run in hand, with its coverage; and the coverage as light of a grey. */
  run: Rows;
  cover: Rows;
}

/** Cells along the region's longer side at most. */
const MAX_CELLS = 1024;
const TILE = 64;
const FAR = { planes: [0, 1, 2, 3], weight: 4 } as const;
const NEAR = { planes: [5], weight: 6 } as const;

/** What passes are made of each side; see `Sides.pass`. */
export type SidePass = 'sides' | 'near' | 'nearCover';

/** What a pass is made of: the picture's light, its coverage, or a side of it. */
export type PassOf = 'light' | 'cover' | SidePass;

/** Room for the two sides of a view. @param frame of the whole picture. */
export function planSides(blur: Blur<unknown>, frame: BlurSetup, arena: Arena): SidesPlan {
  const { width, height } = frame.region;
  let cell = 1;
  while (Math.max(width, height) / cell > MAX_CELLS && cell < TILE) cell *= 2;
  const near = arena.rows(width, height, 1);
  const whole: BlurSetup = { ...frame, haze: near, colours: blur.takesCover ? 4 : 3 };
  const own: BlurSetup = blur.spreads ? { ...frame, isNear: true } : whole;
  const [across, down] = [Math.ceil(width / TILE), Math.ceil(height / TILE)];
  return {
    cell,
    cells: arena.rows(Math.ceil(width / cell), Math.ceil(height / cell), 7),
    far: arena.rows(width, height, 1),
    near,
    tiles: { at: arena.floats(across * down), across, down },
    isAnyNear: arena.floats(1),
    frame: own,
    coverFrame: whole,
    blurPlan: blur.plan(own, arena),
    coverPlan: blur.takesCover ? null : blur.plan(whole, arena),
    workers: Array.from({ length: frame.workers }, () => ({
      decoded: arena.rows(width, 1, 3),
      run: arena.rows(frame.runPixels, 1, 4),
      cover: arena.rows(frame.runPixels, 1, 3),
    })),
  };
}

/** The passes that make the sides, and those of the near one's blur, with their rows. */
export function sidePasses(
  blur: Blur<unknown>,
  { cells, far, blurPlan, coverPlan }: SidesPlan,
): { of: SidePass; rows: readonly number[] }[] {
  return [
    { of: 'sides', rows: [cells.count, 1, far.count] },
    { of: 'near', rows: blur.passes(blurPlan) },
    { of: 'nearCover', rows: coverPlan === null ? [] : blur.passes(coverPlan) },
  ];
}

/** One worker's share of the two sides. */
export class Sides {
  private readonly own: SidesRoom;
  private readonly blur: BlurWorker;
  private readonly coverBlur: BlurWorker | null;
  /** The picture with the far side gone on behind what is near. */
  readonly behind: PixelReader;
  private readonly light: PixelReader;
  private readonly cover: PixelReader;

  /** @param haze of the picture, marked by what is near. @param picture reads it. */
  constructor(
    private readonly use: KernelContext,
    private readonly plan: SidesPlan,
    private readonly kind: Blur<unknown>,
    worker: number,
    private readonly haze: Rows,
    private readonly picture: () => PixelReader,
  ) {
    this.own = plan.workers[worker]!;
    this.blur = kind.worker(use, plan.blurPlan, plan.frame, worker);
    this.coverBlur =
      plan.coverPlan === null ? null : kind.worker(use, plan.coverPlan, plan.coverFrame, worker);
    const hazeOf = ({ x, y }: Run): number => sampleAddress(rowAddress(haze, y), x);
    this.behind = {
      decode: (context, tables, planes, run) => {
        picture().decode(context, tables, planes, run);
        context.kernels.groundRow(run.at, run.planeBytes, run.n, hazeOf(run), run.x, this.cellsAt(run.y));
      },
    };
    const { colours } = plan.frame;
    this.light = {
      decode: (context, tables, planes, run) => {
        picture().decode(context, tables, planes, run);
        // What spreads what is near tells it by the marks itself.
        if (!kind.spreads) context.kernels.nearRow(run.at, run.planeBytes, run.n, hazeOf(run), colours);
      },
    };
    this.cover = {
      decode: ({ kernels }, _tables, _planes, run) =>
        kernels.nearCoverRow(run.at, run.planeBytes, run.n, hazeOf(run)),
    };
  }

  /** Writes between which rows of cells a row of the region lies. */
  private cellsAt(y: number): number {
    const { cells, cell } = this.plan;
    const place = Math.min(cells.count - 1, Math.max(0, (y + 0.5) / cell - 0.5));
    const first = Math.floor(place);
    return this.use.parameters('SideCells', {
      upper: rowAddress(cells, first),
      lower: rowAddress(cells, Math.min(cells.count - 1, first + 1)),
      share: place - first,
      plane: cells.planeBytes,
      columns: cells.width,
      size: cell,
    });
  }

  /** Makes rows from..to of a pass; those before are complete. */
  pass(of: SidePass, i: number, wish: BlurRequest, source: Source, from: number, to: number): void {
    if (of === 'sides') {
      if (i === 0) this.measure(source, from, to);
      else if (i === 1) this.spread();
      else this.fillHaze(from, to);
    } else if (this.use.heap.int32(this.plan.isAnyNear) === 0) return;
    else if (of === 'near') this.blur.pass(i, wish, { ...source, pixels: this.light }, from, to);
    else this.coverBlur!.pass(i, unlit(wish), { ...source, pixels: this.cover }, from, to);
  }

  /** Adds up rows from..to of cells. */
  private measure({ tables, planes }: Source, from: number, to: number): void {
    const { kernels, heap } = this.use;
    const { cells, cell } = this.plan;
    const { at, planeBytes, width } = this.own.decoded;
    for (let row = from; row < to; row++) {
      heap.fillFloats(rowAddress(cells, row), cells.rowBytes / 4, 0);
      for (let y = row * cell; y < Math.min(this.haze.count, (row + 1) * cell); y++) {
        this.picture().decode(this.use, tables, planes, { at, planeBytes, n: width, x: 0, y });
        kernels.sumSides(
          at,
          planeBytes,
          width,
          rowAddress(this.haze, y),
          cell,
          rowAddress(cells, row),
          cells.planeBytes,
        );
      }
    }
  }

  /** Goes on with each side where it is not there, and marks the tiles in which something is near. */
  private spread(): void {
    const { heap } = this.use;
    const { cells, cell, tiles, isAnyNear } = this.plan;
    const { width, count } = cells;
    const planes = Array.from({ length: 7 }, (_, k) => {
      const values = new Float32Array(width * count);
      for (let y = 0; y < count; y++)
        values.set(heap.floatsAt(rowAddress(cells, y) + k * cells.planeBytes, width), y * width);
      return values;
    });
    const near = planes[NEAR.weight]!;
    const perTile = TILE / cell;
    let any = 0;
    for (let i = 0; i < tiles.across * tiles.down; i++) heap.setInt32(tiles.at + 4 * i, 0);
    for (let y = 0; y < count; y++)
      for (let x = 0; x < width; x++)
        if (near[y * width + x]! > 0) {
          any = 1;
          heap.setInt32(tiles.at + 4 * (Math.floor(y / perTile) * tiles.across + Math.floor(x / perTile)), 1);
        }
    heap.setInt32(isAnyNear, any);
    if (any === 0) return;
    for (const side of [FAR, NEAR]) {
      const weight = planes[side.weight]!;
      for (const k of side.planes) {
        const values = planes[k]!;
        for (let i = 0; i < values.length; i++) if (weight[i]! > 0) values[i]! /= weight[i]!;
      }
      pullPush(side.planes.map((k) => planes[k]!), weight, { width, height: count }); // prettier-ignore
      for (const k of side.planes)
        for (let y = 0; y < count; y++)
          heap.setFloats(
            rowAddress(cells, y) + k * cells.planeBytes,
            planes[k]!.subarray(y * width, (y + 1) * width),
          );
    }
  }

  private fillHaze(from: number, to: number): void {
    const { kernels, heap } = this.use;
    const { far, near, isAnyNear } = this.plan;
    const any = heap.int32(isAnyNear);
    for (let y = from; y < to; y++) {
      const rows = [this.haze, far, near].map((one) => rowAddress(one, y)) as [number, number, number];
      kernels.sideRow(...rows, far.width, this.cellsAt(y), any);
    }
  }

  begin(wish: BlurRequest, source: Source, key: string, from: number, to: number): void {
    this.blur.begin(wish, { ...source, pixels: this.light }, key, from, to);
    this.coverBlur?.begin(unlit(wish), { ...source, pixels: this.cover }, key, from, to);
  }

  /** Something near may lie over a run. @param reach pixels that light travels. */
  reaches({ x, y, n }: Run, reach: number): boolean {
    const { heap } = this.use;
    const { tiles, isAnyNear } = this.plan;
    if (heap.int32(isAnyNear) === 0) return false;
    const tileOf = (at: number, most: number): number =>
      Math.min(most - 1, Math.max(0, Math.floor(at / TILE)));
    const [left, right] = [tileOf(x - reach, tiles.across), tileOf(x + n + reach, tiles.across)];
    const [top, bottom] = [tileOf(y - reach, tiles.down), tileOf(y + reach, tiles.down)];
    for (let row = top; row <= bottom; row++)
      for (let i = left; i <= right; i++)
        if (heap.int32(tiles.at + 4 * (row * tiles.across + i)) === 1) return true;
    return false;
  }

  /** The far side's haze of a run. */
  farHaze({ x, y }: Run): number {
    return sampleAddress(rowAddress(this.plan.far, y), x);
  }

  /** Lays the near side over a run. @param haze of the run, marked. @param touched gets what of it is covered, too. */
  lay(run: Run, haze: number, touched: number): void {
    const { kernels } = this.use;
    const { run: near, cover } = this.own;
    const own = sampleAddress(rowAddress(this.plan.near, run.y), run.x);
    this.blur.fill({ ...run, at: near.at, planeBytes: near.planeBytes }, own);
    if (this.coverBlur) {
      this.coverBlur.fill({ ...run, at: cover.at, planeBytes: cover.planeBytes }, own);
      // What spreads comes as sums: their mean, as much of it as there is.
      if (this.kind.spreads) kernels.coverRow(near.at, near.planeBytes, run.n, cover.at);
      else kernels.copyPlanes(cover.at, 0, 1, near.at + 3 * near.planeBytes, 0, run.n);
    }
    kernels.dropProtectedRow(near.at, near.planeBytes, run.n, haze);
    const overlay = this.use.parameters('Overlay', {
      row: near.at,
      plane: near.planeBytes,
      opacity: 1,
      factor: 1,
    });
    kernels.compositeRow(run.at, run.planeBytes, run.n, overlay, haze, touched, 0);
  }
}

/** The highlight boost must not change alpha. */
export function unlit(wish: BlurRequest): BlurRequest {
  const { lens } = wish.look;
  return {
    ...wish,
    look: { ...wish.look, lens: { ...lens, highlights: { ...lens.highlights, stops: 0 } } },
  };
}
