import { readFileSync } from 'node:fs';
import { describe, expect, it, vi } from 'vitest';
import { threadsShareMemory, withPlainMemory } from '../src/index';
import { createMemory } from '../src/memory';
import { instantiateKernels } from '../src/kernels';
import { kernelModule, recipe, renderPicture, testPicture } from './harness';

const compiled = readFileSync(new URL('../dist/kernels.wasm', import.meta.url));

describe('kernels with plain memory', () => {
  it('differ by one bit of what they import, and leave the module as it was', () => {
    const before = Uint8Array.from(compiled);
    const plain = withPlainMemory(compiled);
    expect(Uint8Array.from(compiled)).toEqual(before);
    const changed = [...plain.keys()].filter((i) => plain[i] !== before[i]);
    expect(changed.map((i) => [before[i], plain[i]])).toEqual([[0b11, 0b01]]);
    expect(WebAssembly.Module.imports(new WebAssembly.Module(plain))).toEqual(
      WebAssembly.Module.imports(kernelModule),
    );
  });

  it('are told of a module without a memory', () => {
    expect(() => withPlainMemory(new Uint8Array([0, 0x61, 0x73, 0x6d, 1, 0, 0, 0]))).toThrow('no memory');
  });

  it('render the same bytes where threads share no memory', async () => {
    const picture = testPicture(97, 64);
    const look = recipe({
      focus: {
        bands: [{ id: 'a', kind: 'planar', centre: [0.5, 0.3], near: { clear: 0.02, falloff: 0.2 } }],
        rest: 0.5,
      },
      blur: { kind: 'lens', radius: 0.03 },
      colour: { on: true, saturation: 0.3 },
    });
    const shared = await renderPicture(picture, look);
    vi.stubGlobal('SharedArrayBuffer', ArrayBuffer);
    try {
      expect(threadsShareMemory()).toBe(false);
      const memory = createMemory(1000);
      expect(memory.buffer).toBeInstanceOf(ArrayBuffer);
      await expect(instantiateKernels(kernelModule, memory)).rejects.toThrow();
      const plain = new WebAssembly.Module(withPlainMemory(compiled));
      expect(await renderPicture(picture, look, { module: plain })).toEqual(shared);
    } finally {
      vi.unstubAllGlobals();
    }
  });
});
