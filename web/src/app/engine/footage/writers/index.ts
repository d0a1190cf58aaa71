import { type YuvFormat, type ClipFormat } from '@hazy-lens/core';
import type { FilmOptions, FilmWriter } from './clip-writer';
import { FramesWriter } from './frames-writer';
import { GifWriter } from './gif-writer';
import { WebpWriter } from './webp-writer';
import { filesWords } from '../../../words/files';

export type { FilmOptions, FilmWriter } from './clip-writer';
export { pictureName } from './frames-writer';

/** Whether this browser can write a kind of film in a size. */
export async function canWrite(
  { writer }: ClipFormat,
  options: Pick<FilmOptions, 'width' | 'height' | 'bitrate'>,
): Promise<boolean> {
  return writer.by !== 'encoder' || (await import('./encoder-writer')).canEncode(writer, options);
}

/** @param planes how an encoder gets its frames. @throws Error with a sentence where the browser cannot write the kind. */
export async function filmWriter(
  kind: ClipFormat,
  options: FilmOptions,
  planes: YuvFormat,
): Promise<FilmWriter> {
  const { writer } = kind;
  switch (writer.by) {
    case 'encoder': {
      const { EncoderWriter } = await import('./encoder-writer');
      if (!(await canWrite(kind, options)))
        throw new Error(filesWords.thisBrowserCantExport(kind.label, options.width, options.height));
      return new EncoderWriter(writer, options, planes);
    }
    case 'gif':
      return new GifWriter(options);
    case 'webp':
      return new WebpWriter(options);
    case 'frames':
      return new FramesWriter(writer.type, options);
  }
}
