import type { Mend } from '../../recipe/tidy-schema';
import type { Scratch } from '../../pixels/scratch';
import { fillBytes, fillHole } from './fill';
import { type Samples, mendWindow, putWindow } from './window';

/** From this share of a fill on nothing of what was there is left: a painted edge is soft, what was painted over is gone. */
const WHOLE_FROM = 1 / 3;

/**
 * Carries out a mend on a picture, in place: `fill` makes what it covers out of what surrounds it, `copy` brings in the
 * picture from an offset, blended at its edge. What lies outside of the picture is left out.
 * @param scratch memory that filling may use.
 */
export async function mendSamples(
  scratch: Scratch,
  module: WebAssembly.Module,
  samples: Samples,
  mend: Mend,
  onProgress: (done: number) => void = () => undefined,
): Promise<void> {
  if (!mend.on) return;
  const window = mendWindow(samples, mend);
  if (!window) return;
  const { cover } = window;
  if (mend.kind === 'fill') {
    const hole = Uint8Array.from(cover, (share) => (share > 0 ? 1 : 0));
    const use = await scratch.use(module, fillBytes(window));
    const made = fillHole(use, window.colours, hole, window, onProgress);
    putWindow(
      samples,
      window,
      made,
      cover.map((share) => Math.min(1, share / WHOLE_FROM)),
    );
    return;
  }
  const { x, y, width, height, colours } = window;
  const white = samples.data instanceof Uint16Array ? 65535 : 255;
  const [dx, dy] = [Math.round(mend.from[0] * samples.width), Math.round(mend.from[1] * samples.height)];
  const made = Float32Array.from(colours);
  const share = Float32Array.from(cover);
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const at = j * width + i;
      if (share[at] === 0) continue;
      const [fx, fy] = [x + i + dx, y + j + dy];
      if (fx < 0 || fy < 0 || fx >= samples.width || fy >= samples.height) share[at] = 0;
      else {
        const from = (fy * samples.width + fx) * samples.channels;
        for (let c = 0; c < 3; c++) made[at * 3 + c] = samples.data[from + c]! / white;
      }
    }
  putWindow(samples, window, made, share);
  onProgress(1);
}
