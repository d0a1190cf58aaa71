import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { maxForegroundRadius } from '../src/blur/lens/tiles';
import { Arena, Heap, rowAddress } from '../src/memory';
import { between } from './arbitraries';
import { kernelsWith } from './harness';

const { memory, kernels } = await kernelsWith(1 << 20);
const floats = new Float32Array(memory.buffer);
const words = new Int32Array(memory.buffer);
const [HAZE, BASE, DISTANCES] = [1024, 2048, 3072];
const bytes = 4;

/** Marks a row as the field does: by the depth map, then by what was made of its haze. */
function marked(base: number[], distances: number[], haze: number[]): number[] {
  floats.set(base, BASE);
  floats.set(distances, DISTANCES);
  kernels.flagForegroundRow(BASE * bytes, DISTANCES * bytes, base.length);
  floats.set(haze, HAZE);
  kernels.copyForegroundFlags(HAZE * bytes, BASE * bytes, base.length);
  return [...words.subarray(HAZE, HAZE + base.length)].map((bits) => (bits === -0x80000000 ? 2 : bits & 3));
}

describe('which side of the depth in focus a pixel lies on', () => {
  it('is told by the last bits of its haze, and by them alone', () => {
    const base = [0.5, 0.5, 0, 0.5, 0.5, 0.5, 0.5, 0.5];
    const distances = [0.2, -0.2, 0.2, 0.2, 0.2, 0.2, -0.2, 0];
    const haze = [0.5, 0.5, 0, 0.3, 0.2, 0, 0, 0.5];
    // Near; far; near without haze; near and still hazy enough; near and kept clear, partly and wholly; far and clear.
    expect(marked(base, distances, haze)).toEqual([1, 0, 0, 1, 2, 2, 0, 0]);
    haze.forEach((value, i) => expect(floats[HAZE + i]).toBeCloseTo(value, 6));
    // Nothing that is clear becomes hazy.
    [2, 5, 6].forEach((i) => expect(floats[HAZE + i]! > 0).toBe(false));
    expect(kernels.copyHazeRow((HAZE + 5) * bytes, 8 * 1024 * bytes, 2) & 2).toBe(0);
  });

  it('widens a range to the haze of what is near', () => {
    marked([0.5, 0.8, 0.3, 0.9], [1, 1, -1, 1], [0.5, 0.8, 0.3, 0.1]);
    floats.set([Infinity, 0], BASE);
    kernels.foregroundHazeRange(HAZE * bytes, 4, BASE * bytes);
    expect([...floats.subarray(BASE, BASE + 2)]).toEqual([expect.closeTo(0.5, 6), expect.closeTo(0.8, 6)]);
  });
});

describe('the discs of what is near that reach a part of the picture', () => {
  it('are never missed, on no level', () => {
    const heap = new Heap(memory);
    const topRadii = [7, 28];
    fc.assert(
      fc.property(
        fc.array(fc.record({ x: fc.nat(639), y: fc.nat(319), haze: between(0.05, 1) }), { maxLength: 6 }),
        fc.nat(600),
        fc.nat(300),
        (points, x, y) => {
          const tiles = new Arena().rows(2 * 10, 5, 1);
          for (let row = 0; row < 5; row++)
            heap.setFloats(
              rowAddress(tiles, row),
              Array.from({ length: 20 }, (_, i) => (i % 2 === 0 ? Infinity : 0)),
            );
          for (const { x: px, y: py, haze } of points) {
            const at = heap.floatsAt(rowAddress(tiles, py >> 6) + 8 * (px >> 6), 2);
            at.set([Math.min(at[0]!, haze), Math.max(at[1]!, haze)]);
          }
          const strength = 90;
          const part = { x, y, width: 32, height: 1 };
          for (const { x: px, y: py, haze } of points) {
            const radius = haze * strength;
            const far = Math.hypot(Math.max(x - px, px - x - 32, 0), Math.max(y - py, py - y - 1, 0));
            if (far > radius) continue;
            const level = radius < 7 ? 0 : radius < 28 ? 1 : 2;
            const most = maxForegroundRadius(heap, { tiles, topRadii }, strength, level, part);
            expect(most).toBeGreaterThanOrEqual(Math.fround(radius) - 1e-3);
          }
          if (points.length === 0)
            expect(
              [0, 1, 2].map((level) => maxForegroundRadius(heap, { tiles, topRadii }, strength, level, part)),
            ).toEqual([0, 0, 0]);
        },
      ),
    );
  });
});
