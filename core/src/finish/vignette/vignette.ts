import type { Size } from '../../geometry/size';
import type { Recipe } from '../../recipe/schema';
import type { FinishStep } from '../step';

type Vignette = Recipe['finish']['vignette'];

/** By how many stops the corners of a full vignette differ. */
const FULL_STOPS = 2;
/** Softness of a vignette without feather, as a share of the way to the corner: an edge of a pixel or so. */
const MIN_FEATHER = 0.002;

/**
 * The ellipse at which a vignette's way from its middle is 1: that of the frame's own shape through the corners, or a
 * circle through them, or something between. Half axes in pixels.
 */
export function vignetteAxes({ roundness }: Vignette, { width, height }: Size): [number, number] {
  const round = Math.hypot(width, height) / 2;
  const axis = (side: number): number => (side / Math.SQRT2) * (1 - roundness) + round * roundness;
  return [axis(width), axis(height)];
}

/** Where on the way from its middle a vignette begins, and where it is full. */
export function vignetteReach({ middle, feather }: Vignette): [from: number, to: number] {
  return [middle, middle + Math.max(MIN_FEATHER, feather)];
}

/** Light that falls off, or rises, towards the corners, in linear light; see the kernel `vignetteRow`. */
export const vignette: FinishStep = {
  key: ({ finish: { on, vignette: look } }) => (on && look.amount !== 0 ? JSON.stringify(look) : ''),
  needsNoise: () => false,
  apply: (use, { finish }, run, { px, py, picture }) => {
    const look = finish.vignette;
    const [rx, ry] = vignetteAxes(look, picture);
    const [from, to] = vignetteReach(look);
    const [x, y] = [look.centre[0] * picture.width, look.centre[1] * picture.height];
    const block = use.parameters('Vignette', {
      step: 1 / rx,
      from,
      rate: 1 / (to - from),
      stops: FULL_STOPS * look.amount,
    });
    const place = [(px + 0.5 - x) / rx, (py + 0.5 - y) / ry] as const;
    use.kernels.vignetteRow(run.at, run.planeBytes, run.n, ...place, block);
  },
};
