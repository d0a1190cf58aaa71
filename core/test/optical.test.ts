import { describe, expect, it } from 'vitest';
import { asLight, asPicture, psnr } from '../reference/optical';
import { kernelModule, renderPicture } from './harness';
import { type MeadowCase, meadow } from './meadow';

describe('the light that a picture was developed from', () => {
  it('is developed to the same picture', () => {
    const grey = Uint8Array.from({ length: 3 * 250 }, (_, i) => Math.floor(i / 3));
    // Stronger ones cannot have been developed.
    const colours = Uint8Array.from({ length: 3 * 4000 }, (_, i) => 60 + ((i * 7) % 150) + (i % 3) * 9);
    for (const picture of [grey, colours]) {
      const again = asPicture(asLight(picture, 3));
      expect(Math.max(...again.map((v, i) => Math.abs(v - picture[i]!)))).toBeLessThanOrEqual(1);
    }
  });
});

describe('balloons over a town through a thin lens', async () => {
  const { truth, cases, others, outlines } = await meadow(kernelModule);
  const seen = async ({ picture, how, pictures }: MeadowCase) => {
    const out = asPicture((await renderPicture(picture, how, { pictures })) as Uint16Array);
    const near = psnr(out, truth, outlines.near);
    return { whole: psnr(out, truth), outlines: psnr(out, truth, outlines.all), near };
  };

  it('are seen as elements, also about their outlines', async () => {
    const made = await seen(cases.elements);
    expect(made.whole).toBeGreaterThan(40);
    expect(made.outlines).toBeGreaterThan(36);
    expect(made.outlines).toBeGreaterThan((await seen(cases.depthMap)).outlines + 6);
  });

  it('are seen by a depth map, which is nearer than one blur for all', async () => {
    const [made, flat] = [await seen(cases.depthMap), await seen(others.sharp)];
    expect(made.whole).toBeGreaterThan(35.5);
    expect(made.outlines).toBeGreaterThan(28);
    expect(made.whole).toBeGreaterThan(flat.whole + 12);
  });

  it('are seen lifted, as far as what they hide can be known', async () => {
    const made = await seen(cases.lifted);
    expect(made.whole).toBeGreaterThan(36.9);
    expect(made.near).toBeGreaterThan(30);
  });
});
