import { type Look, SharedRenderer, type Threads, renderTransparent, wholeView } from '@hazy-lens/core';
import { type Decoded, keepsTransparent } from './picture';

/** A picture as it is written. */
export type Rendered = Omit<Decoded, 'parts'>;

/** Renders a picture for a file of a name: transparent places are kept where that kind of file has them. */
export async function renderAlone(
  picture: Decoded,
  look: Look,
  threads: Threads,
  fileName: string,
): Promise<Rendered> {
  const { parts, format } = picture;
  if (parts && keepsTransparent(fileName)) {
    const { bytes } = format;
    const fill = (part: keyof typeof parts, target: Uint8Array): void =>
      target.set(new Uint8Array(parts[part].buffer));
    const rgba = await renderTransparent(threads, picture, look, { bytes }, fill);
    return { ...picture, data: Buffer.from(rgba.buffer), format: { channels: 4, bytes } };
  }
  const renderer = new SharedRenderer(threads);
  try {
    await renderer.open(wholeView(picture, look, { input: format, output: format }));
    renderer.input(0).set(picture.data);
    // The decoded copy is let go: what is rendered takes its place.
    picture.data = Buffer.alloc(0);
    const bytes = await renderer.render({ slot: 0, source: 'one', look, content: 'picture' });
    return { ...picture, data: Buffer.from(bytes.slice()) };
  } finally {
    await renderer.close();
  }
}
