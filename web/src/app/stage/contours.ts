import { type Focus, type Size, hazeField } from '@hazy-lens/core';
import { contours } from 'd3-contour';

/** A line of equal blur, in pixels of the picture. */
export interface Contour {
  /** Blur radius on it, in pixels of the full picture. */
  px: number;
  lines: [number, number][][];
}

const CELLS = 110;
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

/** Contours of the haze field of a picture whose full blur has this radius in pixels. */
export function contoursOf(focus: Focus, picture: Size, radiusPx: number): Contour[] {
  const steps = contourSteps(radiusPx);
  if (steps.length === 0) return [];
  const cell = Math.max(picture.width, picture.height) / CELLS;
  const columns = Math.max(2, Math.ceil(picture.width / cell));
  const rows = Math.max(2, Math.ceil(picture.height / cell));
  const [dx, dy] = [picture.width / (columns - 1), picture.height / (rows - 1)];
  const field = hazeField(focus, picture);
  const values = new Array<number>(columns * rows);
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) values[j * columns + i] = field(i * dx, j * dy);
  const trace = contours().size([columns, rows]).smooth(true);
  return steps.map((px) => {
    const rings = trace.contour(values, px / radiusPx).coordinates.flat();
    const lines = rings.flatMap((ring) => insideRuns(ring as [number, number][], columns, rows));
    return { px, lines: lines.map((line) => line.map(([x, y]) => [(x - 0.5) * dx, (y - 0.5) * dy])) };
  });
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
