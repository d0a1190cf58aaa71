import { Injectable, inject } from '@angular/core';
import { inNaturalOrder, kindOf } from '@hazy-lens/core';
import { type CodecListener, decodeFile, unzipFile } from './codecs/codec';
import type { ImageInfo } from './codecs/messages';
import { openFootage } from './footage/worker-source';
import { detectFootage } from './footage/detect-footage';
import { BufferPool } from './buffer-pool';
import { type MediaSource, still } from './media-source';
import { Picture } from './picture';
import { RenderPool } from './pool';
import { filesWords } from '../words/files';

/** Material and what a person may want to know of its file. */
export interface Loaded {
  material: MediaSource;
  about: ImageInfo;
  /** Its file is read for as long as it is open. */
  isReadOn?: boolean;
}

/** What a zip of frames may unpack to. */
const MAX_BYTES = 4_000_000_000;
/** Pictures, but for those that systems hide. */
const PICTURE_NAME = /(^|\/)[^./][^/]*\.(jpe?g|png|webp|tiff?)$/i;

/** Numbered pictures whose rate nobody has said, in frames a second. */
const NUMBERED_FPS = 30;

/** Reads files as material: a picture, a clip, an animation, or a zip of numbered pictures. */
@Injectable({ providedIn: 'root' })
export class MediaLoader {
  private readonly pool = inject(RenderPool);
  /** Memory of pictures that were loaded and are done with. */
  readonly free = new BufferPool();

  private readonly files = new WeakMap<MediaSource, Blob>();

  /** The file that material was loaded from. */
  fileOf(material: MediaSource): Blob | null {
    return this.files.get(material) ?? null;
  }

  /**
   * @param fps for numbered pictures. @param listener hears how far a picture is decoded.
   * @throws Error with a sentence that names the file.
   */
  async load(file: Blob, name: string, fps = NUMBERED_FPS, listener: CodecListener = {}): Promise<Loaded> {
    const loaded = await this.read(file, name, fps, listener);
    this.files.set(loaded.material, file);
    return loaded;
  }

  private async read(file: Blob, name: string, fps: number, listener: CodecListener): Promise<Loaded> {
    const kind = await detectFootage(file);
    if (kind === 'clip') {
      const clip = footage(await openFootage({ kind, file, name }), name.split('.').at(-1)!);
      return { ...clip, isReadOn: true };
    }
    if (kind === 'animation') {
      const type = kindOf(new Uint8Array(await file.slice(0, 64).arrayBuffer()))!;
      return footage(await openFootage({ kind, file, name, type: `image/${type}` }), type);
    }
    if (kind === 'zip') {
      const entries = await unzipFile(new File([file], name), {
        mostBytes: MAX_BYTES,
        tooMuch: filesWords.thePicturesInUnpack(name, MAX_BYTES / 1e9),
        only: PICTURE_NAME,
      });
      const frames = inNaturalOrder(
        [...entries].map(([path, blob]) => ({ name: path.split('/').at(-1)!, file: blob })),
      );
      if (frames.length === 0) throw new Error(filesWords.holdsNoJpegPngWebp(name));
      return footage(await openFootage({ kind: 'stills', files: frames, fps }), 'frames');
    }
    const decoded = await decodeFile(file, name, this.free, 'own', listener);
    return { material: still(await Picture.from(decoded, this.pool, this.free)), about: decoded.about };
  }
}

function footage(material: MediaSource, type: string): Loaded {
  return { material, about: { type: type.toLowerCase(), bits: 8, profile: null, pages: material.frames } };
}
