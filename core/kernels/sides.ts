// The two sides of a picture under a depth map: what is near is told by the marks in the haze's lowest bits, see `flagForegroundRow`.

/** Two rows of cells, a row of pixels that lies between their middles, and how far down from the first. */
// @ts-ignore: decorator
@unmanaged
class SideCells {
  upper: usize = 0;
  lower: usize = 0;
  share: f32 = 0;
  /** Bytes from plane to plane of a row, cells in it, and pixels along a cell. */
  plane: usize = 0;
  columns: i32 = 0;
  size: f32 = 0;
}

const NEAR: i32 = 1;
const KEPT: i32 = 2;
const MARKS: i32 = NEAR | KEPT;
const KEPT_CLEAR: i32 = 0x80000000;

// @ts-ignore: decorator
@inline
function addTo(at: usize, value: f32): void {
  store<f32>(at, load<f32>(at) + value);
}

/**
 * Adds a row of n pixels of linear light and their haze to cells of `cell` pixels: seven planes, the far side's light, haze
 * and pixels, and the near side's haze and pixels. What is near but kept clear is of neither.
 */
export function sumSides(row: usize, plane: usize, n: i32, haze: usize, cell: i32, cells: usize, cellPlane: usize): void {
  for (let x = 0; x < n; x++) {
    const at = <usize>x << 2;
    const bits = load<i32>(haze + at);
    const to = cells + (<usize>(x / cell) << 2);
    if (bits & NEAR) {
      addTo(to + 5 * cellPlane, reinterpret<f32>(bits & ~MARKS));
      addTo(to + 6 * cellPlane, 1);
    } else if ((bits & KEPT) == 0 && bits != KEPT_CLEAR) {
      for (let c: usize = 0; c < 3; c++) addTo(to + c * cellPlane, load<f32>(row + c * plane + at));
      addTo(to + 3 * cellPlane, reinterpret<f32>(bits));
      addTo(to + 4 * cellPlane, 1);
    }
  }
}

/** Number `k` of the planes of cells between two of its rows and two of its columns. */
// @ts-ignore: decorator
@inline
function between(cells: SideCells, k: usize, x: i32): f32 {
  const upper = cells.upper + k * cells.plane;
  const lower = cells.lower + k * cells.plane;
  const share = cells.share;
  const columns = cells.columns;
  const place = min(<f32>(columns - 1), max(<f32>0, (<f32>x + <f32>0.5) / cells.size - <f32>0.5));
  const left = <i32>place;
  const part = place - <f32>left;
  const at = <usize>left << 2;
  const next = <usize>min(columns - 1, left + 1) << 2;
  const above = load<f32>(upper + at) + part * (load<f32>(upper + next) - load<f32>(upper + at));
  const below = load<f32>(lower + at) + part * (load<f32>(lower + next) - load<f32>(lower + at));
  return above + share * (below - above);
}

/**
 * The haze of n pixels to that of either side, without marks: a side's own, and where it is not there what goes on of it in
 * the cells, a `SideCells`. `any` is 0 where nothing is near in all of the region.
 */
export function sideRow(haze: usize, far: usize, near: usize, n: i32, block: usize, any: i32): void {
  const cells = changetype<SideCells>(block);
  for (let x = 0; x < n; x++) {
    const at = <usize>x << 2;
    const bits = load<i32>(haze + at);
    const own = reinterpret<f32>(bits == KEPT_CLEAR ? 0 : bits & ~MARKS);
    store<f32>(far + at, own);
    store<f32>(near + at, own);
    if (any == 0) continue;
    if (bits & NEAR) store<f32>(far + at, between(cells, 3, x));
    else store<f32>(near + at, between(cells, 5, x));
  }
}

/** Puts what the far side goes on as (a `SideCells`) in place of what is near, in n pixels of linear light from column x on. */
export function groundRow(row: usize, plane: usize, n: i32, haze: usize, x: i32, block: usize): void {
  const cells = changetype<SideCells>(block);
  for (let i = 0; i < n; i++) {
    const at = <usize>i << 2;
    if ((load<i32>(haze + at) & NEAR) == 0) continue;
    for (let c: usize = 0; c < 3; c++) store<f32>(row + c * plane + at, between(cells, c, x + i));
  }
}

/** Leaves of n pixels only what is near; with four `planes` the last says what that is. */
export function nearRow(row: usize, plane: usize, n: i32, haze: usize, planes: i32): void {
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 4) {
    const isNear = (load<i32>(haze + x) & NEAR) != 0;
    if (!isNear) for (let c: usize = 0; c < 3; c++) store<f32>(row + c * plane + x, 0);
    if (planes == 4) store<f32>(row + 3 * plane + x, isNear ? 1 : 0);
  }
}

/** What is near as light of a grey. */
export function nearCoverRow(row: usize, plane: usize, n: i32, haze: usize): void {
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 4) {
    const value: f32 = (load<i32>(haze + x) & NEAR) != 0 ? 1 : 0;
    for (let c: usize = 0; c < 3; c++) store<f32>(row + c * plane + x, value);
  }
}

/** Takes from n pixels of light with a coverage what would lie over what is near and kept clear. */
export function dropProtectedRow(row: usize, plane: usize, n: i32, haze: usize): void {
  for (let x: usize = 0, end = <usize>n << 2; x < end; x += 4) {
    const bits = load<i32>(haze + x);
    if ((bits & KEPT) == 0 && bits != KEPT_CLEAR) continue;
    for (let c: usize = 0; c < 4; c++) store<f32>(row + c * plane + x, 0);
  }
}
