import { toLinear } from '@hazy-lens/core';
import { expect, it } from 'vitest';
import { meanLight } from '../src/app/stage/mean-light';

it('the light about a place is the mean of linear light, and stays within the picture', () => {
  const [width, height] = [4, 3];
  const data = new Uint8ClampedArray(width * height * 4);
  // Black and white columns by turns.
  for (let i = 0; i < width * height; i++) data.fill((i % width) % 2 ? 255 : 0, 4 * i, 4 * i + 3);
  const picture = { data, width, height } as unknown as ImageData;
  expect(meanLight(picture, 1, 1, 0)).toEqual([1, 1, 1]);
  const [r, g, b] = meanLight(picture, 1, 1, 1);
  expect(r).toBeCloseTo(1 / 3, 6);
  expect([g, b]).toEqual([r, r]);
  // At a corner there are fewer neighbours: two columns of two rows.
  expect(meanLight(picture, 0, 0, 1)[0]).toBeCloseTo(0.5, 6);
  data.fill(188, 0, 3);
  expect(meanLight(picture, 0, 0, 0)[0]).toBeCloseTo(toLinear(188 / 255), 6);
});
