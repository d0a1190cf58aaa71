import type { Size } from '../geometry/size';
import type { AlphaSplit } from '../pixels/alpha-split';
import type { RenderSettings } from './settings';
import { type RenderOptions, SharedRenderer, type Threads, wholeView } from './renderer';

/**
 * Renders a picture with transparent places: its light and how much there is of it are blurred alike, and colour and
 * finish change the light alone, as they do that of an opaque picture.
 * @param fill puts a part at the size of the render into memory.
 * @returns straight RGBA, 8 or 16 bits a sample. @throws the signal's reason.
 */
export async function renderTransparent(
  threads: Threads,
  size: Size,
  look: RenderSettings,
  { bytes, scale = 1, ...options }: { bytes: 1 | 2; scale?: number } & RenderOptions,
  fill: (part: keyof AlphaSplit<unknown>, target: Uint8Array) => void | Promise<void>,
): Promise<Uint8Array> {
  const renderer = new SharedRenderer(threads);
  try {
    const output = { covered: bytes === 1 ? 'straight' : 'straight16' } as const;
    await renderer.open(wholeView(size, look, { input: { covered: 'parts' }, output }, scale));
    const both = renderer.input(0);
    await fill('premultiplied', both.subarray(0, both.length / 2));
    await fill('alpha', both.subarray(both.length / 2));
    return (await renderer.render({ slot: 0, source: 'parts', look, content: 'picture' }, options)).slice();
  } finally {
    await renderer.close();
  }
}
