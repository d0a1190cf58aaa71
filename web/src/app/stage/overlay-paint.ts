import type { BlurEdge } from '@hazy-lens/core';
import type { Contour } from './contours';
import type { HandleLook, Outline, Spot } from './handles/handles';

/** What is drawn over the picture, in pixels of the picture; `toStage` brings it to the stage. */
export interface OverlayScene {
  toStage: (spot: Spot) => Spot;
  /** The picture's rectangle on the stage: nothing is drawn outside of it. */
  frame: { x: number; y: number; width: number; height: number };
  contours: readonly Contour[];
  /** Which side of the band in hand a place is on, for the colour of a contour. */
  sideOf: (spot: Spot) => 'near' | 'far' | 'none';
  outlines: readonly Outline[];
  /** Outlines of what is not in hand. */
  others: readonly Outline[];
  seam: BlurEdge | null;
  stage: { width: number; height: number };
}

const COLOURS = {
  near: '#ffc499',
  far: '#b4bcff',
  none: '#ffffff',
  clear: '#ffffff',
  middle: '#ffffff',
} as const;
const CASING = 'rgb(12 14 20 / 0.5)';
/** Room at the right edge in which the contours' numbers stand. */
const LABEL_AT = 0.93;
/** Lines of one amount that carry its number. */
const MAX_LABELS = 3;
const FONT = '600 11px "Figtree Variable", sans-serif';

/** Draws contours, outlines and the seam mark: every line has a dark casing, so that it reads on any picture. */
export function paintOverlay(context: CanvasRenderingContext2D, scene: OverlayScene): void {
  const { frame, stage } = scene;
  context.clearRect(0, 0, stage.width, stage.height);
  context.save();
  context.beginPath();
  context.rect(frame.x, frame.y, frame.width, frame.height);
  context.clip();
  context.lineJoin = 'round';
  paintContours(context, scene);
  for (const { points } of scene.others) stroke(context, scene, points, 'middle', 1, 0.4);
  for (const { points, look } of scene.outlines) {
    const width = look === 'near' || look === 'far' ? 2 : look === 'middle' ? 1 : 1.25;
    stroke(context, scene, points, look, width, look === 'middle' ? 0.8 : 1);
  }
  if (scene.seam) paintSeam(context, scene, scene.seam);
  paintLabels(context, scene);
  context.restore();
}

function trace(context: CanvasRenderingContext2D, scene: OverlayScene, points: readonly Spot[]): void {
  points.forEach((spot, i) => {
    const { x, y } = scene.toStage(spot);
    if (i === 0) context.moveTo(x, y);
    else context.lineTo(x, y);
  });
}

function stroke(
  context: CanvasRenderingContext2D,
  scene: OverlayScene,
  points: readonly Spot[],
  look: HandleLook,
  width: number,
  alpha: number,
): void {
  context.globalAlpha = alpha;
  context.beginPath();
  trace(context, scene, points);
  context.lineWidth = width + 1.75;
  context.strokeStyle = CASING;
  context.stroke();
  context.lineWidth = width;
  context.strokeStyle = COLOURS[look];
  context.stroke();
  context.globalAlpha = 1;
}

/** All casings in one stroke, then one stroke a colour. */
function paintContours(context: CanvasRenderingContext2D, scene: OverlayScene): void {
  const runs: Record<'near' | 'far' | 'none', Spot[][]> = { near: [], far: [], none: [] };
  for (const { lines } of scene.contours)
    for (const line of lines) {
      let run: Spot[] = [];
      let side: 'near' | 'far' | 'none' | null = null;
      for (const [x, y] of line) {
        const spot = { x, y };
        const own = scene.sideOf(spot);
        if (side !== null && own !== side) {
          runs[side].push([...run, spot]);
          run = [];
        }
        side = own;
        run.push(spot);
      }
      if (side !== null && run.length > 1) runs[side].push(run);
    }
  context.beginPath();
  for (const side of ['near', 'far', 'none'] as const)
    for (const run of runs[side]) trace(context, scene, run);
  context.lineWidth = 2.4;
  context.strokeStyle = 'rgb(12 14 20 / 0.34)';
  context.stroke();
  context.lineWidth = 1.25;
  for (const side of ['near', 'far', 'none'] as const) {
    context.beginPath();
    for (const run of runs[side]) trace(context, scene, run);
    context.strokeStyle = COLOURS[side];
    context.stroke();
  }
}

