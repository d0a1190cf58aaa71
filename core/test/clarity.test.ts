import { describe, expect, it } from 'vitest';
import { toOklab } from '../src/colour/oklab';
import { fromLinear, toLinear } from '../src/index';
import { type Picture, recipe, renderPicture, testPicture } from './harness';

const [width, height] = [360, 240];

/** A grey picture of 16 bits by its lightness. */
function picture(light: (x: number, y: number) => number): Picture {
  const data = new Uint16Array(width * height * 3);
  for (let i = 0; i < width * height; i++)
    data.fill(Math.round(fromLinear(light(i % width, Math.floor(i / width)) ** 3) * 65535), i * 3, i * 3 + 3);
  return { width, height, data, channels: 3 };
}

const lightAt = (data: ArrayLike<number>, x: number, y: number): number =>
  toOklab(
    [0, 1, 2].map((c) => toLinear(data[(y * width + x) * 3 + c]! / 65535)) as [number, number, number],
  )[0];

const draw = (from: Picture, colour: object, workers = 2) =>
  renderPicture(from, recipe({ colour }), { workers, stripRows: 20 });

describe('clarity', () => {
  it('leaves what is even as it is, also under exposure and contrast', async () => {
    const even = picture(() => 0.5);
    for (const parts of [{}, { exposure: 0.7, contrast: 0.4, warmth: 0.3 }]) {
      const [plain, clear] = [await draw(even, parts), await draw(even, { ...parts, clarity: 0.8 })];
      for (let i = 0; i < plain.length; i += 1001)
        expect(Math.abs(clear[i]! - plain[i]!) / 65535).toBeLessThan(0.002);
    }
  });

  it('raises texture by its amount, or takes it away', async () => {
    const wave = (x: number, y: number): number => 0.5 + 0.03 * Math.sin(x * 1.9) * Math.sin(y * 1.7);
    const came = picture(wave);
    for (const clarity of [0.6, -0.7]) {
      const out = await draw(came, { clarity });
      let [before, after] = [0, 0];
      for (let y = 60; y < 180; y += 3)
        for (let x = 60; x < 300; x += 3) {
          before += Math.abs(lightAt(came.data, x, y) - 0.5);
          after += Math.abs(lightAt(out, x, y) - 0.5);
        }
      expect(after / before).toBeGreaterThan(1 + clarity - 0.2);
      expect(after / before).toBeLessThan(1 + clarity + 0.2);
    }
  });

  it('leaves along a strong edge less of a halo than a twelfth of it, at its fullest', async () => {
    const came = picture((x) => (x < width / 2 ? 0.25 : 0.8));
    const out = await draw(came, { clarity: 1 });
    for (let x = 4; x < width; x += 4)
      expect(Math.abs(lightAt(out, x, 120) - lightAt(came.data, x, 120))).toBeLessThan(0.55 / 12);
  });

  it('keeps hue, and is the same whatever the strips and workers', async () => {
    const came = testPicture(width, height);
    const how = recipe({ colour: { clarity: 0.5, contrast: 0.2, vibrance: 0.2 } });
    const whole = await renderPicture(came, how, { stripRows: 256 });
    const strips = await renderPicture(came, how, { stripRows: 14, workers: 3 });
    expect(Buffer.compare(Buffer.from(whole), Buffer.from(strips))).toBe(0);
    const rust: Picture = { ...picture(() => 0.5), data: new Uint16Array(width * height * 3) };
    for (let i = 0; i < width * height; i++)
      rust.data.set(i % 5 < 2 ? [30000, 20000, 14000] : [24000, 16000, 11200], i * 3);
    const out = await draw(rust, { clarity: 0.6 });
    const hue = (data: ArrayLike<number>, x: number): number => {
      const rgb = [0, 1, 2].map((c) => toLinear(data[(100 * width + x) * 3 + c]! / 65535));
      const [, a, b] = toOklab(rgb as [number, number, number]);
      return Math.atan2(b, a);
    };
    for (const x of [100, 101, 102, 103, 104]) expect(hue(out, x)).toBeCloseTo(hue(rust.data, x), 3);
  });

  it('stands the smallest pictures', async () => {
    for (const [w, h] of [
      [1, 1],
      [5, 1],
      [1, 9],
    ] as const) {
      const small = testPicture(w, h);
      const out = await renderPicture(small, recipe({ colour: { clarity: 1 } }));
      expect(out.length).toBe(w * h * 3);
    }
  });
});
