import { describe, expect, it } from 'vitest';
import { P3_TO_SRGB } from '../src/colour/primaries';
import { noiseOfPrimaries, noiseUnder } from '../src/finish/grain/noise';
import {
  type Content,
  type Noise,
  SharedRenderer,
  deviations,
  fromLinear,
  measureNoise,
  resolveRecipe,
  toLinear,
} from '../src/index';
import { tapsFor } from '../src/finish/grain/noise-table';
import { type Picture, bytesOf, recipe, renderPicture, testPicture, testThreads, viewOf } from './harness';

/** Normal deviates, the same each time. */
function deviates(): () => number {
  let seed = 12345;
  const random = (): number => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  return () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
}

/** A picture of even brightness from left to right, with normal noise of a deviation in levels. */
function noisy(width: number, height: number, deviation: number, level: (x: number) => number): Picture {
  const random = deviates();
  const data = new Uint8Array(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    const normal = random();
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
      for (const bin of deviations(noise)) expect(Math.abs((bin * 255) / sigma - 1)).toBeLessThan(0.12);
    }
    const edges = noisy(400, 300, 3, (x) => (Math.floor(x / 9) % 2 === 0 ? 60 : 190)).data as Uint8Array;
    for (const bin of deviations(measureNoise(edges, format, size)))
      expect(Math.abs((bin * 255) / 3 - 1)).toBeLessThan(0.15);
    const speck = measureNoise(new Uint8Array(3), format, { width: 1, height: 1 });
    expect(deviations(speck).every((v) => v === 0)).toBe(true);
  });

  it('is not what a page of fine text is made of', () => {
    const size = { width: 480, height: 400 };
    const page = noisy(480, 400, 1, () => 226);
    for (let y = 20; y < 380; y++)
      for (let x = 24; x < 456; x++) {
        const [line, stroke] = [Math.floor(y / 9), Math.floor(x / 2)];
        const isInk = y % 9 < 6 && ((Math.imul(line * 7919 + stroke * 104729, 2654435761) >>> 20) & 3) > 1;
        if (isInk) for (let c = 0; c < 3; c++) page.data[(y * 480 + x) * 3 + c] = 30;
      }
    for (const bin of deviations(measureNoise(page.data as Uint8Array, format, size)))
      expect(bin * 255).toBeLessThan(1.3);
  });

  it.each([
    ['brighter', 1.9, null],
    ['darker', 0.5, null],
    ['in other primaries', 1, P3_TO_SRGB],
    ['brighter, in other primaries', 1.6, P3_TO_SRGB],
  ] as const)('is that of the same picture %s', (_, light, matrix) => {
    const size = { width: 480, height: 300 };
    const picture = noisy(480, 300, 0, (x) => 40 + 0.22 * x);
    const samples = new Uint16Array(picture.data.length);
    const random = deviates();
    for (let i = 0; i < samples.length; i++) samples[i] = 257 * (picture.data[i]! + 3 * random());
    const m = matrix ?? [1, 0, 0, 0, 1, 0, 0, 0, 1];
    const lit = samples.map((_, i) => {
      const first = i - (i % 3);
      const sum = [0, 1, 2].reduce((all, c) => all + m[3 * (i % 3) + c]! * toLinear(samples[first + c]! / 65535), 0); // prettier-ignore
      return 65535 * fromLinear(Math.min(1, Math.max(0, light * sum)));
    });
    const measured = (of: Uint16Array): Noise =>
      measureNoise(new Uint8Array(of.buffer), { channels: 3, bytes: 2 }, size);
    const due = measured(lit);
    const made = noiseOfPrimaries(noiseUnder(measured(samples), light), matrix);
    const [from, to] = light > 1 ? [4, 12] : [3, 7];
    for (let bin = from; bin < to; bin++)
      for (const k of [0, 2, 5])
        expect(Math.abs(Math.sqrt(made.bins[bin]![k]! / due.bins[bin]![k]!) - 1), `${bin} ${k}`).toBeLessThan(
          0.06,
        );
  });

  it.each([
    [0, 0],
    [0.4, 0],
    [0.5, 0.2],
    [-0.3, 0.1],
    [0.2, -0.2],
  ])('has neighbours made as alike as they were: %f and %f', (one, two) => {
    const [a, b, c] = tapsFor([one, two]);
    expect(a * a + b * b + c * c).toBeCloseTo(1, 6);
    expect(a * b + b * c).toBeCloseTo(one, 6);
    expect(a * c).toBeCloseTo(two, 6);
  });
});

