import { readFile } from 'node:fs/promises';
import { type RawLibrary, developRaw, rawReason, sizeProblem } from '@hazy-lens/core';
import { type Decoded, InputError } from './picture';

/** A raw file, developed with white balance as shot, 16 bits. @param isWide see `RawOptions`. @throws InputError that names the file. */
export async function decodeRawFile(
  file: Buffer,
  path: string,
  isWide = false,
): Promise<Omit<Decoded, 'metadata'>> {
  try {
    const check = (size: { width: number; height: number }): void => {
      const problem = sizeProblem(size);
      if (problem) throw new InputError(`${path}: ${problem}`);
    };
    const bytes = new Uint8Array(file);
    const { samples, ...developed } = developRaw(await rawLibrary(), bytes, { isWide, check });
    const data = Buffer.from(samples.buffer);
    const format = { channels: 3, bytes: 2 } as const;
    return { ...developed, format, data, parts: null };
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError(`${path}: can’t be read as a raw file (${rawReason(error)}).`);
  }
}

/** LibRaw, anew for each file: it keeps the memory that one took. Loaded when there is a raw file. */
export async function rawLibrary(): Promise<RawLibrary> {
  const beside = (name: string): URL => new URL(name, import.meta.resolve('libraw-wasm'));
  const { default: start } = (await import(beside('libraw.js').href)) as {
    default: (config: object) => Promise<RawLibrary>;
  };
  const module = await WebAssembly.compile(await readFile(beside('libraw.wasm')));
  return start({
    // What it says is in its errors, too.
    print: () => undefined,
    printErr: () => undefined,
    instantiateWasm: (
      imports: WebAssembly.Imports,
      done: (instance: WebAssembly.Instance, module: WebAssembly.Module) => void,
    ) => {
      done(new WebAssembly.Instance(module, imports), module);
      return {};
    },
  });
}
