import { PREVIEW_MARGIN, type Size } from '@hazy-lens/core';
import { contours } from 'd3-contour';

/** A line of equal blur, in pixels of the picture. */
export interface Contour {
  /** Blur radius on it, in pixels of the full picture. */
  px: number;
  lines: [number, number][][];
}

/** How far a point may lie off a straight line, in cells. */
const FLAT = 0.02;
/** Points that one straight piece may replace. */
const LONGEST_RUN = 24;
const WANTED_LINES = 4;

/** Round steps (1, 2, 5, 10, …) that make about four lines up to the largest blur. */
export function contourSteps(maxPx: number): number[] {
  if (maxPx < 0.5) return [];
  const rough = maxPx / WANTED_LINES;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((k) => k * power).find((s) => s >= rough * 0.8)!;
  const steps = [];
  for (let px = step; px < maxPx * 0.985; px += step) steps.push(Number(px.toPrecision(6)));
  return steps;
}

/**
 * Contours of a field drawn as a sheet of `columns` x `rows` cells (and a rim of one) over a picture whose full blur has
 * this radius in pixels.
 */
export function contoursOf(
  values: Float32Array,
  columns: number,
  rows: number,
  picture: Size,
  radiusPx: number,
): Contour[] {
  const steps = contourSteps(radiusPx);
  const [width, height] = [columns + 2 * PREVIEW_MARGIN, rows + 2 * PREVIEW_MARGIN];
  const [dx, dy] = [picture.width / columns, picture.height / rows];
  const trace = contours().size([width, height]).smooth(true);
  return steps.map((px) => {
    const rings = trace.contour(values as unknown as number[], px / radiusPx).coordinates.flat();
    const lines = rings.flatMap((ring) => insideRuns(ring as [number, number][], width, height));
    return {
      px,
      lines: lines.map((line) =>
        straightened(
          line.map(([x, y]) => [(x - PREVIEW_MARGIN) * dx, (y - PREVIEW_MARGIN) * dy]),
          dx * FLAT,
        ),
      ),
    };
  });
}

/** A line without the points that lie on the way between their neighbours, to within a tolerance. */
function straightened(line: [number, number][], tolerance: number): [number, number][] {
  const kept = [line[0]!];
  for (let i = 1, anchor = 0; i < line.length - 1; i++) {
    const [[ax, ay], [bx, by]] = [line[anchor]!, line[i + 1]!];
    const length = Math.hypot(bx - ax, by - ay);
    const between = line.slice(anchor + 1, i + 1);
    const bends = between.some(
      ([x, y]) => Math.abs((x - ax) * (by - ay) - (y - ay) * (bx - ax)) > tolerance * length,
    );
    if (!bends && between.length < LONGEST_RUN) continue;
    kept.push(line[i]!);
    anchor = i;
  }
  return [...kept, line.at(-1)!];
}

/** A ring without the stretches that only follow the edge of the grid. */
function insideRuns(ring: [number, number][], columns: number, rows: number): [number, number][][] {
  const onEdge = ([x, y]: [number, number]): boolean =>
    x < 0.5 || y < 0.5 || x > columns - 0.5 || y > rows - 0.5;
  const start = ring.findIndex(onEdge);
  if (start < 0) return [ring];
  const turned = [...ring.slice(start, -1), ...ring.slice(0, start + 1)];
  const runs: [number, number][][] = [];
  let run: [number, number][] = [];
  for (const point of turned) {
    if (onEdge(point)) {
      if (run.length > 1) runs.push(run);
      run = [];
    } else run.push(point);
  }
  if (run.length > 1) runs.push(run);
  return runs;
}