/** Noise as sensors with a colour filter leave it: channels of their own strength, that partly go together, and neighbours that do. */
function sensorNoise(width: number, height: number, level: (x: number) => number): Picture {
  let seed = 99;
  const random = (): number => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  const white = (): Float64Array =>
    Float64Array.from({ length: width * height }, () => {
      const normal = Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
      return normal;
    });
  const alike = (values: Float64Array): Float64Array =>
    values.map((v, i) => (v + 0.6 * (values[i - 1] ?? 0) + 0.3 * (values[i - width] ?? 0)) / Math.sqrt(1.45));
  const [all, ...own] = Array.from({ length: 4 }, () => alike(white()));
  const data = new Uint8Array(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    const bright = level(i % width);
    // Less noise where it is brighter.
    const strength = 7 - bright / 60;
    [1.3, 0.8, 1.1].forEach((share, c) => {
      data[i * 3 + c] = Math.round(bright + strength * share * (0.6 * all![i]! + 0.8 * own[c]![i]!));
    });
  }
  return { width, height, data, channels: 3 };
}

describe('noise that is put back', () => {
  const [width, height] = [360, 300];
  const level = (x: number): number => 50 + (x * 150) / width;
  const picture = sensorNoise(width, height, level);
  /** Of a column range and the rows of a half: each channel's deviation, and how alike neighbours are. */
  const look = (out: ArrayLike<number>, from: number, to: number, top: number, bottom: number) => {
    const off = (x: number, y: number, c: number): number => out[(y * width + x) * 3 + c]! - level(x);
    const mean = (of: (x: number, y: number) => number): number => {
      let [sum, count] = [0, 0];
      for (let y = top; y < bottom; y++) for (let x = from; x < to; x++, count++) sum += of(x, y);
      return sum / count;
    };
    const middle = [0, 1, 2].map((c) => mean((x, y) => off(x, y, c)));
    const pair = (a: number, b: number, dx = 0, dy = 0): number =>
      mean((x, y) => (off(x, y, a) - middle[a]!) * (off(x + dx, y + dy, b) - middle[b]!));
    const deviation = [0, 1, 2].map((c) => Math.sqrt(pair(c, c)));
    return {
      deviation,
      together: pair(0, 1) / deviation[0]! / deviation[1]!,
      across: pair(1, 1, 1) / pair(1, 1),
      down: pair(1, 1, 0, 1) / pair(1, 1),
    };
  };

  it.each(['gaussian', 'lens'])('is as the camera made it, channel by channel, under %s', async (kind) => {
    const how = recipe({
      focus: { bands: half },
      blur: { kind, radius: 0.03 },
      finish: { grain: { match: 1 } },
    });
    const out = await renderPicture(picture, how, { workers: 2 });
    for (const [from, to] of [[20, 120], [130, 230], [240, 340]] as const) {
      const [clear, hazy] = [look(out, from, to, 8, 120), look(out, from, to, 215, 292)];
      clear.deviation.forEach((due, c) =>
        expect(Math.abs(hazy.deviation[c]! / due - 1), `${kind} ${from} ${c}`).toBeLessThan(0.1),
      );
      expect(Math.abs(hazy.together - clear.together)).toBeLessThan(0.1);
      expect(Math.abs(hazy.across - clear.across)).toBeLessThan(0.1);
      expect(Math.abs(hazy.down - clear.down)).toBeLessThan(0.1);
    } // prettier-ignore
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
        await renderer.render({ slot: 0, source: 'a', look: resolveRecipe(how, picture), content, frame })
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
