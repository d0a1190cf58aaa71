// The codec libraries as Node.js loads them; the application loads the same in its codec worker.
import { createRequire } from 'node:module';
import Vips from 'wasm-vips';
import type { Libraries } from '../src/app/engine/codecs/decode';
import type { HeifLibrary } from '@hazy-lens/core';
import { rawLibrary } from '../../server/src/render/raw';
import type { Library } from '../src/app/engine/codecs/vips';

export async function nodeLibraries(): Promise<Libraries & { vips: NonNullable<Libraries['vips']> }> {
  const config = { dynamicLibraries: ['vips-heif.wasm'], printErr: () => undefined };
  const vips = (await Vips(config as object)) as unknown as Library;
  return {
    vips: async () => vips,
    heif: async () => createRequire(import.meta.url)('libheif-js/wasm-bundle') as HeifLibrary,
    raw: rawLibrary,
    plain: null,
  };
}
