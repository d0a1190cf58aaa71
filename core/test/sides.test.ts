import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { diagonal, fromLinear, makeRaster } from '../src/index';
import { focusField } from '../src/focus/field';
import { pullPush } from '../src/geometry/pull-push';
import { type Picture, bytesOf, recipe, renderPicture } from './harness';

const size = { width: 176, height: 132 };
const D = diagonal(size);
const [MIDDLE, RADIUS, BLUR] = [[84, 60] as const, 30, 9];

const isNear = (x: number, y: number): boolean =>
  Math.hypot(x + 0.5 - MIDDLE[0], y + 0.5 - MIDDLE[1]) < RADIUS;
/** The far side in linear light: smooth, with an edge that runs behind the near one. */
const farAt = (x: number, y: number): number[] => [
  0.3 + 0.2 * Math.sin(x / 31),
  0.35 + 0.12 * Math.cos(y / 21),
  y > 64 ? 0.3 : 0.22,
];
const nearAt = (x: number): number[] => (x % 10 < 5 ? [0.9, 0.15, 0.08] : [0.85, 0.7, 0.12]);

function drawn(light: (x: number, y: number) => number[]): Picture {
  const { width, height } = size;
  const data = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      light(x, y).forEach((v, c) => (data[(y * width + x) * 3 + c] = Math.round(255 * fromLinear(v))));
  return { width, height, data, channels: 3 };
}

const picture = drawn((x, y) => (isNear(x, y) ? nearAt(x) : farAt(x, y)));
const depth = makeRaster(
  'depth',
  size.width,
  size.height,
  Uint16Array.from({ length: size.width * size.height }, (_, i) =>
    isNear(i % size.width, Math.floor(i / size.width)) ? 60000 : 20000,
  ),
);
/** What is far is in focus; what is near has all the haze. */
const map = { image: 'd.png', focus: 20000 / 65535, clear: 0.02, falloff: 0.2, haze: 1 };
const withBlur = (blur: object, focus: object = {}, more: object = {}) =>
  recipe({ focus: { depthMap: map, ...focus }, blur: { radius: BLUR / D, ...blur }, ...more });

/** How much each place around counts under a kind of blur. */
const WEIGHTS: Record<string, (dx: number, dy: number) => number> = {
  lens: (dx, dy) => Math.min(1, Math.max(0, BLUR + 0.5 - Math.hypot(dx, dy))),
  gaussian: (dx, dy) => Math.exp((-2 * (dx * dx + dy * dy)) / BLUR ** 2),
  motion: (dx, dy) => (dy === 0 ? Math.min(1, Math.max(0, BLUR + 0.5 - Math.abs(dx))) : 0),
};

/** The near side, blurred with its coverage, over the far one as it is. */
function composite(kind: string): (x: number, y: number) => number[] {
  const reach = kind === 'gaussian' ? 2 * BLUR : BLUR + 1;
  const taps: [number, number, number][] = [];
  for (let dy = -reach; dy <= reach; dy++)
    for (let dx = -reach; dx <= reach; dx++) {
      const weight = WEIGHTS[kind]!(dx, dy);
      if (weight > 1e-4) taps.push([dx, dy, weight]);
    }
  const total = taps.reduce((sum, [, , weight]) => sum + weight, 0);
  return (x, y) => {
    const sum = [0, 0, 0, 0];
    for (const [dx, dy, weight] of taps)
      if (isNear(x + dx, y + dy)) [...nearAt(x + dx), 1].forEach((v, c) => (sum[c]! += (weight * v) / total));
    return farAt(x, y).map((v, c) => sum[c]! + (1 - sum[3]!) * v);
  };
}

/** Peak signal-to-noise ratio within a radius of the outline: on its outer side, and on its inner one. */
function aboutOutline(out: ArrayLike<number>, due: (x: number, y: number) => number[]) {
  const sums = { outside: [0, 0], inside: [0, 0] } as Record<string, [number, number]>;
  for (let y = 4; y < size.height - 4; y++)
    for (let x = 4; x < size.width - 4; x++) {
      const far = Math.hypot(x + 0.5 - MIDDLE[0], y + 0.5 - MIDDLE[1]) - RADIUS;
      if (Math.abs(far) > BLUR) continue;
      const sum = sums[far > 0 ? 'outside' : 'inside']!;
      due(x, y).forEach((v, c) => {
        sum[0] += (out[(y * size.width + x) * 3 + c]! - 255 * fromLinear(Math.min(1, v))) ** 2;
        sum[1]++;
      });
    }
  const psnr = ([sum, count]: [number, number]): number => 10 * Math.log10((255 * 255 * count) / sum);
  return { outside: psnr(sums['outside']!), inside: psnr(sums['inside']!) };
}

