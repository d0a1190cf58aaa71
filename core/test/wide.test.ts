import { describe, expect, it } from 'vitest';
import { SRGB_TO_P3, type Primaries } from '../src/colour/primaries';
import {
  type LayerImage,
  NO_ASSETS,
  type Recipe,
  SourceMeasures,
  fromLinear,
  layerImage,
  needsMeasures,
  resolveTidiedRecipe,
  toLinear,
} from '../src/index';
import { type Picture, bytesOf, formatOf, psnr, recipe, renderPicture, testPicture } from './harness';

const [WIDTH, HEIGHT] = [160, 120];

/** Samples of 16 bits as those of Display P3. */
function inP3({ data, ...rest }: Picture): Picture {
  const samples = data as Uint16Array;
  const converted = samples.map((_, i) => {
    const [first, row] = [i - (i % 3), 3 * (i % 3)];
    const light = [0, 1, 2].reduce((sum, c) => sum + SRGB_TO_P3[row + c]! * toLinear(samples[first + c]! / 65535), 0); // prettier-ignore
    return Math.round(65535 * fromLinear(Math.min(1, Math.max(0, light))));
  });
  return { ...rest, data: converted };
}

const picture: Picture = (() => {
  const { data, ...rest } = testPicture(WIDTH, HEIGHT);
  // Away from the edge of the gamut, where the two hold colours otherwise.
  return { ...rest, data: Uint16Array.from(data, (value) => 257 * (50 + 0.55 * value)) };
})();
const wide = inP3(picture);

const leaf = { width: 24, height: 16 };
const rgba = new Uint8Array(4 * leaf.width * leaf.height).map((_, i) => [180, 90, 60, 200][i % 4]!);
const image = layerImage('leaf', leaf, { samples: rgba, channels: 4, top: 255 });
const images: ReadonlyMap<string, LayerImage> = new Map([['leaf.png', image]]);

/** Renders a picture whose light is of some primaries for a file of some. */
async function rendered(
  of: Picture,
  how: Recipe,
  source: Primaries,
  output: Primaries,
): Promise<Uint16Array> {
  const measures = needsMeasures(how)
    ? { source: new SourceMeasures(source, bytesOf(of.data), formatOf(of), of) }
    : null;
  const look = resolveTidiedRecipe(how, of, { ...NO_ASSETS, images }, 1, measures);
  const made = await renderPicture(of, how, { look: { ...look, primaries: { source, output } } });
  return made as Uint16Array;
}

const bytes = (samples: Uint16Array): number[] => Array.from(samples, (value) => value / 257);

const HAZY = {
  focus: { bands: [{ id: 'a', kind: 'planar', near: { falloff: 0.4 }, far: { falloff: 0.4 } }] },
  blur: { radius: 0.03 },
};

describe('a picture that is given in Display P3', () => {
  it.each([
    ['blurred', HAZY],
    ['by the lens', { ...HAZY, blur: { kind: 'lens', radius: 0.03 } }],
    ['with clarity', { ...HAZY, colour: { clarity: 0.6 } }],
    ['warmer, with contrast', { ...HAZY, colour: { warmth: 0.3, exposure: 0.4, contrast: 0.3 } }],
    ['with more saturation', { ...HAZY, colour: { saturation: 0.3 } }],
    [
      'with an element',
      { ...HAZY, elements: [{ id: 'k', image: 'leaf.png', width: 0.2, focus: { rest: 0.4 } }] },
    ],
    ['with matched grain', { ...HAZY, finish: { grain: { match: 0.8 } } }],
    ['with a vignette', { ...HAZY, finish: { vignette: { amount: -0.6 } } }],
  ])('is what the same picture is in sRGB: %s', async (_, parts) => {
    const how = recipe(parts);
    const own = await rendered(picture, how, 'srgb', 'srgb');
    expect(psnr(bytes(await rendered(wide, how, 'display-p3', 'srgb')), bytes(own))).toBeGreaterThan(50);
  });

  it('is in a file of Display P3 what that is in sRGB, converted', async () => {
    const how = recipe({ ...HAZY, colour: { exposure: 0.4, warmth: 0.2 } });
    const own = await rendered(picture, how, 'srgb', 'srgb');
    const asP3 = await rendered(wide, how, 'display-p3', 'display-p3');
    const due = inP3({ ...picture, data: own }).data as Uint16Array;
    expect(psnr(bytes(asP3), bytes(due))).toBeGreaterThan(50);
  });
});
