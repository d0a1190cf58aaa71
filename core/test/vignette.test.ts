import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Recipe, fromLinear, toLinear, vignetteAxes, vignetteReach } from '../src/index';
import { between } from './arbitraries';
import { recipe, renderPicture, testPicture } from './harness';

type Vignette = Recipe['finish']['vignette'];
const look = (parts: object): Vignette => recipe({ finish: { vignette: parts } }).finish.vignette;

/** By what a vignette multiplies light at the centre of pixel (x, y). */
function factor(how: Vignette, width: number, height: number, x: number, y: number): number {
  const [rx, ry] = vignetteAxes(how, { width, height });
  const [from, to] = vignetteReach(how);
  const way = Math.hypot((x + 0.5 - how.centre[0] * width) / rx, (y + 0.5 - how.centre[1] * height) / ry);
  const t = Math.min(1, Math.max(0, (way - from) / (to - from)));
  return 2 ** (2 * how.amount * t * t * (3 - 2 * t));
}

describe('a vignette', () => {
  it('is the formula’s, whatever its numbers, the picture and the strips', async () => {
    const share = between(0, 1);
    const parts = fc.record({
      amount: between(-1, 1),
      middle: share,
      feather: share,
      roundness: share,
      centre: fc.tuple(between(-1, 2), between(-1, 2)),
    });
    const sizes = fc.constantFrom([1, 1], [37, 1], [61, 40], [530, 7]);
    await fc.assert(
      fc.asyncProperty(parts, sizes, async (how, [width, height]) => {
        const picture = { ...testPicture(width!, height!), data: new Uint16Array(width! * height! * 3) };
        picture.data.fill(20000);
        const out = await renderPicture(picture, recipe({ finish: { vignette: how } }), {
          workers: 2,
          stripRows: 6,
        });
        for (let i = 0; i < width! * height!; i += 7) {
          const by = factor(look(how), width!, height!, i % width!, Math.floor(i / width!));
          const exact = Math.min(1, fromLinear(toLinear(20000 / 65535) * by)) * 65535;
          expect(Math.abs(out[i * 3]! - exact)).toBeLessThan(4);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('reaches the corners together, as a circle or in the frame’s own shape', () => {
    const size = { width: 600, height: 400 };
    for (const roundness of [0, 1]) {
      const [rx, ry] = vignetteAxes(look({ roundness }), size);
      expect(Math.hypot(300 / rx, 200 / ry)).toBeCloseTo(1, 6);
      expect(rx / ry).toBeCloseTo(roundness === 1 ? 1 : 1.5, 6);
    }
  });

  it('changes no pixel at 0', async () => {
    const picture = testPicture(40, 30);
    const out = await renderPicture(picture, recipe({ finish: { vignette: { middle: 0, amount: 0 } } }));
    expect(Buffer.compare(Buffer.from(out), Buffer.from(picture.data))).toBe(0);
  });
});
