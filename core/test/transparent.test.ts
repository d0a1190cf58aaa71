import { describe, expect, it } from 'vitest';
import { resolveRecipe, renderTransparent, splitAlpha, toLinear } from '../src/index';
import { recipe, testThreads } from './harness';

const size = { width: 96, height: 40 };

/** Straight RGBA of a picture by its places. */
function rgba(of: (x: number, y: number) => readonly number[]): Uint8Array {
  const { width, height } = size;
  return Uint8Array.from(
    Array.from({ length: width * height }, (_, i) => of(i % width, Math.floor(i / width))).flat(),
  );
}

async function render(picture: Uint8Array, parts: object, bytes: 1 | 2 = 1): Promise<Uint8Array> {
  const split = splitAlpha(picture, 255)!;
  const look = resolveRecipe(recipe(parts), size);
  return renderTransparent(testThreads(2), size, look, { bytes }, (part, target) =>
    target.set(new Uint8Array(split[part].buffer)),
  );
}

const half = (x: number): readonly number[] => (x < 48 ? [200, 40, 30, 255] : [0, 255, 0, 0]);

describe('a picture with transparent places', () => {
  it('is none where all is opaque', () => {
    expect(
      splitAlpha(
        rgba(() => [9, 8, 7, 255]),
        255,
      ),
    ).toBeNull();
  });

  it('comes out as it went in where nothing is done', async () => {
    const picture = rgba((x, y) => [x * 2, y * 5, 255 - x, 40 + ((x * 7 + y * 13) % 216)]);
    const out = await render(picture, { focus: { rest: 0 }, blur: { radius: 0.02 } });
    out.forEach((v, i) => expect(Math.abs(v - picture[i]!), `${i}`).toBeLessThanOrEqual(i % 4 === 3 ? 0 : 1));
  });

  it.each(['gaussian', 'lens', 'motion'])('is blurred with how much there is of it: %s', async (kind) => {
    const blur = { kind, radius: 0.08, lens: { highlights: { stops: 3 } } };
    const out = await render(rgba(half), { focus: { rest: 1 }, blur });
    const at = (x: number): number[] => [...out.subarray((20 * 96 + x) * 4, (20 * 96 + x) * 4 + 4)];
    // The edge spreads, and what is seen through it keeps the colour of what there is: none of the green behind.
    expect(at(48)[3]! / 255).toBeGreaterThan(0.4);
    expect(at(48)[3]! / 255).toBeLessThan(0.6);
    expect(at(10)[3]).toBe(255);
    expect(at(90)[3]).toBe(0);
    for (const x of [40, 46, 48, 50])
      [200, 40, 30].forEach((v, c) =>
        expect(Math.abs(at(x)[c]! - v)).toBeLessThanOrEqual(kind === 'lens' ? 3 : 2),
      );
    const sum = Array.from({ length: 96 }, (_, x) => at(x)[3]! / 255).reduce((a, b) => a + b);
    expect(Math.abs(sum - 48)).toBeLessThan(0.6);
  });

  it('has its light changed by colours, and stays as transparent', async () => {
    const picture = rgba(() => [100, 100, 100, 128]);
    const out = new Uint16Array((await render(picture, { colour: { exposure: 1 } }, 2)).buffer);
    expect(toLinear(out[0]! / 65535)).toBeCloseTo(2 * toLinear(100 / 255), 3);
    expect(out[3]).toBe(128 * 257);
  });
});
