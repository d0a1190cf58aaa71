// Strokes of the brush and mattes over the haze field, a row at a time. Rows are padded to whole vectors.

/** One piece of a stroke: from its start by (dx, dy) pixels, its radius and strength changing evenly on the way. */
// @ts-ignore: decorator
@unmanaged
class StrokeSegment {
  dx: f32 = 0;
  dy: f32 = 0;
  /** 1 / its squared length; 0 for a point. */
  inverse: f32 = 0;
  radius: f32 = 0;
  radiusStep: f32 = 0;
  strength: f32 = 0;
  strengthStep: f32 = 0;
  /** Share of the radius over which the coverage falls off. */
  softness: f32 = 0;
}

/** Halvings of the span in which the best place along a piece of changing strength is sought. */
const HALVINGS: i32 = 12;

/**
 * The coverage of a `StrokeSegment`, see `focus/strokes.ts`, laid over a row where it is more than what is there. (px, py) is
 * the row's first pixel from the segment's start.
 */
export function strokeCoverageRow(block: usize, cover: usize, n: i32, px: f32, py: f32): void {
  const segment = changetype<StrokeSegment>(block);
  const dx = segment.dx;
  const dy = segment.dy;
  const inverse = segment.inverse;
  const radius = segment.radius;
  const radiusStep = segment.radiusStep;
  const strength = segment.strength;
  const strengthStep = segment.strengthStep;
  const softness = segment.softness;
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  let x = f32x4.add(f32x4.splat(px), f32x4(0, 1, 2, 3));
  const across = f32x4.splat(py);
  const alongY = f32x4.splat(py * dy);
  // Where the radius is the same all along, so is what divides.
  const isEven = radiusStep == 0;
  const even = f32x4.splat(1 / (radius * softness));
  const square = f32x4.splat(inverse == 0 ? 0 : 1 / inverse);
  for (let at = cover, end = cover + (<usize>n << 2); at < end; at += 16) {
    // The nearest place; with a radius or a strength that changes, the place that gives the most.
    const nearest = f32x4.mul(f32x4.add(f32x4.mul(x, f32x4.splat(dx)), alongY), f32x4.splat(inverse));
    let t = f32x4.pmin(f32x4.pmax(nearest, zero), one);
    if (radiusStep != 0) {
      const ex = f32x4.sub(x, f32x4.mul(nearest, f32x4.splat(dx)));
      const ey = f32x4.sub(across, f32x4.mul(nearest, f32x4.splat(dy)));
      const beside = f32x4.add(f32x4.mul(ex, ex), f32x4.mul(ey, ey));
      const there = f32x4.add(f32x4.splat(radius), f32x4.mul(nearest, f32x4.splat(radiusStep)));
      const further = f32x4.div(f32x4.mul(beside, f32x4.splat(radiusStep * inverse)), there);
      const inner = f32x4.pmin(f32x4.pmax(f32x4.add(nearest, further), zero), one);
      t = v128.bitselect(inner, f32x4.splat(radiusStep > 0 ? 1 : 0), f32x4.gt(there, zero));
    } else if (strengthStep != 0) {
      const ex = f32x4.sub(x, f32x4.mul(nearest, f32x4.splat(dx)));
      const ey = f32x4.sub(across, f32x4.mul(nearest, f32x4.splat(dy)));
      const beside = f32x4.add(f32x4.mul(ex, ex), f32x4.mul(ey, ey));
      let low = zero;
      let high = one;
      for (let i = 0; i < HALVINGS; i++) {
        t = f32x4.mul(f32x4.add(low, high), f32x4.splat(0.5));
        const u = f32x4.mul(f32x4.sub(t, nearest), square);
        const e = f32x4.pmax(f32x4.splat(1e-6), f32x4.sqrt(f32x4.add(beside, f32x4.mul(u, f32x4.sub(t, nearest)))));
        const v = f32x4.pmin(f32x4.pmax(f32x4.mul(f32x4.sub(f32x4.splat(radius), e), even), zero), one);
        const s = f32x4.add(f32x4.splat(strength), f32x4.mul(t, f32x4.splat(strengthStep)));
        const gains = f32x4.mul(f32x4.mul(f32x4.mul(f32x4.splat(strengthStep * radius * softness), e), v), f32x4.sub(f32x4.splat(3), f32x4.add(v, v)));
        const loses = f32x4.mul(f32x4.mul(f32x4.mul(f32x4.splat(6), s), f32x4.sub(one, v)), u);
        const goesOn = f32x4.gt(gains, loses);
        low = v128.bitselect(t, low, goesOn);
        high = v128.bitselect(high, t, goesOn);
      }
      // An end that was never left is the place itself.
      t = f32x4.mul(f32x4.add(low, high), f32x4.splat(0.5));
      t = v128.bitselect(one, t, f32x4.eq(high, one));
      t = v128.bitselect(zero, t, f32x4.eq(low, zero));
    }
    const ex = f32x4.sub(x, f32x4.mul(t, f32x4.splat(dx)));
    const ey = f32x4.sub(across, f32x4.mul(t, f32x4.splat(dy)));
    const distance = f32x4.sqrt(f32x4.add(f32x4.mul(ex, ex), f32x4.mul(ey, ey)));
    const r = f32x4.add(f32x4.splat(radius), f32x4.mul(t, f32x4.splat(radiusStep)));
    const within = f32x4.sub(r, distance);
    const depth = isEven ? f32x4.mul(within, even) : f32x4.div(within, f32x4.mul(r, f32x4.splat(softness)));
    const v = f32x4.pmin(f32x4.pmax(depth, zero), one);
    const s = f32x4.add(f32x4.splat(strength), f32x4.mul(t, f32x4.splat(strengthStep)));
    const tip = f32x4.mul(f32x4.mul(v, v), f32x4.sub(f32x4.splat(3), f32x4.add(v, v)));
    v128.store(at, f32x4.pmax(v128.load(at), f32x4.mul(s, tip)));
    x = f32x4.add(x, f32x4.splat(4));
  }
}

