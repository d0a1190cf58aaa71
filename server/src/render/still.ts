import {
  type RenderSettings,
  SharedRenderer,
  type Size,
  type Threads,
  renderTransparent,
  wholeView,
} from '@hazy-lens/core';
import { type Decoded, keepsTransparent } from './picture';

/** The haze of a picture, 16 bits a pixel. */
export async function hazeOf(
  { width, height }: Size,
  look: RenderSettings,
  threads: Threads,
): Promise<Uint16Array> {
  const renderer = new SharedRenderer(threads);
  const format = { channels: 3, bytes: 1 } as const;
  await renderer.open({ ...wholeView({ width, height }, look, { input: format, output: format }), most: 0 });
  const map = (await renderer.render({ slot: 0, source: '', look, content: 'haze16' })).slice();
  await renderer.close();
  return new Uint16Array(map.buffer, 0, map.byteLength / 2);
}

/** A picture as it is written. */
export type Rendered = Omit<Decoded, 'parts'>;

/**
 * Renders a picture for a file of a name: transparent places are kept where that kind of file has them.
 * @param bytes of a sample of the result. @param scale pixels of it for one of the full-size picture. @param use gets what is rendered; its data is good until that ends: a large picture is not held twice.
 */
export async function renderStill(
  picture: Decoded,
  look: RenderSettings,
  threads: Threads,
  fileName: string,
  bytes: 1 | 2,
  scale: number,
  use: (rendered: Rendered) => Promise<void>,
): Promise<void> {
  const { parts, format } = picture;
  if (parts && keepsTransparent(fileName)) {
    const fill = (part: keyof typeof parts, target: Uint8Array): void =>
      target.set(new Uint8Array(parts[part].buffer));
    const rgba = await renderTransparent(threads, picture, look, { bytes, scale }, fill);
    const data = Buffer.from(rgba.buffer);
    return use({
      ...picture,
      data,
      format: { channels: 4, bytes },
      primaries: look.primaries.output,
      gain: 1,
    });
  }
  const renderer = new SharedRenderer(threads);
  try {
    const output = { ...format, bytes };
    await renderer.open(wholeView(picture, look, { input: format, output }, scale));
    renderer.input(0).set(picture.data);
    // The decoded copy is let go.
    picture.data = Buffer.alloc(0);
    const { buffer, byteOffset, byteLength } = await renderer.render({
      slot: 0,
      source: 'one',
      look,
      content: 'picture',
    });
    const data = Buffer.from(buffer, byteOffset, byteLength);
    await use({ ...picture, format: output, data, primaries: look.primaries.output, gain: 1 });
  } finally {
    await renderer.close();
  }
}