describe('a near side that is hazy', () => {
  it.each(['lens', 'gaussian', 'motion'])(
    'lies over the far one, which goes on behind it: %s',
    async (kind) => {
      const out = await renderPicture(picture, withBlur({ kind }), { pictures: { depth }, workers: 2 });
      const { outside, inside } = aboutOutline(out, composite(kind));
      console.log(`sides, ${kind}: ${outside.toFixed(1)} dB outside, ${inside.toFixed(1)} dB inside`);
      expect(outside).toBeGreaterThan(34);
      expect(inside).toBeGreaterThan(28);
    },
  );

  it.each(['lens', 'gaussian', 'motion', 'spin', 'zoom'])(
    'has no step at its outline, and changes nothing beyond its reach: %s',
    async (kind) => {
      const out = await renderPicture(picture, withBlur({ kind, radius: 0.02 }), { pictures: { depth } });
      const at = (x: number, y: number): number => out[(y * size.width + x) * 3]!;
      // Along the horizontal where a streak of any kind crosses the outline, or runs beside it.
      let most = 0;
      if (kind !== 'spin' && kind !== 'zoom')
        for (let x = MIDDLE[0] + RADIUS - 4; x < MIDDLE[0] + RADIUS + 4; x++)
          most = Math.max(most, Math.abs(at(x, 60) - at(x + 1, 60)));
      expect(most).toBeLessThan(70);
      for (let x = 0; x < size.width; x++)
        for (const y of [0, size.height - 1]) expect(at(x, y)).toBe(picture.data[(y * size.width + x) * 3]!);
    },
  );

  it('leaves alone what lies nearer, but is kept clear', async () => {
    const keep = { bands: [{ id: 'a', kind: 'elliptical', centre: [84 / 176, 60 / 132], radii: [0.06, 0.06], falloff: 0 }] }; // prettier-ignore
    for (const kind of ['lens', 'gaussian', 'motion']) {
      const how = withBlur({ kind }, keep);
      const out = await renderPicture(picture, how, { pictures: { depth } });
      const field = focusField(how.focus, size, { depth, keep: [] });
      for (let i = 0; i < size.width * size.height; i++) {
        const [x, y] = [i % size.width, Math.floor(i / size.width)];
        if (isNear(x, y) && field(x + 0.5, y + 0.5) === 0)
          expect(out[i * 3], `${kind} ${x} ${y}`).toBe(picture.data[i * 3]);
      }
    }
  });

  it('is on one side alone where the map is inside out, or says that nothing is near', async () => {
    for (const focus of [
      { depthMap: { ...map, focus: 1, falloff: 0.5 } },
      { depthMap: { ...map, invert: true } },
    ]) {
      const out = await renderPicture(picture, withBlur({ kind: 'gaussian' }, focus), {
        pictures: { depth },
      });
      expect(out.every(Number.isFinite)).toBe(true);
      // What is clear is as it came, also right beside what is hazy.
      const field = focusField(withBlur({}, focus).focus, size, { depth, keep: [] });
      for (let i = 0; i < size.width * size.height; i++)
        if (field((i % size.width) + 0.5, Math.floor(i / size.width) + 0.5) === 0)
          expect(out[i * 3]).toBe(picture.data[i * 3]);
    }
  });

  it('gives the same pixels whatever the strips and workers, and in 16 bits', async () => {
    for (const kind of ['lens', 'gaussian', 'spin']) {
      const how = withBlur({ kind, radius: 0.03 });
      const whole = await renderPicture(picture, how, { pictures: { depth }, stripRows: 256 });
      const strips = await renderPicture(picture, how, { pictures: { depth }, stripRows: 16, workers: 3 });
      expect(Buffer.compare(Buffer.from(bytesOf(whole)), Buffer.from(bytesOf(strips)))).toBe(0);
      const data = Uint16Array.from(picture.data, (v) => v * 257);
      const deep = await renderPicture({ ...picture, data }, how, { pictures: { depth } });
      for (let i = 0; i < whole.length; i++) expect(Math.abs(deep[i]! / 257 - whole[i]!)).toBeLessThan(1.6);
    }
  });
});

describe('what goes on where nothing is given', () => {
  it('keeps what is given, stays within its range, and is even where that is even', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 40 }),
        fc.array(fc.tuple(fc.nat(1600), fc.double({ min: -3, max: 5, noNaN: true })), {
          minLength: 1,
          maxLength: 9,
        }),
        (width, height, points) => {
          const values = new Float32Array(width * height).fill(99);
          const weight = new Float32Array(width * height);
          for (const [at, value] of points) {
            values[at % values.length] = value;
            weight[at % values.length] = 1;
          }
          const given = values.filter((_, i) => weight[i]! > 0);
          const [least, most] = [Math.min(...given), Math.max(...given)];
          const before = values.slice();
          pullPush([values], weight, { width, height });
          values.forEach((value, i) => {
            if (weight[i]! > 0) expect(value).toBe(before[i]);
            expect(value).toBeGreaterThan(least - 1e-4);
            expect(value).toBeLessThan(most + 1e-4);
          });
        },
      ),
    );
    const nothing = new Float32Array(12).fill(7);
    pullPush([nothing], new Float32Array(12), { width: 4, height: 3 });
    expect(nothing.every((value) => value === 0)).toBe(true);
  });
});