/**
 * Folds a stroke's coverage c into the overlay H = gain x B + lift, where B is the haze before all strokes, and clears
 * it. Mode 0 clears: H (1 - c); 1 hazes: H (1 - c) + c; 2 erases: H (1 - c) + B c.
 */
export function mergeStrokeRow(gain: usize, lift: usize, cover: usize, n: i32, mode: i32): void {
  const one = f32x4.splat(1);
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) {
    const c = v128.load(cover + x);
    const rest = f32x4.sub(one, c);
    const g = f32x4.mul(v128.load(gain + x), rest);
    const l = f32x4.mul(v128.load(lift + x), rest);
    v128.store(gain + x, mode == 2 ? f32x4.add(g, c) : g);
    v128.store(lift + x, mode == 1 ? f32x4.add(l, c) : l);
    v128.store(cover + x, f32x4.splat(0));
  }
}

/** Lays the overlay, and over it a stroke that is not folded in yet, on a row of haze. */
export function applyStrokesRow(field: usize, gain: usize, lift: usize, cover: usize, n: i32, mode: i32): void {
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) {
    const before = v128.load(field + x);
    const c = v128.load(cover + x);
    const haze = f32x4.add(f32x4.mul(v128.load(gain + x), before), v128.load(lift + x));
    const target = mode == 0 ? f32x4.splat(0) : mode == 1 ? f32x4.splat(1) : before;
    v128.store(field + x, f32x4.add(haze, f32x4.mul(f32x4.sub(target, haze), c)));
  }
}

/** H x (1 - keep) + stand. */
export function applyKeepMaskRow(field: usize, keep: usize, stand: usize, n: i32): void {
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 16) {
    const left = f32x4.sub(f32x4.splat(1), v128.load(keep + x));
    v128.store(field + x, f32x4.add(f32x4.mul(v128.load(field + x), left), v128.load(stand + x)));
  }
}
