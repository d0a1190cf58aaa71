import type { Recipe } from '../../recipe/schema';
import type { Mend } from '../../recipe/tidy-schema';
import type { Scratch } from '../../memory';
import { clonePixels, cloneOffsetPx } from './clone';
import { fillBytes, inpaint } from './inpaint';
import { mendAlpha } from './mend-alpha';
import { type MendWindow, type Samples, holeOf, mendWindow, putWindow } from './window';

/** From this coverage on a fill is opaque: a painted edge is soft, what was painted over is gone. */
export const OPAQUE_FROM_COVERAGE = 1 / 3;

/** Which of a recipe's mends are carried out. */
export function mendsIn({ tidy }: Pick<Recipe, 'tidy'>): readonly Mend[] {
  return tidy.on ? tidy.mends.filter(({ on }) => on) : [];
}

/**
 * Carries out a mend on a picture, in place: `fill` makes what it covers out of what surrounds it, `copy` brings in the
 * picture from an offset, blended at its edge. What lies outside of the picture is left out.
 * @param scratch memory that filling may use. @param onDraft hears soon of a large fill how it will look: `put` writes
 * that over a copy of the samples.
 */
export async function mendSamples(
  scratch: Scratch,
  module: WebAssembly.Module,
  samples: Samples,
  mend: Mend,
  onProgress: (done: number) => void = () => undefined,
  onDraft: (put: (copy: Samples) => void) => void = () => undefined,
): Promise<void> {
  const window = mendWindow(samples, mend);
  if (!window) return;
  if (mend.kind === 'copy') {
    putWindow(samples, window, clonePixels(samples, window, mend.from), window.cover);
    mendAlpha(samples, window, window.cover, cloneOffsetPx(samples, mend.from));
    onProgress(1);
    return;
  }
  const cover = window.cover.map((share) => Math.min(1, share / OPAQUE_FROM_COVERAGE));
  const made = await fillWindow(scratch, module, window, onProgress, (draft) =>
    onDraft((copy) => putWindow(copy, window, draft, cover)),
  );
  putWindow(samples, window, made, cover);
  mendAlpha(samples, window, cover, null);
}

/** What a fill makes of a window, three values a pixel. */
export async function fillWindow(
  scratch: Scratch,
  module: WebAssembly.Module,
  window: MendWindow,
  onProgress: (done: number) => void = () => undefined,
  onDraft: (colours: Float32Array) => void = () => undefined,
): Promise<Float32Array> {
  const use = await scratch.use(module, fillBytes(window));
  return inpaint(use, window.colours, holeOf(window.cover), window, onProgress, onDraft);
}
