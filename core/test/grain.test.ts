import { describe, expect, it } from 'vitest';
import { type Content, SharedRenderer, measureNoise, recipeLook } from '../src/index';
import { type Picture, bytesOf, recipe, renderPicture, testPicture, testThreads, viewOf } from './harness';

/** A picture of even brightness from left to right, with normal noise of a deviation in levels. */
function noisy(width: number, height: number, deviation: number, level: (x: number) => number): Picture {
  let seed = 12345;
  const random = (): number => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  const data = new Uint8Array(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    const normal = Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
    data.fill(
      Math.max(0, Math.min(255, Math.round(level(i % width) + deviation * normal))),
      i * 3,
      i * 3 + 3,
    );
  }
  return { width, height, data, channels: 3 };
}

/** Deviation of the green samples of some rows. */
function deviation(data: ArrayLike<number>, width: number, from: number, to: number): number {
  const values: number[] = [];
  for (let y = from; y < to; y++)
    for (let x = 10; x < width - 10; x++) values.push(data[(y * width + x) * 3 + 1]!);
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  return Math.sqrt(values.reduce((a, b) => a + (b - mean) ** 2, 0) / values.length);
}

const format = { channels: 3, bytes: 1 } as const;
const half = [
  { id: 'a', kind: 'planar', near: { clear: 0.01, falloff: 0.02 }, far: { clear: 0.6, falloff: 0 } },
];

describe('noise', () => {
  it('is measured by brightness, and edges and texture do not count for it', () => {
    const size = { width: 400, height: 300 };
    for (const sigma of [1.5, 4, 9]) {
      const noise = measureNoise(
        noisy(400, 300, sigma, (x) => 40 + 0.45 * x).data as Uint8Array,
        format,
        size,
      );
      for (const bin of noise) expect(Math.abs((bin * 255) / sigma - 1)).toBeLessThan(0.12);
    }
    const edges = noisy(400, 300, 3, (x) => (Math.floor(x / 9) % 2 === 0 ? 60 : 190)).data as Uint8Array;
    for (const bin of measureNoise(edges, format, size))
      expect(Math.abs((bin * 255) / 3 - 1)).toBeLessThan(0.15);
    expect(measureNoise(new Uint8Array(3), format, { width: 1, height: 1 }).every((v) => v === 0)).toBe(true);
  });
});

describe('grain', () => {
  it.each(['gaussian', 'lens', 'motion', 'zoom'])('puts back as much as %s blur took', async (kind) => {
    const picture = noisy(320, 240, 5, () => 120);
    const how = recipe({
      focus: { bands: half },
      blur: { kind, radius: 0.03 },
      finish: { grain: { match: 1, size: 1 } },
    });
    const out = await renderPicture(picture, how, { workers: 2 });
    const [clear, hazy] = [deviation(out, 320, 5, 90), deviation(out, 320, 170, 230)];
    expect(Math.abs(hazy / clear - 1), `${hazy} against ${clear}`).toBeLessThan(0.15);
    const bare = await renderPicture(picture, { ...how, finish: { ...how.finish, on: false } });
    expect(deviation(bare, 320, 170, 230)).toBeLessThan(clear * 0.4);
  });

  it('is the same for the same seed and frame, another for each other frame, whatever the strips', async () => {
    const picture = testPicture(150, 90);
    const how = recipe({ finish: { grain: { amount: 0.5, size: 2.5 } } });
    const draw = async (
      frame: number,
      stripRows: number,
      content: Content = 'picture',
    ): Promise<Uint8Array> => {
      const renderer = new SharedRenderer(testThreads(2));
      await renderer.open({ ...viewOf(picture, how), stripRows });
      renderer.input(0).set(bytesOf(picture.data));
      return (
        await renderer.render({ slot: 0, source: 'a', look: recipeLook(how, picture), content, frame })
      ).slice();
    };
    const first = await draw(0, 90);
    expect(Buffer.compare(first, await draw(0, 14))).toBe(0);
    const second = await draw(1, 90);
    const apart = first.reduce((sum, v, i) => sum + Math.abs(v - second[i]!), 0) / first.length;
    expect(apart).toBeGreaterThan(3);
  });

  it('keeps the mean, grows with its amount and its size, and leaves all as it is where there is none', async () => {
    const picture = testPicture(256, 200);
    picture.data.fill(128);
    const drawn = (grain: object) => renderPicture(picture, recipe({ finish: { grain } }));
    expect(Buffer.compare(Buffer.from(await drawn({})), Buffer.from(bytesOf(picture.data)))).toBe(0);
    const mean = (data: ArrayLike<number>): number =>
      Array.from(data).reduce((a, b) => a + b, 0) / data.length;
    const [little, much] = [await drawn({ amount: 0.2 }), await drawn({ amount: 0.8 })];
    for (const one of [little, much]) expect(Math.abs(mean(one) - 128)).toBeLessThan(0.8);
    expect(deviation(much, 256, 0, 200) / deviation(little, 256, 0, 200)).toBeCloseTo(4, 0);
    // Larger grains: neighbours are alike.
    const likeness = (data: ArrayLike<number>): number => {
      let [same, all] = [0, 0];
      for (let i = 0; i < 250 * 150; i++) {
        const at = (Math.floor(i / 250) * 256 + (i % 250)) * 3;
        same += (data[at]! - 128) * (data[at + 3]! - 128);
        all += (data[at]! - 128) ** 2;
      }
      return same / all;
    };
    expect(Math.abs(likeness(await drawn({ amount: 0.5, size: 1, roughness: 0 })))).toBeLessThan(0.05);
    expect(likeness(await drawn({ amount: 0.5, size: 4, roughness: 0 }))).toBeGreaterThan(0.6);
  });
});
