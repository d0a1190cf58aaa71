import '../memory-stand-in';
import type { AlphaSplit } from '@hazy-lens/core';
import { expose } from 'comlink';
import { type BuiltFiles, setBuiltFiles } from '../built-files';
import { ClipReader } from './clip-reader';
import { AnimationReader, StillsReader } from './image-readers';
import type { FootageMetadata, FootageSource, FrameReader } from './reader';

let reader: FrameReader;
/** Frames are read one after the other: decoders go on from where they are. */
let last: Promise<unknown> = Promise.resolve();

function inTurn<T>(read: () => Promise<T>): Promise<T> {
  const done = last.then(read);
  last = done.catch(() => undefined);
  return done;
}

function readerOf(source: FootageSource): FrameReader {
  switch (source.kind) {
    case 'clip':
      return new ClipReader(source.file, source.name);
    case 'animation':
      return new AnimationReader(source.file, source.name, source.type);
    case 'stills':
      return new StillsReader(source.files, source.fps);
  }
}

const worker = {
  /** @param files where the codecs are, which numbered pictures may need. */
  open(source: FootageSource, files: BuiltFiles): Promise<FootageMetadata> {
    setBuiltFiles(files);
    reader = readerOf(source);
    return reader.open();
  },
  /** @param free memory of the size of a frame that it may be written to. */
  read(index: number, free: SharedArrayBuffer | null): Promise<SharedArrayBuffer> {
    return inTurn(() => reader.read(index, free));
  },
  /** See `FrameReader`. */
  parts(index: number): Promise<AlphaSplit<SharedArrayBuffer> | null> {
    return inTurn(async () => (await reader.parts?.(index)) ?? null);
  },
};

export type FootageWorker = typeof worker;

expose(worker);