/** One number a contour line, where it crosses the picture's right part, or at its rightmost place. */
function paintLabels(context: CanvasRenderingContext2D, scene: OverlayScene): void {
  const { frame, stage } = scene;
  const right = Math.min(frame.x + frame.width, stage.width);
  const left = Math.max(frame.x, 0);
  const wanted = left + (right - left) * LABEL_AT;
  const top = Math.max(frame.y, 0);
  const bottom = Math.min(frame.y + frame.height, stage.height - 26);
  context.font = FONT;
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  const taken: Spot[] = [];
  for (const { px, lines } of scene.contours) {
    // A detailed field breaks into many lines: the longest ones carry the numbers.
    const longest = [...lines].sort((a, b) => b.length - a.length).slice(0, MAX_LABELS);
    for (const line of longest) {
      const spot = placeOnLine(line, wanted, scene);
      const at = scene.toStage(spot);
      if (at.x < 8 || at.x > right - 24 || at.y < top + 10 || at.y > bottom - 10) continue;
      // Where lines crowd, one number has to do.
      if (taken.some((other) => Math.abs(other.x - at.x) < 34 && Math.abs(other.y - at.y) < 13)) continue;
      taken.push(at);
      label(context, `${px} px`, at, COLOURS[scene.sideOf(spot)]);
    }
  }
}

/** The first place of a line at a stage's x, or its place nearest to it. */
function placeOnLine(line: readonly [number, number][], wanted: number, scene: OverlayScene): Spot {
  let [best, least] = [line[0]!, Infinity];
  let last = NaN;
  for (let i = 0; i < line.length; i++) {
    const [x, y] = line[i]!;
    const off = scene.toStage({ x, y }).x - wanted;
    if (last * off <= 0 && i > 0) {
      const [fromX, fromY] = line[i - 1]!;
      const t = last === off ? 0 : last / (last - off);
      return { x: fromX + (x - fromX) * t, y: fromY + (y - fromY) * t };
    }
    if (Math.abs(off) < least) {
      best = line[i]!;
      least = Math.abs(off);
    }
    last = off;
  }
  return { x: best[0], y: best[1] };
}

function label(context: CanvasRenderingContext2D, text: string, { x, y }: Spot, colour: string): void {
  context.lineWidth = 3.5;
  context.strokeStyle = 'rgb(16 18 24 / 0.85)';
  context.strokeText(text, x, y);
  context.fillStyle = colour;
  context.fillText(text, x, y);
}

/** The steepest place: two short strokes across it, and its grade, where it is not soft. */
function paintSeam(
  context: CanvasRenderingContext2D,
  scene: OverlayScene,
  { at, grade, rise }: BlurEdge,
): void {
  if (grade === 'soft') return;
  const { x, y } = scene.toStage({ x: at[0], y: at[1] });
  for (const [width, colour] of [
    [5, CASING],
    [2, '#ffffff'],
  ] as const) {
    // prettier-ignore
    context.beginPath();
    for (const dy of [-3, 3]) {
      context.moveTo(x - 7, y + dy);
      context.lineTo(x + 7, y + dy);
    }
    context.lineWidth = width;
    context.strokeStyle = colour;
    context.stroke();
  }
  context.font = FONT;
  context.textAlign = 'left';
  context.textBaseline = 'middle';
  label(context, `${grade} ${rise.toFixed(2)}`, { x: x + 12, y }, '#ffffff');
}
